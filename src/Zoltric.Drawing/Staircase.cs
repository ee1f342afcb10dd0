using System.Globalization;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;

namespace Zoltric.Drawing;

/// <summary>
/// Where the volts go, or how the ohms mount up with everything off: the value at each station. Dashed and shaded is the healthy machine at
/// work; the dotted line is what a good point shows on this machine as it stands, where that differs; dots are readings. Nothing is drawn
/// where nothing was read.
/// </summary>
internal sealed class Staircase(
    MarkedLane lane,
    double[] x,
    double top,
    double height,
    double width,
    double left,
    Terminal? next,
    bool zoomed,
    IReadOnlySet<int> hidden
)
{
    private readonly StaircaseScale _scale = StaircaseScale.Of(lane, zoomed);
    private readonly bool _ohms = lane.Dimension == Dimension.Ohm;
    private readonly double _bottom = top + height - 26;

    private double Y(double value) => _bottom - _scale.At(value) * (height - 62);

    public void Draw(StringBuilder s)
    {
        s.Append(
            CultureInfo.InvariantCulture,
            $"<text x=\"0\" y=\"{top + 16}\" class=\"heading\">{(_ohms ? "Ohms, all off" : "Where the volts go")}</text>"
        );
        foreach (var (v, words) in _scale.Grid())
            s.Append(
                CultureInfo.InvariantCulture,
                $"<line x1=\"{left - 14}\" x2=\"{width - 8}\" y1=\"{Y(v):0.#}\" y2=\"{Y(v):0.#}\" class=\"grid\"/><text "
                    + $"x=\"{left - 20}\" y=\"{Y(v) + 5:0.#}\" class=\"axis\">{words}</text>"
            );
        Band(s);
        Line(s, Healthy, "healthy");
        Line(s, st => st.GoodSoFar is { } g && Differs(st) ? g.Nominal : null, "so-far");
        Readings(s);
        var differ = lane.Stations.Any(Differs);
        s.Append(
            CultureInfo.InvariantCulture,
            $"<text x=\"{width - 8}\" y=\"{top + 16}\" class=\"legend\">dashed: "
                + $"healthy{(_ohms ? "" : ", at work")}{(differ ? " · dotted: good so far, not working" : "")} · dots: read</text>"
        );
    }

    /// <summary>What a healthy machine shows there; infinite for OL, null where the meter would show a word.</summary>
    private double? Healthy(MarkedStation st) => st.Healthy.Nominal ?? (_ohms && st.Healthy.Text == "OL" ? double.PositiveInfinity : null);

    private static bool Differs(MarkedStation st) =>
        st.GoodSoFar is { } g && st.Healthy is { Low: { } low, High: { } high } && (g.Nominal < low - 0.01 || g.Nominal > high + 0.01);

    private void Band(StringBuilder s)
    {
        var up = new StringBuilder();
        var down = new StringBuilder();
        for (var i = 0; i < x.Length; i++)
        {
            if (Healthy(lane.Stations[i]) is not { } v)
                return;
            var (low, high) = (lane.Stations[i].Healthy.Low ?? v, lane.Stations[i].Healthy.High ?? v);
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
            if (value(lane.Stations[i]) is not { } v)
            {
                drawing = false;
                continue;
            }
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
                s.Append(
                    CultureInfo.InvariantCulture,
                    $"<path d=\"M{x[i]:0.#} {_bottom} V{top + 26}\" class=\"probe-here\"/><text "
                        + $"x=\"{Math.Clamp(x[i], 40, width - 40):0.#}\" y=\"{_bottom + 20}\" class=\"here\">probe here</text>"
                );
            if (lane.Stations[i].Read is not { } v || hidden.Contains(i))
                continue;
            var bad = lane.Stations[i].Judgement is Judgement.Low or Judgement.High;
            // Volts are joined only where nothing between the two is in doubt.
            if (
                !_ohms
                && before >= 0
                && Enumerable.Range(before + 1, i - before).All(k => lane.Stations[k].Mark is StepMark.Present or StepMark.Proved)
            )
                s.Append(
                    CultureInfo.InvariantCulture,
                    $"<path d=\"M{x[before]:0.#} {Y(lane.Stations[before].Read!.Value):0.#}L{x[i]:0.#} {Y(v):0.#}\" class=\"read-line\"/>"
                );
            if (
                !_ohms
                && before >= 0
                && lane.Open is { } open
                && before <= open.From
                && i >= open.To
                && lane.Stations[before].Read!.Value - v > 0.1 * _scale.Span
            )
                Loss(s, x[open.From], x[open.To], lane.Stations[before].Read!.Value - v);
            s.Append(
                bad
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"<path d=\"M{x[i] - 6:0.#} {Y(v) - 6:0.#}l12 12m0 -12l-12 12\" class=\"read bad\"/>"
                    )
                    : string.Create(CultureInfo.InvariantCulture, $"<circle cx=\"{x[i]:0.#}\" cy=\"{Y(v):0.#}\" r=\"6\" class=\"read\"/>")
            );
            // Beside another figure it goes below the dot, or above that figure where the dot lies on the axis.
            var close = x[i] - lastLabel < 44;
            var figure =
                !_ohms ? v.ToString("0.0#", CultureInfo.InvariantCulture)
                : double.IsFinite(v) ? MeterReading.Format(v, Dimension.Ohm)
                : "OL";
            s.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{x[i]:0.#}\" y=\"{Y(v) + (!close ? -12 : Y(v) + 24 < _bottom ? 24 : -32):0.#}\" "
                    + $"class=\"value\">{figure}</text>"
            );
            lastLabel = close ? -100 : x[i];
            before = i;
        }
    }

    private void Loss(StringBuilder s, double from, double to, double volts)
    {
        var centre = Math.Clamp((from + to) / 2, 90, width - 90);
        s.Append(
            CultureInfo.InvariantCulture,
            $"<text x=\"{centre:0.#}\" y=\"{(top + _bottom) / 2 + 10:0.#}\" class=\"loss\">{volts:0.0} V lost in here</text>"
        );
    }
}
