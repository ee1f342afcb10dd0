using System.Globalization;
using System.Net;

namespace Zoltric.Drawing.Schematic;

/// <summary>Landscape paper: width and height in px that a page holds, a pixel being a quarter of a millimetre.</summary>
public sealed record PaperSize(double Width, double Height)
{
    /// <summary>ISO 216 A4, 297 × 210 mm, with 8 mm margins and a line for the title.</summary>
    public static PaperSize A4 { get; } = new((297 - 16) * 4, (210 - 24) * 4);

    /// <summary>Letter, 279.4 × 215.9 mm (ANSI/ASME Y14.1), the same margins.</summary>
    public static PaperSize Letter { get; } = new((279.4 - 16) * 4, (215.9 - 24) * 4);
}

public sealed record PrintedPage(int Number, string Svg);

/// <summary>
/// Cuts a drawing between its rows and columns into pages; every wire that is cut says its number and the page it goes on.
/// </summary>
public static class PrintedPages
{
    /// <summary>px kept free at each side for the references.</summary>
    private const double Side = 64,
        End = 14;

    private readonly record struct Window(double X1, double Y1, double X2, double Y2);

    public static IReadOnlyList<PrintedPage> Cut(Page page, PageOptions options, PaperSize paper)
    {
        ArgumentNullException.ThrowIfNull(page);
        ArgumentNullException.ThrowIfNull(paper);
        var xs = Cuts(page.ColumnCuts, page.Width, paper.Width - 2 * Side);
        var ys = Cuts(page.RowCuts, page.Height, paper.Height - 2 * End);
        var windows = new List<Window>();
        var number = new Dictionary<(int, int), int>();
        for (var r = 0; r + 1 < ys.Count; r++)
        for (var c = 0; c + 1 < xs.Count; c++)
        {
            var w = new Window(xs[c], ys[r], xs[c + 1], ys[r + 1]);
            if (!Holds(page, w))
                continue;
            windows.Add(w);
            number[(r, c)] = windows.Count;
        }
        return
        [
            .. windows.Select(
                (w, i) =>
                {
                    var (r, c) = number.First(n => n.Value == i + 1).Key;
                    return new PrintedPage(
                        i + 1,
                        Draw(page, options, paper, w, i + 1, dir => number.GetValueOrDefault((r + dir.Rows, c + dir.Columns)))
                    );
                }
            ),
        ];
    }

    private static List<double> Cuts(IReadOnlyList<double> places, double end, double most)
    {
        var cuts = new List<double> { 0 };
        while (end - cuts[^1] > most)
        {
            var next = places.Where(p => p > cuts[^1] + most / 4 && p <= cuts[^1] + most).DefaultIfEmpty(cuts[^1] + most).Max();
            cuts.Add(next);
        }
        cuts.Add(end);
        return cuts;
    }

    private static bool Holds(Page page, Window w) =>
        page.Units.Any(u => u.X >= w.X1 && u.X < w.X2 && u.Y >= w.Y1 && u.Y < w.Y2)
        || page.Pieces.Any(p =>
            Math.Max(p.X1, p.X2) >= w.X1 && Math.Min(p.X1, p.X2) < w.X2 && Math.Max(p.Y1, p.Y2) >= w.Y1 && Math.Min(p.Y1, p.Y2) < w.Y2
        );

    private static string Draw(
        Page page,
        PageOptions options,
        PaperSize paper,
        Window w,
        int number,
        Func<(int Rows, int Columns), int> neighbour
    )
    {
        var svg = new PageSvg(page, options with { Operable = false, Id = $"page-{number}" });
        svg.Open(w.X1 - Side, w.Y1 - End, paper.Width, paper.Height);
        svg.Raw(
            string.Create(
                CultureInfo.InvariantCulture,
                $"<clipPath id=\"window-{number}\"><rect x=\"{w.X1:0.#}\" y=\"{w.Y1:0.#}\" width=\"{w.X2 - w.X1:0.#}\" "
                    + $"height=\"{w.Y2 - w.Y1:0.#}\"/></clipPath><g clip-path=\"url(#window-{number})\">"
            )
        );
        svg.Body();
        svg.Raw("</g>");
        foreach (var p in page.Pieces)
        {
            var (left, right, top, bottom) = (Math.Min(p.X1, p.X2), Math.Max(p.X1, p.X2), Math.Min(p.Y1, p.Y2), Math.Max(p.Y1, p.Y2));
            if (p.Horizontal && p.Y1 >= w.Y1 && p.Y1 < w.Y2)
            {
                if (left < w.X1 && right > w.X1)
                    Reference(w.X1 - 4, p.Y1 + 3.5, "end", p, neighbour((0, -1)), "←");
                if (left < w.X2 && right > w.X2)
                    Reference(w.X2 + 4, p.Y1 + 3.5, "start", p, neighbour((0, 1)), "→");
            }
            if (!p.Horizontal && p.X1 >= w.X1 && p.X1 < w.X2)
            {
                if (top < w.Y1 && bottom > w.Y1)
                    Reference(p.X1 + 3, w.Y1 - 3, "start", p, neighbour((-1, 0)), "↑");
                if (top < w.Y2 && bottom > w.Y2)
                    Reference(p.X1 + 3, w.Y2 + 11, "start", p, neighbour((1, 0)), "↓");
            }
        }
        svg.Raw("</svg>");
        return svg.Text;

        void Reference(double x, double y, string anchor, Piece p, int to, string arrow)
        {
            var words = to == 0 ? NameOf(p) : $"{NameOf(p)} {arrow}{to}";
            svg.Raw(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"<text class=\"ref\" x=\"{x:0.#}\" y=\"{y:0.#}\" font-size=\"9.5\" "
                        + $"text-anchor=\"{anchor}\">{WebUtility.HtmlEncode(words)}</text>"
                )
            );
        }
    }

    /// <summary>What a cut wire is called: its number, or the bar it belongs to.</summary>
    internal static string NameOf(Piece p) =>
        p.Labels.Count == 1 && p.Labels[0].Numbered
            ? p.Labels[0].Id
            : p.Net.Point?.Tag ?? p.Net.Wires.FirstOrDefault(w => w.Numbered)?.Id ?? p.Net.Ports[0].Port.Terminal.ToString();
}
