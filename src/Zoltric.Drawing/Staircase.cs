using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;

namespace Zoltric.Drawing;

/// <summary>
/// Where the volts go: the potential at each station. Dashed and shaded is the healthy machine at work; the dotted line is what a good
/// point shows on this machine as it stands, where that differs; dots are readings. Nothing is drawn where nothing was read.
/// </summary>
internal sealed class Staircase(MarkedLane lane, double[] x, double top, double height, double width, double left, Terminal? next, bool zoomed, IReadOnlySet<int> hidden)
{
    private readonly (double Low, double High) _range = Range(lane, zoomed);
    private readonly double _bottom = top + height - 26;

    private double Y(double volts) => _bottom - (Math.Clamp(volts, _range.Low, _range.High) - _range.Low) / (_range.High - _range.Low) * (height - 62);

    private double Span => _range.High - _range.Low;

    /// <summary>From zero to the highest volts; zoomed, only what the open stretch and its neighbours show.</summary>
    private static (double, double) Range(MarkedLane lane, bool zoomed)
    {
        static IEnumerable<double> Of(MarkedStation s) => new[] { s.Healthy.Low, s.Healthy.High, s.GoodSoFar?.Low, s.GoodSoFar?.High, s.Volts }.OfType<double>();
        var high = Math.Max(1, lane.Stations.SelectMany(Of).DefaultIfEmpty(0).Max()) * 1.08;
        if (!zoomed) return (0, high);
        var (from, to) = lane.Open ?? (0, lane.Lane.LoadEnds);
        var near = lane.Stations.Skip(Math.Max(0, from - 1)).Take(to - from + 3).SelectMany(Of).DefaultIfEmpty(0).ToList();
        var margin = Math.Max(0.05, (near.Max() - near.Min()) * 0.12);
        return (Math.Max(0, near.Min() - margin), near.Max() + margin);
    }

    public void Draw(StringBuilder s)
    {
        s.Append(CultureInfo.InvariantCulture, $"<text x=\"0\" y=\"{top + 16}\" class=\"heading\">Where the volts go</text>");
        var step = Step(Span);
        for (var v = Math.Ceiling(_range.Low / step) * step; v <= _range.High; v += step)
            s.Append(CultureInfo.InvariantCulture, $"<line x1=\"{left - 14}\" x2=\"{width - 8}\" y1=\"{Y(v):0.#}\" y2=\"{Y(v):0.#}\" class=\"grid\"/><text x=\"{left - 20}\" y=\"{Y(v) + 5:0.#}\" class=\"axis\">{(step < 0.1 ? $"{v:0.##}" : $"{v:0.#}")} V</text>");
        Band(s);
        Line(s, st => st.Healthy.Nominal, "healthy");
        Line(s, st => st.GoodSoFar is { } g && Differs(st) ? g.Nominal : null, "so-far");
        Readings(s);
        var differ = lane.Stations.Any(Differs);
        s.Append(CultureInfo.InvariantCulture, $"<text x=\"{width - 8}\" y=\"{top + 16}\" class=\"legend\">dashed: healthy, at work{(differ ? " · dotted: good so far, not working" : "")} · dots: read</text>");
    }

    private static bool Differs(MarkedStation st) =>
        st.GoodSoFar is { } g && st.Healthy is { Low: { } low, High: { } high } && (g.Nominal < low - 0.01 || g.Nominal > high + 0.01);

    private static double Step(double most)
    {
        var raw = most / 5;
        var scale = Math.Pow(10, Math.Floor(Math.Log10(raw)));
        return (raw / scale) switch { < 1.5 => 1, < 3.5 => 2.5, < 4.5 => 4, _ => 5 } * scale;
    }

    private void Band(StringBuilder s)
    {
        var up = new StringBuilder();
        var down = new StringBuilder();
        for (var i = 0; i < x.Length; i++)
        {
            if (lane.Stations[i].Healthy is not { Low: { } low, High: { } high }) return;
            up.Append(CultureInfo.InvariantCulture, $"{x[i]:0.#},{Y(high):0.#} ");
            down.Insert(0, string.Create(CultureInfo.InvariantCulture, $"{x[i]:0.#},{Y(low):0.#} "));
        }
        s.Append(CultureInfo.InvariantCulture, $"<polygon points=\"{up}{down}\" class=\"band\"/>");
    }

    private void Line(StringBuilder s, Func<MarkedStation, double?> value, string name)
    {
        var d = new StringBuilder();
        var drawing = false;
        for (var i = 0; i < x.Length; i++)
        {
            if (value(lane.Stations[i]) is not { } v) { drawing = false; continue; }
            d.Append(CultureInfo.InvariantCulture, $"{(drawing ? 'L' : 'M')}{x[i]:0.#} {Y(v):0.#}");
            drawing = true;
        }
        s.Append(CultureInfo.InvariantCulture, $"<path d=\"{d}\" class=\"{name}\"/>");
    }

    private void Readings(StringBuilder s)
    {
        var before = -1;
        var lastLabel = -100.0;
        for (var i = 0; i < x.Length; i++)
        {
            if (lane.Stations[i].Station.Terminal == next)
                s.Append(CultureInfo.InvariantCulture, $"<path d=\"M{x[i]:0.#} {_bottom} V{top + 26}\" class=\"probe-here\"/><text x=\"{Math.Clamp(x[i], 40, width - 40):0.#}\" y=\"{_bottom + 20}\" class=\"here\">probe here</text>");
            if (lane.Stations[i].Volts is not { } v || hidden.Contains(i)) continue;
            var bad = lane.Stations[i].Judgement is Judgement.Low or Judgement.High;
            // Joined only where nothing between the two is in doubt.
            if (before >= 0 && Enumerable.Range(before + 1, i - before).All(k => lane.Stations[k].Mark is StepMark.Present or StepMark.Proved))
                s.Append(CultureInfo.InvariantCulture, $"<path d=\"M{x[before]:0.#} {Y(lane.Stations[before].Volts!.Value):0.#}L{x[i]:0.#} {Y(v):0.#}\" class=\"read-line\"/>");
            if (before >= 0 && lane.Open is { } open && before <= open.From && i >= open.To && lane.Stations[before].Volts!.Value - v > 0.1 * Span)
                Loss(s, x[open.From], x[open.To], lane.Stations[before].Volts!.Value - v);
            s.Append(bad
                ? string.Create(CultureInfo.InvariantCulture, $"<path d=\"M{x[i] - 6:0.#} {Y(v) - 6:0.#}l12 12m0 -12l-12 12\" class=\"read bad\"/>")
                : string.Create(CultureInfo.InvariantCulture, $"<circle cx=\"{x[i]:0.#}\" cy=\"{Y(v):0.#}\" r=\"6\" class=\"read\"/>"));
            var close = x[i] - lastLabel < 44;
            s.Append(CultureInfo.InvariantCulture, $"<text x=\"{x[i]:0.#}\" y=\"{Y(v) + (close ? 24 : -12):0.#}\" class=\"value\">{v:0.0#}</text>");
            lastLabel = close ? -100 : x[i];
            before = i;
        }
    }

    private void Loss(StringBuilder s, double from, double to, double volts)
    {
        var centre = Math.Clamp((from + to) / 2, 90, width - 90);
        s.Append(CultureInfo.InvariantCulture, $"<text x=\"{centre:0.#}\" y=\"{(top + _bottom) / 2 + 10:0.#}\" class=\"loss\">{volts:0.0} V lost in here</text>");
    }
}
