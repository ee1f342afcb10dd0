using System.Diagnostics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests.Outside;
using Zoltric.Drawing.Schematic;
using Unit = Zoltric.Drawing.Schematic.Unit;

namespace Zoltric.Core.Tests.Drawing;

/// <summary>
/// The drawing of every demo sheet and of 100 random ones, measured: nothing lies on anything else, every wire and every point is there,
/// the ink agrees with the solver. The figures printed are kept in docs/drawing.md.
/// </summary>
public class DrawnPageTests(ITestOutputHelper output)
{
    private const int FirstSeed = 5200;

    private static IEnumerable<(string Name, Circuit Circuit)> Sheets() =>
        DemoSheets
            .All.Select(s => (s, DemoSheets.Read(DemoSheets.Text(s))))
            .Concat(Enumerable.Range(FirstSeed, 50).Select(s => ($"seed {s}", DemoSheets.Read(RandomCircuits.Sheet(s)))))
            .Concat(Enumerable.Range(FirstSeed, 50).Select(s => ($"ac seed {s}", DemoSheets.Read(RandomAlternatingCircuits.Sheet(s)))));

    private readonly record struct Box(double Left, double Top, double Right, double Bottom)
    {
        public bool Meets(Box o) => Left < o.Right - 0.01 && o.Left < Right - 0.01 && Top < o.Bottom - 0.01 && o.Top < Bottom - 0.01;
    }

    private static Box Of(Piece p) =>
        new(Math.Min(p.X1, p.X2) - 0.5, Math.Min(p.Y1, p.Y2) - 0.5, Math.Max(p.X1, p.X2) + 0.5, Math.Max(p.Y1, p.Y2) + 0.5);

    private static Box Of(Text t) => new(t.Box.Left, t.Box.Top, t.Box.Right, t.Box.Bottom);

    /// <summary>Where a glyph or box stands, its ports' edges left out.</summary>
    private static Box Of(PlacedUnit u) => new(u.Axes.Min() - 12, u.Y - 29, u.Axes.Max() + 12, u.Y + 29);

    [Fact]
    public void Nothing_lies_on_anything_else()
    {
        foreach (var (name, circuit) in Sheets())
        {
            var page = PageLayout.Of(circuit);
            var texts = page.Texts.Select(t => (Box: Of(t), t.Words)).ToList();
            for (var i = 0; i < texts.Count; i++)
            for (var j = i + 1; j < texts.Count; j++)
                texts[i].Box.Meets(texts[j].Box).ShouldBeFalse($"{name}: “{texts[i].Words}” lies on “{texts[j].Words}”");
            foreach (var p in page.Pieces)
            {
                foreach (var (box, words) in texts)
                    box.Meets(Of(p)).ShouldBeFalse($"{name}: a wire of {p.Net.Wires.FirstOrDefault()?.Id} runs through “{words}”");
                foreach (var u in page.Units)
                    Of(u)
                        .Meets(Of(p))
                        .ShouldBeFalse($"{name}: a wire of {p.Net.Wires.FirstOrDefault()?.Id} runs through {u.Unit.Part.Tag}");
            }
            // Wires of two nets may cross, never run along each other.
            foreach (var group in page.Pieces.GroupBy(p => (p.Horizontal, p.Horizontal ? p.Y1 : p.X1)))
            {
                var along = group
                    .Select(p =>
                        (
                            p.Net,
                            From: p.Horizontal ? Math.Min(p.X1, p.X2) : Math.Min(p.Y1, p.Y2),
                            To: p.Horizontal ? Math.Max(p.X1, p.X2) : Math.Max(p.Y1, p.Y2)
                        )
                    )
                    .OrderBy(p => p.From)
                    .ToList();
                for (var i = 1; i < along.Count; i++)
                    if (along[i].Net != along[i - 1].Net)
                        along[i].From.ShouldBeGreaterThanOrEqualTo(along[i - 1].To, $"{name}: two wires on one line at {group.Key}");
            }
            for (var i = 0; i < page.Units.Count; i++)
            for (var j = i + 1; j < page.Units.Count; j++)
                Of(page.Units[i])
                    .Meets(Of(page.Units[j]))
                    .ShouldBeFalse($"{name}: {page.Units[i].Unit.Part.Tag} stands on {page.Units[j].Unit.Part.Tag}");
        }
    }

