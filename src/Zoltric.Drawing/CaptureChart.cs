using System.Globalization;
using System.Net;
using System.Text;

namespace Zoltric.Drawing;

/// <summary>One line of a chart over time.</summary>
/// <param name="Earlier">True for one that is laid under for comparison: drawn dashed.</param>
public sealed record ChartTrace(string Name, string Unit, double[] Seconds, double[] Values, bool Earlier = false);

/// <summary>Something done at an instant, s; the chart has its number, in the order of the list.</summary>
public sealed record ChartMark(double At, string What);

/// <summary>
/// Captures over time: a panel for each unit, one time below all. Of more instants than there are dots, the lowest and highest of each
/// column are drawn, so that no dropout is lost. Lines are told by dash and by a label at their end.
/// </summary>
public static class CaptureChart
{
    private const int Width = 960,
        Panel = 230,
        Left = 78,
        Right = 120,
        Gap = 26,
        Below = 44;

    /// <summary>Numbers of marks that stand close are put into so many rows.</summary>
    private const int MarkRows = 3;

    /// <summary>A panel spans at least this share of its highest figure: what stands still is a straight line.</summary>
    private const double LeastSpan = 0.02;

    /// <summary>From so many seconds on a capture is read in minutes, and from so many in hours.</summary>
    private const double InMinutes = 300,
        InHours = 10_800;

    /// <summary>Less below nothing than this share of the highest is noise and gets no room of its own.</summary>
    private const double NearNothing = 0.04;

    private static readonly string[] Dashes = ["", "9 4", "3 3", "12 3 3 3"];

