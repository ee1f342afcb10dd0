using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;

namespace Zoltric.Drawing;

/// <summary>The upright axis of a staircase: volts on an even scale, ohms by decades with a line for OL above them.</summary>
internal sealed class StaircaseScale
{
    /// <summary>Least ohms told apart, about what the leads have, Ω; how far above the highest decade OL stands, decades.</summary>
    private const double LeastOhms = 0.05,
        AboveDecades = 0.7;

    private readonly bool _ohms;
    private readonly double _low,
        _high;

    private StaircaseScale(bool ohms, double low, double high) => (_ohms, _low, _high) = (ohms, low, high);

    /// <summary>From zero to the highest volts; zoomed, only what the open stretch and its neighbours show. Ohms always whole.</summary>
    public static StaircaseScale Of(MarkedLane lane, bool zoomed)
    {
        static IEnumerable<double> Of(MarkedStation s) =>
            new[] { s.Healthy.Low, s.Healthy.High, s.GoodSoFar?.Low, s.GoodSoFar?.High, s.Read }.OfType<double>().Where(double.IsFinite);
        if (lane.Dimension == Dimension.Ohm)
        {
            var most = Math.Max(1000, lane.Stations.SelectMany(Of).DefaultIfEmpty(0).Max());
            return new StaircaseScale(true, Math.Log10(LeastOhms), Math.Ceiling(Math.Log10(most)) + AboveDecades);
        }
        var high = Math.Max(1, lane.Stations.SelectMany(Of).DefaultIfEmpty(0).Max()) * 1.08;
        if (!zoomed)
            return new StaircaseScale(false, 0, high);
        var (from, to) = lane.Open ?? (0, lane.Lane.LoadEnds);
        var near = lane.Stations.Skip(Math.Max(0, from - 1)).Take(to - from + 3).SelectMany(Of).DefaultIfEmpty(0).ToList();
        var margin = Math.Max(0.05, (near.Max() - near.Min()) * 0.12);
        return new StaircaseScale(false, Math.Max(0, near.Min() - margin), near.Max() + margin);
    }

    /// <summary>Share of the height, 0 at the bottom; values beyond the scale stand at its edge, OL at its top.</summary>
    public double At(double value) =>
        (Math.Clamp(_ohms ? Math.Log10(Math.Max(value, LeastOhms)) : value, _low, _high) - _low) / (_high - _low);

    /// <summary>What the axis spans, V; decades of ohms.</summary>
    public double Span => _high - _low;

    /// <summary>Lines of the grid with what is written at them.</summary>
    public IEnumerable<(double Value, string Words)> Grid()
    {
        if (_ohms)
        {
            for (var d = -1; d <= _high - AboveDecades + 1e-9; d++)
                yield return (
                    Math.Pow(10, d),
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{Math.Pow(10, d >= 6 ? d - 6 : d >= 3 ? d - 3 : d):0.#} {(d >= 6 ? "M" : d >= 3 ? "k" : "")}Ω"
                    )
                );
            yield return (double.PositiveInfinity, "OL");
            yield break;
        }
        var step = Step(Span);
        for (var v = Math.Ceiling(_low / step) * step; v <= _high; v += step)
            yield return (v, string.Create(CultureInfo.InvariantCulture, $"{(step < 0.1 ? $"{v:0.##}" : $"{v:0.#}")} V"));
    }

    private static double Step(double most)
    {
        var raw = most / 5;
        var scale = Math.Pow(10, Math.Floor(Math.Log10(raw)));
        return (raw / scale) switch
            {
                < 1.5 => 1,
                < 3.5 => 2.5,
                < 4.5 => 4,
                _ => 5,
            } * scale;
    }
}
