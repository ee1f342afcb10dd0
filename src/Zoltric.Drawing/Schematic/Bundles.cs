using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Drawing.Schematic;

/// <summary>
/// An oval round conductors that belong together, where they run side by side: three phases to one load, the two wires of a bus. The sign
/// is that of IEC 60617 for conductors in one cable (from memory).
/// </summary>
/// <param name="Sign">What is written beside it: 3~ or bus.</param>
public sealed record Bundle(string Sign, string Words, double Left, double Top, double Right, double Bottom);

/// <summary>Finds the families of conductors of a page and a free place for their sign.</summary>
internal static class Bundles
{
    /// <summary>Half the thickness of an oval, how far it reaches past its outer conductors, and the widest one; px.</summary>
    private const double Half = 7,
        Past = 9,
        Widest = 320;
    private const double Step = 3,
        SignSize = 11;
    private const int MostOfOneFamily = 4;

    private readonly record struct Box(double Left, double Top, double Right, double Bottom)
    {
        public bool Meets(Box o) => Left < o.Right && o.Left < Right && Top < o.Bottom && o.Top < Bottom;
    }

    /// <summary>The page with its bundles marked and their signs among the texts.</summary>
    public static Page Mark(Page page)
    {
        var texts = page.Texts.ToList();
        var taken = texts
            .Select(t => new Box(t.Box.Left, t.Box.Top, t.Box.Right, t.Box.Bottom))
            .Concat(page.Units.Select(u => new Box(u.Axes.Min() - 12, u.Y - 30, u.Axes.Max() + 12, u.Y + 30)))
            .Concat(page.Dots.Select(d => new Box(d.X - 4, d.Y - 4, d.X + 4, d.Y + 4)))
            .Concat(page.Bulkheads.Select(b => new Box(b.From, b.Y - PageLayout.Band / 2, b.To, b.Y + PageLayout.Band / 2)))
            .ToList();
        var bundles = new List<Bundle>();
        foreach (var (nets, sign, words) in Families(page))
        {
            var used = new HashSet<Piece>();
            foreach (var together in Together(page, nets).Take(60))
            {
                if (used.Count >= MostOfOneFamily * nets.Count || together.Exists(used.Contains))
                    continue;
                if (Place(page, together, taken) is not { } box)
                    continue;
                used.UnionWith(together);
                taken.Add(box);
                bundles.Add(new Bundle(sign, words, box.Left, box.Top, box.Right, box.Bottom));
                var width = Text.WidthOf(sign, SignSize, false);
                var y = together[0].Horizontal ? box.Top - 3 : (box.Top + box.Bottom) / 2 + 4;
                foreach (var x in together[0].Horizontal ? new[] { (box.Left + box.Right) / 2 + 3 } : [box.Right + 3, box.Left - width - 3])
                {
                    var text = new Text(TextUse.Words, x, y, SignSize, false, sign);
                    var at = new Box(text.Box.Left, text.Box.Top, text.Box.Right, text.Box.Bottom);
                    if (x < 0 || !Free(page, at, taken, []))
                        continue;
                    texts.Add(text);
                    taken.Add(at);
                    break;
                }
            }
        }
        return page with { Texts = texts, Bundles = bundles };
    }

    /// <summary>Nets that belong together: of a three-phase load or supply, of the bus pins of a module or terminator.</summary>
    private static IEnumerable<(List<DrawnNet> Nets, string Sign, string Words)> Families(Page page)
    {
        var at = new Dictionary<Terminal, DrawnNet>();
        foreach (var net in page.Nets)
        foreach (var p in net.Ports)
            at.TryAdd(p.Port.Terminal, net);
        var seen = new HashSet<string>();
        foreach (var part in page.Circuit.Parts)
        {
            var (names, sign, words) = part.Kind switch
            {
                ThreePhaseLoad => (new[] { "U", "V", "W" }, "3~", "three phases that run together"),
                Mains => (["L1", "L2", "L3"], "3~", "three phases that run together"),
                Terminator => (["H", "L"], "bus", "the two wires of a bus, twisted"),
                _ when part.Model.Bus is { } bus => (
                    [part.Model.Links[bus.High].A, part.Model.Links[bus.Low].A],
                    "bus",
                    "the two wires of a bus, twisted"
                ),
                _ => ([], "", ""),
            };
            var nets = names.Select(n => at.GetValueOrDefault(new Terminal(part.Tag, n))).OfType<DrawnNet>().Distinct().ToList();
            if (nets.Count < 2 || nets.Count < names.Length || !seen.Add(string.Join(',', nets.Select(n => n.Index))))
                continue;
            yield return (nets, sign, words);
        }
    }

    /// <summary>One piece of each net, side by side over some length; the closest first.</summary>
    private static IEnumerable<List<Piece>> Together(Page page, List<DrawnNet> nets)
    {
        var found = new List<(List<Piece> Pieces, double Span)>();
        foreach (var lying in new[] { false, true })
        {
            var of = nets.ConvertAll(n => page.Pieces.Where(p => p.Net == n && p.Horizontal == lying).ToList());
            IEnumerable<List<Piece>> all =
            [
                [],
            ];
            foreach (var pieces in of)
                all = all.SelectMany(some => pieces.Select(p => some.Append(p).ToList()));
            foreach (var pieces in all)
            {
                var across = pieces.ConvertAll(p => lying ? p.Y1 : p.X1);
                var (from, to) = Common(pieces);
                if (across.Max() - across.Min() is var span && span is > 2 and < Widest && to - from >= 2 * Half + 2)
                    found.Add((pieces, span));
            }
        }
        return found.OrderBy(f => f.Span).ThenBy(f => f.Pieces[0].Y1).ThenBy(f => f.Pieces[0].X1).Select(f => f.Pieces);
    }

    private static (double From, double To) Common(List<Piece> pieces) =>
        pieces[0].Horizontal
            ? (pieces.Max(p => Math.Min(p.X1, p.X2)), pieces.Min(p => Math.Max(p.X1, p.X2)))
            : (pieces.Max(p => Math.Min(p.Y1, p.Y2)), pieces.Min(p => Math.Max(p.Y1, p.Y2)));

    private static Box? Place(Page page, List<Piece> pieces, List<Box> taken)
    {
        var (from, to) = Common(pieces);
        var middle = (from + to) / 2;
        for (var off = 0.0; off <= (to - from) / 2 - Half - 1; off += Step)
            foreach (var at in new[] { middle - off, middle + off })
            {
                var box = pieces[0].Horizontal
                    ? new Box(at - Half, pieces.Min(p => p.Y1) - Past, at + Half, pieces.Max(p => p.Y1) + Past)
                    : new Box(pieces.Min(p => p.X1) - Past, at - Half, pieces.Max(p => p.X1) + Past, at + Half);
                if (Free(page, box, taken, pieces))
                    return box;
            }
        return null;
    }

    private static bool Free(Page page, Box box, List<Box> taken, List<Piece> but) =>
        !taken.Exists(t => t.Meets(box))
        && !page.Pieces.Any(p =>
            !but.Contains(p)
            && new Box(Math.Min(p.X1, p.X2) - 3, Math.Min(p.Y1, p.Y2) - 3, Math.Max(p.X1, p.X2) + 3, Math.Max(p.Y1, p.Y2) + 3).Meets(box)
        );
}