    /// <summary>Phases of one load and the pair of a bus carry their sign, which rounds them and nothing else.</summary>
    [Theory]
    [InlineData("DO-4", "3~", 4)]
    [InlineData("PH-1", "bus", 2)]
    public void What_runs_together_is_marked_as_a_bundle(string sheet, string sign, int least)
    {
        var page = PageLayout.Of(DemoSheets.Read(DemoSheets.Text(sheet)));
        var marked = page.Bundles.Where(b => b.Sign == sign).ToList();
        output.WriteLine($"{sheet}: {marked.Count} bundles, {page.Texts.Count(t => t.Words == sign)} with their sign written");
        marked.Count.ShouldBeGreaterThanOrEqualTo(least);
        foreach (var b in page.Bundles)
        {
            var box = new Box(b.Left, b.Top, b.Right, b.Bottom);
            var inside = page.Pieces.Where(p => Of(p).Meets(box)).Select(p => p.Net).Distinct().ToList();
            inside.Count.ShouldBe(
                b.Sign == "bus" ? 2 : 3,
                $"{sheet}: the sign at {b.Left:0}, {b.Top:0} rounds {string.Join(", ", inside.Select(n => n.Wires.FirstOrDefault()?.Id))}"
            );
            foreach (var t in page.Texts)
                Of(t).Meets(box).ShouldBeFalse($"{sheet}: a sign lies on “{t.Words}”");
        }
    }

    [Fact]
    public void Every_wire_is_written_once_and_every_wired_point_can_be_touched()
    {
        foreach (var (name, circuit) in Sheets())
        {
            var page = PageLayout.Of(circuit);
            var written = page
                .Nets.SelectMany(n => n.Labels.Values.SelectMany(w => w))
                .Concat(page.Units.Select(u => u.Unit.Wire).OfType<Wire>())
                .Select(w => w.Id)
                .ToList();
            written.ShouldBe(circuit.Wires.Select(w => w.Id), true, name);
            var points = page
                .Units.SelectMany(u => u.Unit.Ports.Select(p => p.Terminal))
                .Concat(page.Points.Select(p => p.Terminal))
                .ToHashSet();
            foreach (
                var t in circuit
                    .Wires.SelectMany(w => new[] { w.From, w.To })
                    .Concat(circuit.Bonds.SelectMany(b => new[] { b.A, b.B }))
                    .Distinct()
            )
                points.ShouldContain(t, name);
            circuit.Parts.Where(p => !p.Model.IsPoint).Select(p => p.Tag).ShouldBeSubsetOf(page.Units.Select(u => u.Unit.Part.Tag), name);
        }
    }

    [Fact]
    public void Pins_of_a_connector_stand_on_one_line_and_bars_hang_together()
    {
        foreach (var (name, circuit) in Sheets())
        {
            var page = PageLayout.Of(circuit);
            foreach (
                var connector in page
                    .Units.Where(u => u.Unit.Shape == UnitShape.Pin && u.Unit.Part.Kind is Connector)
                    .GroupBy(u => u.Unit.Part.Tag)
            )
                connector.Select(u => u.Y).Distinct().Count().ShouldBe(1, $"{name}: {connector.Key}");
            // All pieces of a net reach each other: nothing is cut off by the routing.
            foreach (var net in page.Nets.Where(n => n.Ports.Count > 1))
            {
                var pieces = page.Pieces.Where(p => p.Net == net).ToList();
                var reached = new HashSet<(double, double)> { (pieces[0].X1, pieces[0].Y1) };
                for (var grew = true; grew; )
                {
                    grew = false;
                    foreach (var p in pieces)
                        if (reached.Contains((p.X1, p.Y1)) != reached.Contains((p.X2, p.Y2)))
                            grew = reached.Add((p.X1, p.Y1)) | reached.Add((p.X2, p.Y2));
                }
                foreach (var port in net.Ports)
                {
                    var unit = page.Units.First(u => u.Unit == port.Unit);
                    var i = port.Unit.Ports.ToList().IndexOf(port.Port);
                    reached.ShouldContain(
                        (unit.Axes[i], unit.Y + (port.Port.Side == Side.Top ? -30 : 30)),
                        $"{name}: {port.Port.Terminal}"
                    );
                }
            }
        }
    }

