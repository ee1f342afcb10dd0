using System.Globalization;
using System.Net;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Drawing.Symbols;

namespace Zoltric.Drawing;

/// <summary>
/// A lane and, for the one in hand, the volt staircase under it on the same axis. Everything is told by line style and word as well as by
/// colour: thick is proved under load, double is volts present, hatched is not yet proved, dotted is dead because of something before it.
/// </summary>
public sealed class LaneDrawing(Circuit circuit, IReadOnlyList<MarkedLane> lanes, Terminal? next)
{
    private const double Width = 860, Left = 66, Right = 34, LaneHeight = 86, StairsHeight = 250;
    private const double HalfGlyph = 14;

    /// <summary>SVG of one lane, with its staircase when asked for.</summary>
    public string Draw(int index, bool staircase)
    {
        var lane = lanes[index];
        var columns = LaneColumns.Of(circuit, lane);
        var height = LaneHeight + (staircase ? StairsHeight : 0);
        // Without an open stretch there is no bracket above the lane.
        var top = lane.Open is null ? 22 : 0;
        var s = new StringBuilder();
        var title = $"Lane {index + 1}: {lane.Lane.Title}";
        s.Append(CultureInfo.InvariantCulture, $"<svg class=\"lane\" viewBox=\"0 {top} {Width} {height - top}\" role=\"img\" aria-label=\"{E(title + ". " + InWords(lane))}\" xmlns=\"http://www.w3.org/2000/svg\">");
        s.Append("<defs><pattern id=\"hatch\" width=\"9\" height=\"9\" patternUnits=\"userSpaceOnUse\" patternTransform=\"rotate(45)\"><rect width=\"9\" height=\"9\" class=\"hatch-ground\"/><line x1=\"0\" y1=\"0\" x2=\"0\" y2=\"9\" class=\"hatch-line\"/></pattern></defs>");
        var x = Positions(columns, lane.Stations.Count);
        if (lane.Open is { } open) Hatch(s, lane, x, open, staircase ? height - 30 : 62);
        DrawLane(s, lane, columns, x);
        if (staircase) new Staircase(lane, x, LaneHeight, StairsHeight, Width, Left, next).Draw(s);
        s.Append("</svg>");
        return s.ToString();
    }

    /// <summary>Station positions: each column has its two stations a glyph apart.</summary>
    private static double[] Positions(IReadOnlyList<LaneColumn> columns, int stations)
    {
        var x = new double[stations];
        var pitch = (Width - Left - Right) / Math.Max(1, columns.Count - 1);
        for (var c = 0; c < columns.Count; c++)
        {
            var centre = Left + c * pitch;
            if (columns[c].HasInside) (x[columns[c].Enter], x[columns[c].Leave]) = (centre - HalfGlyph, centre + HalfGlyph);
            else x[columns[c].Enter] = centre;
        }
        return x;
    }

    private static void Hatch(StringBuilder s, MarkedLane lane, double[] x, (int From, int To) open, double bottom)
    {
        var (a, b) = (x[open.From], x[open.To]);
        s.Append(CultureInfo.InvariantCulture, $"<rect x=\"{a:0.#}\" y=\"22\" width=\"{b - a:0.#}\" height=\"{bottom - 22:0.#}\" fill=\"url(#hatch)\"/>");
        var text = $"not yet proved: {lane.Stations[open.From].Station.Terminal} to {lane.Stations[open.To].Station.Terminal}";
        var middle = Math.Clamp((a + b) / 2, 4.2 * text.Length, Width - 4.2 * text.Length);
        s.Append(CultureInfo.InvariantCulture, $"<path d=\"M{a:0.#} 22 v-5 H{b:0.#} v5\" class=\"bracket\"/><text x=\"{middle:0.#}\" y=\"12\" class=\"open-label\">{E(text)}</text>");
    }

    private void DrawLane(StringBuilder s, MarkedLane lane, IReadOnlyList<LaneColumn> columns, double[] x)
    {
        const double y = 44;
        for (var i = 1; i < x.Length; i++)
        {
            var inside = columns.Any(c => c.HasInside && c.Leave == i);
            if (!inside) Segment(s, x[i - 1], x[i], y, lane.Stations[i].Mark);
        }
        var pitch = columns.Count > 1 ? (Width - Left - Right) / (columns.Count - 1) : 60;
        for (var c = 0; c < columns.Count; c++)
        {
            var column = columns[c];
            var centre = column.HasInside ? (x[column.Enter] + x[column.Leave]) / 2 : x[column.Enter];
            var mark = lane.Stations[Math.Max(column.Leave, column.Enter)].Mark;
            s.Append(CultureInfo.InvariantCulture, $"<g transform=\"translate({centre:0.#} {y})\" class=\"part {Class(mark)}\"><title>{E($"{column.Part.Spoken}, {column.Part.Place ?? "place not given"}: {InWords(mark)}")}</title>");
            if (column.HasInside && column.CoilTag is not null && !column.IsLoad) s.Append(Symbol.All["switch"].Shape).Append("<path d=\"M0 -4 v-10\" stroke-dasharray=\"2 2\"/>");
            else if (column.HasInside || column.Part.Model.IsPoint) s.Append(Symbol.All[column.Part.Kind.Word].Shape);
            else s.Append("<circle r=\"5\" class=\"ink\"/>");
            s.Append("</g>");
            // Crowded lanes put every second label on a second line.
            var low = pitch < 50 && c % 2 == 1;
            s.Append(CultureInfo.InvariantCulture, $"<text x=\"{centre:0.#}\" y=\"{(low ? 82 : 68)}\" class=\"tag{(IsNext(lane, column) ? " here" : "")}\">{E(column.Label)}</text>");
        }
    }

    private bool IsNext(MarkedLane lane, LaneColumn column) =>
        next is { } n && (lane.Stations[column.Enter].Station.Terminal == n || lane.Stations[column.Leave].Station.Terminal == n);

    private static void Segment(StringBuilder s, double from, double to, double y, StepMark mark)
    {
        if (mark == StepMark.Present)
        {
            s.Append(CultureInfo.InvariantCulture, $"<path d=\"M{from:0.#} {y - 2.5} H{to:0.#} M{from:0.#} {y + 2.5} H{to:0.#}\" class=\"step present\"/>");
            return;
        }
        s.Append(CultureInfo.InvariantCulture, $"<path d=\"M{from:0.#} {y} H{to:0.#}\" class=\"step {Class(mark)}\"/>");
    }

    internal static string Class(StepMark m) => m switch
    {
        StepMark.Present => "present",
        StepMark.Proved => "proved",
        StepMark.Open => "open",
        StepMark.Dead => "dead",
        _ => "not-yet",
    };

    public static string InWords(StepMark m) => m switch
    {
        StepMark.Present => "volts present",
        StepMark.Proved => "proved under load",
        StepMark.Open => "not yet proved",
        StepMark.Dead => "dead because of something before it",
        _ => "not measured yet",
    };

    private static string InWords(MarkedLane lane) => lane.Open is { } o
        ? $"Not yet proved from {lane.Stations[o.From].Station.Terminal} to {lane.Stations[o.To].Station.Terminal}."
        : "Not judged yet.";

    internal static string E(string text) => WebUtility.HtmlEncode(text);
}
