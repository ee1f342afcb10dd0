using System.Globalization;
using System.Net;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Drawing.Symbols;

namespace Zoltric.Drawing;

/// <summary>
/// A lane and, for the one in hand, the volt staircase under it on the same axis. Everything is told by line style and word as well as by
/// colour: thick is proved under load, double is volts present, hatched is not yet proved, dotted is dead because of something before it.
/// </summary>
public sealed class LaneDrawing(Circuit circuit, IReadOnlyList<MarkedLane> lanes, Terminal? next)
{
    private const double LeastWidth = 860,
        LeastPitch = 46,
        Left = 66,
        Right = 34,
        LaneHeight = 86,
        StairsHeight = 250;
    private const double HalfGlyph = 14;

    /// <summary>Lanes of more columns than these fold what is proved; what is left makes the drawing wider.</summary>
    private const int MostColumns = 17,
        LeastFold = 3;

    /// <summary>Address that unfolds the lane, or null where nothing is to be folded.</summary>
    public string? Unfold { get; init; }

    /// <summary>Shows the volts of the open stretch over the whole height.</summary>
    public bool Zoomed { get; init; }

    private double _width = LeastWidth;

    /// <summary>SVG of one lane, with its staircase when asked for.</summary>
    public string Draw(int index, bool staircase)
    {
        var lane = lanes[index];
        var columns = Folded(lane, LaneColumns.Lay(circuit, lane));
        _width = Math.Max(LeastWidth, columns.Count * LeastPitch + Left + Right);
        var height = LaneHeight + (staircase ? StairsHeight : 0);
        // Without an open stretch there is no bracket above the lane.
        var top = lane.Open is null ? 14 : 0;
        var s = new StringBuilder();
        var title = $"Lane {index + 1}: {lane.Lane.Title}";
        s.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"lane\" viewBox=\"0 {top} {_width:0} {height - top}\" "
                + $"style=\"min-width:{(_width > LeastWidth ? _width : 0):0}px\" role=\"group\" "
                + $"aria-label=\"{E(title + ". " + InWords(lane))}\" xmlns=\"http://www.w3.org/2000/svg\">"
        );
        s.Append(
            "<defs><pattern id=\"hatch\" width=\"9\" height=\"9\" patternUnits=\"userSpaceOnUse\" "
                + "patternTransform=\"rotate(45)\"><rect width=\"9\" height=\"9\" class=\"hatch-ground\"/><line x1=\"0\" "
                + "y1=\"0\" x2=\"0\" y2=\"9\" class=\"hatch-line\"/></pattern></defs>"
        );
        var x = Positions(columns, lane.Stations.Count);
        if (lane.Open is { } open)
            Hatch(s, lane, x, open, staircase ? height - 30 : 62);
        DrawLane(s, lane, columns, x);
        if (staircase)
            new Staircase(lane, x, LaneHeight, StairsHeight, _width, Left, next, Zoomed, Hidden(columns)).Draw(s);
        s.Append("</svg>");
        return s.ToString();
    }

    /// <summary>Station positions: each column has its two stations a glyph apart.</summary>
    private double[] Positions(IReadOnlyList<LaneColumn> columns, int stations)
    {
        var x = new double[stations];
        var pitch = (_width - Left - Right) / Math.Max(1, columns.Count - 1);
        for (var c = 0; c < columns.Count; c++)
        {
            var centre = Left + c * pitch;
            if (columns[c].Folds > 0)
                for (int k = columns[c].Enter, n = columns[c].Leave - columns[c].Enter; k <= columns[c].Leave; k++)
                    x[k] = centre - HalfGlyph + 2 * HalfGlyph * (k - columns[c].Enter) / Math.Max(1, n);
            else if (columns[c].HasInside)
                (x[columns[c].Enter], x[columns[c].Leave]) = (centre - HalfGlyph, centre + HalfGlyph);
            else
                x[columns[c].Enter] = centre;
        }
        return x;
    }

    /// <summary>
    /// Runs of columns that are proved, have volts, or are dead because of something before them become one mark, except at the probe that
    /// is asked for.
    /// </summary>
    private IReadOnlyList<LaneColumn> Folded(MarkedLane lane, IReadOnlyList<LaneColumn> columns)
    {
        if (Unfold is null || columns.Count <= MostColumns)
            return columns;
        var folded = new List<LaneColumn>();
        for (var c = 0; c < columns.Count; c++)
        {
            var end = c;
            var mark = lane.Stations[Math.Max(columns[c].Enter, 0)].Mark;
            while (
                mark is (StepMark.Proved or StepMark.Present or StepMark.Dead)
                && end < columns.Count
                && columns[end] is { IsLoad: false } k
                && k.Enter > 0
                && lane.Stations[k.Enter].Mark == mark
                && lane.Stations[k.Leave].Mark == mark
                && !IsNext(lane, k)
            )
                end++;
            // The last proved station stays, where the open stretch begins.
            if (end < columns.Count)
                end--;
            if (end - c < LeastFold)
            {
                folded.Add(columns[c]);
                continue;
            }
            folded.Add(columns[c] with { Label = "", Leave = columns[end - 1].Leave, CoilTag = null, Folds = end - c });
            c = end - 1;
        }
        return folded;
    }

    private static HashSet<int> Hidden(IReadOnlyList<LaneColumn> columns) =>
        [.. columns.Where(c => c.Folds > 0).SelectMany(c => Enumerable.Range(c.Enter, c.Leave - c.Enter + 1))];

    private void Hatch(StringBuilder s, MarkedLane lane, double[] x, (int From, int To) open, double bottom)
    {
        var (a, b) = (x[open.From], x[open.To]);
        s.Append(
            CultureInfo.InvariantCulture,
            $"<rect x=\"{a:0.#}\" y=\"22\" width=\"{b - a:0.#}\" height=\"{bottom - 22:0.#}\" fill=\"url(#hatch)\"/>"
        );
        var text = $"not yet proved: {lane.Stations[open.From].Station.Terminal} to {lane.Stations[open.To].Station.Terminal}";
        var middle = Math.Clamp((a + b) / 2, 4.2 * text.Length, _width - 4.2 * text.Length);
        s.Append(
            CultureInfo.InvariantCulture,
            $"<path d=\"M{a:0.#} 22 v-5 H{b:0.#} v5\" class=\"bracket\"/><text x=\"{middle:0.#}\" y=\"12\" "
                + $"class=\"open-label\">{E(text)}</text>"
        );
    }

    private void DrawLane(StringBuilder s, MarkedLane lane, IReadOnlyList<LaneColumn> columns, double[] x)
    {
        const double y = 44;
        for (var i = 1; i < x.Length; i++)
        {
            var inside = columns.Any(c => c.HasInside && c.Leave == i || c.Folds > 0 && i > c.Enter && i <= c.Leave);
            if (!inside)
                Segment(s, x[i - 1], x[i], y, lane.Stations[i].Mark);
        }
        var pitch = columns.Count > 1 ? (_width - Left - Right) / (columns.Count - 1) : 60;
        for (var c = 0; c < columns.Count; c++)
        {
            var column = columns[c];
            var centre = column.HasInside ? (x[column.Enter] + x[column.Leave]) / 2 : x[column.Enter];
            var mark = lane.Stations[Math.Max(column.Leave, column.Enter)].Mark;
            if (column.Folds > 0)
            {
                s.Append(
                    CultureInfo.InvariantCulture,
                    $"<a href=\"{E(Unfold!)}\" hx-get=\"{E(Unfold!)}\" hx-target=\"#trace\" class=\"fold\" "
                        + $"aria-label=\"{column.Folds} stations, {E(InWords(mark))}: show them\"><rect x=\"{centre - 22:0.#}\" "
                        + $"y=\"{y - 22}\" width=\"44\" height=\"44\" rx=\"6\"/><path d=\"M{centre - HalfGlyph:0.#} {y} "
                        + $"H{centre + HalfGlyph:0.#}\" class=\"step {Class(mark)}\"/><text x=\"{centre:0.#}\" "
                        + $"y=\"{y - 7}\">{(mark == StepMark.Proved ? "✓" : mark == StepMark.Present ? "V" : "0")} "
                        + $"{column.Folds}</text></a>"
                );
                continue;
            }
            // A contact says which lane pulls it.
            if (column.CoilTag is { } coil && lanes.ToList().FindIndex(l => l.Lane.Part == coil && l.Lane != lane.Lane) is >= 0 and var by)
                s.Append(CultureInfo.InvariantCulture, $"<text x=\"{centre:0.#}\" y=\"28\" class=\"joins\">by lane {by + 1}</text>");
            s.Append(
                CultureInfo.InvariantCulture,
                $"<g transform=\"translate({centre:0.#} {y})\" class=\"part {Class(mark)}\" role=\"button\" tabindex=\"0\" "
                    + $"data-station=\"{E(lane.Stations[Math.Max(column.Enter, 0)].Station.Terminal.ToString())}\" "
                    + $"aria-label=\"{E($"{column.Part.Spoken}, {InWords(mark)}: write a reading here")}\"><rect x=\"-20\" "
                    + $"y=\"-20\" width=\"40\" height=\"44\" "
                    + $"class=\"touch\"/><title>"
                    + $"{E($"{column.Part.Spoken}, {column.Part.Place ?? "place not given"}: {InWords(mark)}")}</title>"
            );
            if (column.HasInside && column.CoilTag is not null && !column.IsLoad)
                s.Append(Symbol.All["switch"].Shape).Append("<path d=\"M0 -4 v-10\" stroke-dasharray=\"2 2\"/>");
            else if (column.HasInside || column.Part.Model.IsPoint)
                s.Append(Symbol.All[column.Part.Kind.Word].Shape);
            else
                s.Append("<circle r=\"5\" class=\"ink\"/>");
            s.Append("</g>");
            // Crowded lanes put every second label on a second line.
            var low = pitch < 50 && c % 2 == 1;
            s.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{centre:0.#}\" y=\"{(low ? 82 : 68)}\" "
                    + $"class=\"tag{(IsNext(lane, column) ? " here" : "")}\">{E(column.Label)}</text>"
            );
        }
    }

    private bool IsNext(MarkedLane lane, LaneColumn column) =>
        next is { } n && (lane.Stations[column.Enter].Station.Terminal == n || lane.Stations[column.Leave].Station.Terminal == n);

    private static void Segment(StringBuilder s, double from, double to, double y, StepMark mark)
    {
        if (mark == StepMark.Present)
        {
            s.Append(
                CultureInfo.InvariantCulture,
                $"<path d=\"M{from:0.#} {y - 2.5} H{to:0.#} M{from:0.#} {y + 2.5} H{to:0.#}\" class=\"step present\"/>"
            );
            return;
        }
        s.Append(CultureInfo.InvariantCulture, $"<path d=\"M{from:0.#} {y} H{to:0.#}\" class=\"step {Class(mark)}\"/>");
    }

    internal static string Class(StepMark m) =>
        m switch
        {
            StepMark.Present => "present",
            StepMark.Proved => "proved",
            StepMark.Open => "open",
            StepMark.Dead => "dead",
            _ => "not-yet",
        };

    public static string InWords(StepMark m) =>
        m switch
        {
            StepMark.Present => "volts present",
            StepMark.Proved => "proved under load",
            StepMark.Open => "not yet proved",
            StepMark.Dead => "dead because of something before it",
            _ => "not measured yet",
        };

    private static string InWords(MarkedLane lane) =>
        lane.Open is { } o
            ? $"Not yet proved from {lane.Stations[o.From].Station.Terminal} to {lane.Stations[o.To].Station.Terminal}."
            : "Not judged yet.";

    internal static string E(string text) => WebUtility.HtmlEncode(text);
}