    [Fact]
    public void Ink_carries_the_amps_that_the_solver_finds()
    {
        var count = 0;
        foreach (var (name, circuit) in Sheets())
        {
            var page = PageLayout.Of(circuit);
            var machine = new Machine(circuit);
            foreach (
                var setup in circuit
                    .Functions.Select(f => FunctionSetups.SetupFor(circuit, f))
                    .OfType<Setup>()
                    .Append(Setup.Rest)
                    .Distinct()
                    .Take(4)
            )
            {
                var op = machine.Run(setup);
                var ink = new Ink(page, op);
                foreach (var p in page.Pieces)
                {
                    // A stub that stands for the only wire at its port carries that wire's current, whatever its bar does.
                    if (
                        p.Beyond.Count != 1
                        || p.Labels.Count != 1
                        || p.Labels[0] is not { } wire
                        || p.Beyond[0].Unit.Shape == UnitShape.Bare
                    )
                        continue;
                    var end = p.Beyond[0].Port.Terminal;
                    if (end != wire.From && end != wire.To || circuit.Wires.Count(w => w.From == end || w.To == end) != 1)
                        continue;
                    var there = Math.Abs(op.WireAmps(wire.Id));
                    Math.Abs(Math.Abs(ink.Amps(p)) - there).ShouldBeLessThan(1e-9 + 1e-6 * there, $"{name}, {setup}: {wire.Id}");
                    if (there > 0.001)
                        ink.State(p).ShouldBe(InkState.Carrying);
                    count++;
                }
                // What flows into a bar flows out again.
                foreach (
                    var net in page.Nets.Where(n =>
                        n.Ports.Count > 2 && circuit.Bonds.All(b => n.Ports.All(p => p.Port.Terminal != b.A && p.Port.Terminal != b.B))
                    )
                )
                {
                    var trunk = page.Pieces.Where(p => p.Net == net && p.Beyond.Count == net.Ports.Count - 1).ToList();
                    foreach (var p in trunk)
                    {
                        var rest = net.Ports.Single(x => !p.Beyond.Contains(x));
                        if (rest.Unit.Shape == UnitShape.Bare)
                            continue;
                        var wires = circuit
                            .Wires.Where(w => net.Wires.Contains(w) && (w.From == rest.Port.Terminal || w.To == rest.Port.Terminal))
                            .ToList();
                        if (wires.Count != 1)
                            continue;
                        var there = Math.Abs(op.WireAmps(wires[0].Id));
                        Math.Abs(Math.Abs(ink.Amps(p)) - there)
                            .ShouldBeLessThan(1e-6 + 1e-3 * there, $"{name}, {setup}: all but {rest.Port.Terminal}");
                    }
                }
            }
        }
        output.WriteLine($"{count} stubs");
        count.ShouldBeGreaterThan(2000);
    }

    [Fact]
    public void A_line_added_moves_nothing_about()
    {
        foreach (var name in DemoSheets.All)
        {
            var text = DemoSheets.Text(name);
            var before = PageLayout.Of(DemoSheets.Read(text));
            var circuit = before.Circuit;
            // One more lamp across the supply, wired last.
            var first = circuit.Wires[0];
            var source = circuit.Sources.First();
            var low = source.Model.Terminals.First(t => t is "-" or "N");
            var after = PageLayout.Of(
                DemoSheets.Read(text + $"\npart H999 lamp {circuit.NominalVolts}V 5W\npath {first.To} - H999 - {source.Tag}.{low}\n")
            );
            Inversions(before, after, u => u.X).ShouldBeLessThan(0.02, name);
            Inversions(before, after, u => u.Y).ShouldBeLessThan(0.02, name);
        }
    }