    public static string Svg(IReadOnlyList<ChartTrace> traces, IReadOnlyList<ChartMark>? marks = null)
    {
        ArgumentNullException.ThrowIfNull(traces);
        var shown = traces.Where(t => t.Values.Any(double.IsFinite)).ToList();
        if (shown.Count == 0)
            return "";
        var panels = shown.GroupBy(t => t.Unit).ToList();
        var (from, to) = (shown.Min(t => t.Seconds[0]), shown.Max(t => t.Seconds[^1]));
        var height = panels.Count * (Panel + Gap) + Below;
        var s = new StringBuilder();
        s.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"capture-chart\" role=\"img\" aria-label=\"{E(string.Join(", ", shown.Select(t => t.Name)))} over time\" "
        );
        s.Append(CultureInfo.InvariantCulture, $"viewBox=\"0 0 {Width} {height}\" xmlns=\"http://www.w3.org/2000/svg\">");
        var top = 10.0;
        foreach (var panel in panels)
        {
            Draw(s, [.. panel], top, from, to);
            top += Panel + Gap;
        }
        Times(s, from, to, top - Gap, panels.Count);
        foreach (var (mark, n) in (marks ?? []).Where(m => m.At >= from && m.At <= to).Select((m, n) => (m, n)))
        {
            var x = Left + (to > from ? (mark.At - from) / (to - from) : 0) * (Width - Left - Right);
            s.Append(CultureInfo.InvariantCulture, $"<line class=\"mark\" x1=\"{x:0.#}\" x2=\"{x:0.#}\" ");
            s.Append(CultureInfo.InvariantCulture, $"y1=\"10\" y2=\"{top - Gap:0.#}\"/>");
            s.Append(CultureInfo.InvariantCulture, $"<text x=\"{x + 4:0.#}\" y=\"{24 + n % MarkRows * 16}\">{n + 1}</text>");
        }
        return s.Append("</svg>").ToString();
    }

    private static void Draw(StringBuilder s, List<ChartTrace> traces, double top, double from, double to)
    {
        var finite = traces.SelectMany(t => t.Values).Where(double.IsFinite);
        var (low, high) = (finite.Min(), finite.Max());
        // Nothing is part of the picture where it is near.
        if (high > 0 && low > -NearNothing * high && low < 0.6 * high)
            low = 0;
        if (high - low < 1e-9)
            (low, high) = (low - 1, high + 1);
        if (LeastSpan * Math.Abs(high) - (high - low) is > 0 and var room)
            (low, high) = (low - room / 2, high + room / 2);
        var step = Step((high - low) / 4);
        (low, high) = (Math.Floor(low / step) * step, Math.Ceiling(high / step) * step);
        double Y(double v) => top + Panel - (v - low) / (high - low) * Panel;
        for (var i = 0; i <= (high - low) / step + 0.5; i++)
        {
            var v = low + i * step;
            s.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"grid\" x1=\"{Left}\" x2=\"{Width - Right}\" y1=\"{Y(v):0.#}\" y2=\"{Y(v):0.#}\"/>"
            );
            var figure = E(OnAxis(v, step, Math.Max(Math.Abs(low), Math.Abs(high)), traces[0].Unit));
            s.Append(CultureInfo.InvariantCulture, $"<text x=\"{Left - 8}\" y=\"{Y(v) + 4:0.#}\" text-anchor=\"end\">{figure}</text>");
        }
        var labels = new List<double>();
        foreach (var (trace, n) in traces.Select((t, n) => (t, n)))
        {
            var dash = trace.Earlier ? "2 5" : Dashes[n % Dashes.Length];
            s.Append(CultureInfo.InvariantCulture, $"<path class=\"{(trace.Earlier ? "earlier" : "trace")}\" ");
            if (dash.Length > 0)
                s.Append(CultureInfo.InvariantCulture, $"stroke-dasharray=\"{dash}\" ");
            s.Append(CultureInfo.InvariantCulture, $"d=\"{Path(trace, from, to, Y)}\"/>");
            var at = Y(Array.FindLast(trace.Values, double.IsFinite));
            while (labels.Exists(l => Math.Abs(l - at) < 15))
                at += 15;
            labels.Add(at);
            s.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"name\" x=\"{Width - Right + 6}\" y=\"{at + 4:0.#}\">{E(Short(trace.Name))}</text>"
            );
        }
    }

    /// <summary>
    /// Through the lowest and the highest of each column, in the order in which they came; broken where nothing was read.
    /// </summary>
    private static StringBuilder Path(ChartTrace trace, double from, double to, Func<double, double> y)
    {
        var path = new StringBuilder();
        var pen = false;
        for (var i = 0; i < trace.Values.Length; )
        {
            var column = X(trace.Seconds[i]);
            var (low, high) = (-1, -1);
            var first = i;
            for (; i < trace.Values.Length && (i == first || (int)X(trace.Seconds[i]) == (int)column); i++)
            {
                if (!double.IsFinite(trace.Values[i]))
                    continue;
                if (low < 0 || trace.Values[i] < trace.Values[low])
                    low = i;
                if (high < 0 || trace.Values[i] > trace.Values[high])
                    high = i;
            }
            if (low < 0)
            {
                pen = false;
                continue;
            }
            foreach (
                var k in low == high ? new[] { low }
                : low < high ? [low, high]
                : [high, low]
            )
            {
                path.Append(CultureInfo.InvariantCulture, $"{(pen ? 'L' : 'M')}{X(trace.Seconds[k]):0.#} {y(trace.Values[k]):0.#}");
                pen = true;
            }
        }
        return path;

        double X(double seconds) => Left + (to > from ? (seconds - from) / (to - from) : 0) * (Width - Left - Right);
    }

    private static void Times(StringBuilder s, double from, double to, double y, int panels)
    {
        var (unit, seconds) =
            to - from > InHours ? ("h", 3600.0)
            : to - from > InMinutes ? ("min", 60)
            : ("s", 1);
        var step = Step((to - from) / seconds / 6) * seconds;
        for (var t = Math.Ceiling(from / step - 1e-9) * step; t <= to + 1e-9 * step; t += step)
        {
            var x = Left + (t - from) / (to - from) * (Width - Left - Right);
            s.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"grid\" x1=\"{x:0.#}\" x2=\"{x:0.#}\" y1=\"{y - panels * (Panel + Gap) + Gap:0.#}\" y2=\"{y:0.#}\"/>"
            );
            var said = E(Figure(Math.Abs(t) < 1e-9 * step ? 0 : t / seconds, unit));
            s.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"when\" x=\"{x:0.#}\" y=\"{y + 18:0.#}\" text-anchor=\"middle\">{said}</text>"
            );
        }
    }

    /// <summary>1, 2 or 5 times a power of ten, at least as much.</summary>
    private static double Step(double least)
    {
        if (!(least > 0))
            return 1;
        var power = Math.Pow(10, Math.Floor(Math.Log10(least)));
        return (least / power) switch
        {
            <= 1 => power,
            <= 2 => 2 * power,
            <= 5 => 5 * power,
            _ => 10 * power,
        };
    }

    /// <summary>A value of an axis with as many places as tell it from the next, in the prefix that its highest has.</summary>
    private static string OnAxis(double value, double step, double most, string unit)
    {
        if (unit is not ("V" or "A"))
            return Figure(value, unit);
        var (prefix, factor) =
            most >= 1 ? ("", 1.0)
            : most >= 1e-3 ? ("m", 1e3)
            : ("µ", 1e6);
        var places = (int)Math.Clamp(Math.Ceiling(-Math.Log10(step * factor) - 1e-9), 0, 6);
        var shown = Math.Abs(value) < 1e-6 * step ? 0 : value * factor;
        return $"{shown.ToString($"F{places}", CultureInfo.InvariantCulture)} {prefix}{unit}";
    }

    private static string Figure(double value, string unit) =>
        unit switch
        {
            "s" when Math.Abs(value) is > 0 and < 1 => string.Create(CultureInfo.InvariantCulture, $"{value * 1000:0.###} ms"),
            _ => string.Create(CultureInfo.InvariantCulture, $"{value:0.###} {unit}"),
        };

    private static string Short(string name) => name.Length > 16 ? name[..15] + "…" : name;

    private static string E(string text) => WebUtility.HtmlEncode(text);
}