    /// <summary>Share of pairs whose order along an axis has changed.</summary>
    private static double Inversions(Page before, Page after, Func<PlacedUnit, double> along)
    {
        static string Key(Unit u) => $"{u.Part.Tag} {string.Join(' ', u.Ports.Select(p => p.Terminal))}";
        var now = after.Units.GroupBy(u => Key(u.Unit)).ToDictionary(g => g.Key, g => along(g.First()));
        var pairs = before.Units.Select(u => (Was: along(u), Is: now[Key(u.Unit)])).ToList();
        var (changed, all) = (0, 0);
        for (var i = 0; i < pairs.Count; i++)
        for (var j = i + 1; j < pairs.Count; j++)
        {
            if (pairs[i].Was == pairs[j].Was)
                continue;
            all++;
            if ((pairs[i].Was - pairs[j].Was) * (pairs[i].Is - pairs[j].Is) < 0)
                changed++;
        }
        return changed / (double)Math.Max(1, all);
    }

    [Fact]
    public void Every_page_of_a_print_keeps_to_the_paper_and_names_what_is_cut()
    {
        foreach (var name in new[] { "PH-1", "GH-2" })
        foreach (var paper in new[] { PaperSize.A4, PaperSize.Letter })
        {
            var page = PageLayout.Of(DemoSheets.Read(DemoSheets.Text(name)));
            var pages = PrintedPages.Cut(page, new PageOptions(), paper);
            pages.Count.ShouldBeGreaterThan(1);
            foreach (var p in pages)
            {
                var svg = System.Xml.Linq.XDocument.Parse(p.Svg).Root!;
                var box = svg.Attribute("viewBox")!
                    .Value.Split(' ')
                    .Select(v => double.Parse(v, System.Globalization.CultureInfo.InvariantCulture))
                    .ToList();
                (box[2], box[3]).ShouldBe((Math.Round(paper.Width, 1), Math.Round(paper.Height, 1)));
                svg.Descendants().Count(e => (string?)e.Attribute("class") == "ref").ShouldBeGreaterThan(0, $"{name}, page {p.Number}");
            }
        }
    }

    [Fact]
    public void Figures()
    {
        output.WriteLine("| sheet | units | width × height, px | crossings | bends a wire | ms |");
        foreach (var (name, circuit) in Sheets().Where(s => !s.Name.Contains("seed", StringComparison.Ordinal)))
        {
            PageLayout.Of(circuit);
            var clock = Stopwatch.StartNew();
            var page = PageLayout.Of(circuit);
            var ms = clock.Elapsed.TotalMilliseconds;
            output.WriteLine(
                $"| {name} | {page.Units.Count} | {page.Width:0} × {page.Height:0} | {page.Pieces.Sum(p => p.Hops.Count)} | "
                    + $"{Bends(page):0.0} | {ms:0} |"
            );
        }
        var random = Sheets().Where(s => s.Name.Contains("seed", StringComparison.Ordinal)).Select(s => PageLayout.Of(s.Circuit)).ToList();
        output.WriteLine(
            $"| 100 random | {random.Average(p => p.Units.Count):0} | {random.Average(p => p.Width):0} × "
                + $"{random.Average(p => p.Height):0} | {random.Average(p => p.Pieces.Sum(x => x.Hops.Count)):0.0} | "
                + $"{random.Average(Bends):0.0} | |"
        );
        // A drawing in which every wire crosses another is none; measured 0.0 to 0.9 crossings a wire when written.
        foreach (var (name, circuit) in Sheets())
            PageLayout.Of(circuit).Pieces.Sum(p => p.Hops.Count).ShouldBeLessThan(2 * circuit.Wires.Count + 4, name);
    }

    /// <summary>Corners of all nets over the number of wires.</summary>
    private static double Bends(Page page) =>
        page.Nets.Sum(n =>
            page.Pieces.Where(p => p.Net == n)
                .SelectMany(p => new[] { (p.X1, p.Y1, p.Horizontal), (p.X2, p.Y2, p.Horizontal) })
                .GroupBy(e => (e.Item1, e.Item2))
                .Count(g => g.Select(e => e.Horizontal).Distinct().Count() > 1)
        ) / (double)Math.Max(1, page.Circuit.Wires.Count);
}
