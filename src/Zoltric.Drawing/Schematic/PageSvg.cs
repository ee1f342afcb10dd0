using System.Globalization;
using System.Net;
using System.Runtime.CompilerServices;
using System.Text;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Drawing.Symbols;

namespace Zoltric.Drawing.Schematic;

/// <summary>What a drawing shows besides the sheet.</summary>
public sealed record PageOptions
{
    public SymbolSet Symbols { get; init; }
    public Ink? Ink { get; init; }

    /// <summary>Tips of the meter.</summary>
    public Terminal? Red { get; init; }
    public Terminal? Black { get; init; }

    /// <summary>Tags and wires that carry an injected fault.</summary>
    public IReadOnlySet<string> Faulted { get; init; } = new HashSet<string>();

    /// <summary>Points to put a probe on and controls to press are offered.</summary>
    public bool Operable { get; init; }

    public string Id { get; init; } = "drawing";
}

/// <summary>Writes a page as SVG, with names for screen readers on every part and every point that can be probed.</summary>
public sealed class PageSvg(Page page, PageOptions options)
{
    private readonly Dictionary<string, int> _part = page.Circuit.Parts.Select((p, i) => (p.Tag, i)).ToDictionary(x => x.Tag, x => x.i);
    private readonly StringBuilder _s = new();

    public static string Write(Page page, PageOptions options)
    {
        ArgumentNullException.ThrowIfNull(page);
        ArgumentNullException.ThrowIfNull(options);
        return new PageSvg(page, options).Whole();
    }

    private string Whole()
    {
        Open(0, 0, page.Width, page.Height);
        Body();
        _s.Append("</svg>");
        return _s.ToString();
    }

    internal void Open(double x, double y, double width, double height)
    {
        // A drawing to be operated is a group of controls; one to look at is a picture with its list of parts as its name.
        var role = options.Operable ? "group" : "img";
        A(
            $"<svg class=\"zd\" id=\"{options.Id}\" role=\"{role}\" "
                + $"aria-label=\"{E($"{page.Circuit.Title}: drawing of {page.Circuit.Parts.Count} parts")}\" viewBox=\"{x:0.#} "
                + $"{y:0.#} {width:0.#} {height:0.#}\" width=\"{width:0.#}\" height=\"{height:0.#}\" "
                + $"xmlns=\"http://www.w3.org/2000/svg\"><style>{PageStyle.Css}</style>"
        );
    }

    internal void Body()
    {
        foreach (var (part, from, to, y) in page.Bulkheads)
            A(
                $"<rect class=\"bulkhead\" x=\"{from:0.#}\" y=\"{y - PageLayout.Band / 2:0.#}\" width=\"{to - from:0.#}\" "
                    + $"height=\"{PageLayout.Band}\" rx=\"4\"><title>{E(part.Spoken)}</title></rect>"
            );
        foreach (var p in page.Pieces.OrderBy(p => p.Horizontal ? 1 : 0))
            Wire(p);
        foreach (var d in page.Dots)
            A($"<circle class=\"dot\" cx=\"{d.X:0.#}\" cy=\"{d.Y:0.#}\" r=\"4\"/>");
        foreach (var b in page.Bundles)
            A(
                $"<rect class=\"bundle\" x=\"{b.Left:0.#}\" y=\"{b.Top:0.#}\" width=\"{b.Right - b.Left:0.#}\" "
                    + $"height=\"{b.Bottom - b.Top:0.#}\" rx=\"7\"><title>{E(b.Words)}</title></rect>"
            );
        foreach (var u in page.Units)
            Draw(u);
        foreach (var t in page.Texts)
            Say(t);
        if (options.Operable)
            Tips();
        Probe(options.Black, "probe-black", "−");
        Probe(options.Red, "probe-red", "+");
    }

    internal string Text => _s.ToString();

    internal void Raw(string svg) => _s.Append(svg);

    private void Wire(Piece p)
    {
        var (state, amps) = options.Ink is { } ink ? (ink.State(p), Math.Abs(ink.Amps(p))) : (InkState.Unknown, 0);
        var path = Path(p);
        var name =
            p.Labels.Count > 0 ? string.Join(", ", p.Labels.Select(Name))
            : p.Net.Point is { } point ? point.Spoken
            : "shared wires";
        var title = options.Ink is { } shown
            ? $"{name}: {MeterReading.Format(shown.Volts(p.Net), Dimension.Volt)}, "
                + $"{(state == InkState.Carrying ? MeterReading.Format(amps, Dimension.Ampere) : Words(state))}"
            : name;
        // 10 mA is drawn thin, 100 A thick.
        var width =
            state == InkState.Carrying
                ? string.Create(
                    CultureInfo.InvariantCulture,
                    $" style=\"stroke-width:{Math.Clamp(4.4 + 1.1 * Math.Log10(amps + 1e-3), 3.4, 7.5):0.#}\""
                )
                : "";
        A(
            $"<g "
                + $"data-net=\"{p.Net.Index}\"{(p.Labels.Count == 1 ? $" data-wire=\"{E(p.Labels[0].Id)}\"" : "")}><title>"
                + $"{E(title)}</title><path "
                + $"class=\"wire {state.ToString().ToLowerInvariant()}\" d=\"{path}\"{width}/>"
        );
        if (state == InkState.Live)
            A($"<path class=\"inner\" d=\"{path}\"/>");
        if (p.Labels.Count == 1 && WireColours.Find(p.Labels[0].Colour) is { } colour && state != InkState.Floating)
        {
            if (state == InkState.Carrying)
                A($"<path class=\"core casing\" d=\"{path}\"/>");
            A($"<path class=\"core\" d=\"{path}\" stroke=\"{colour.Ground}\"/>");
            if (colour.Tracer is { } tracer)
                A($"<path class=\"core tracer\" d=\"{path}\" stroke=\"{tracer}\"/>");
        }
        A($"</g>");
    }

    private static string Path(Piece p)
    {
        if (p.Hops.Count == 0)
            return string.Create(
                CultureInfo.InvariantCulture,
                $"M{p.X1:0.#} {p.Y1:0.#}{(p.Horizontal ? 'H' : 'V')}{(p.Horizontal ? p.X2 : p.Y2):0.#}"
            );
        var path = new StringBuilder(string.Create(CultureInfo.InvariantCulture, $"M{p.X1:0.#} {p.Y1:0.#}"));
        var forward = p.X2 > p.X1;
        const double r = 4;
        foreach (var x in forward ? p.Hops.Order() : p.Hops.OrderDescending())
            path.Append(
                CultureInfo.InvariantCulture,
                $"H{(forward ? x - r : x + r):0.#}a{r} {r} 0 0 {(forward ? 1 : 0)} {(forward ? 2 * r : -2 * r):0.#} 0"
            );
        return path.Append(CultureInfo.InvariantCulture, $"H{p.X2:0.#}").ToString();
    }

    internal static string Name(Wire w) =>
        string.Join(
            ' ',
            new[] { w.Numbered ? w.Id : w.Id.Replace('~', '–'), w.Colour, PageLayout.SizeOf(w) }.Where(x => x is { Length: > 0 })
        );

    /// <summary>A state in a technician's words.</summary>
    public static string Words(InkState state) =>
        state switch
        {
            InkState.Carrying => "carrying",
            InkState.Live => "live, no current",
            InkState.Return => "at the return",
            InkState.Floating => "joined to nothing",
            _ => "not computed",
        };

    private void Draw(PlacedUnit placed)
    {
        var (unit, part) = (placed.Unit, placed.Unit.Part);
        if (unit.Shape == UnitShape.Bare)
        {
            A(
                $"<path class=\"wire{(options.Ink is null ? "" : " carrying")}\" d=\"M{placed.X:0.#} "
                    + $"{placed.Y - 30:0.#}V{placed.Y + 30:0.#}\"><title>"
                    + $"{E(unit.Wire is { } w ? Name(w) : "bolted together")}</title></path>"
            );
            return;
        }
        var index = _part[part.Tag];
        var state = StateOf(unit, index);
        var control = options.Operable ? ControlOf(unit) : null;
        var fault = options.Faulted.Contains(part.Tag);
        var right = unit.Shape == UnitShape.Box ? PageLayout.BoxOf(unit, placed.X, placed.Axes.Max()).Right : placed.Axes.Max() + 116;
        A(
            $"<g "
                + $"class=\"unit{(state is "works" ? " on" : state is "weak" ? " half" : "")}{(fault ? " fault" : "")}"
                + $"{(control is null ? "" : " operate")}\" "
                + $"data-tag=\"{E(part.Tag)}\""
                + $"{(control is null ? $" role=\"img\"" : $" role=\"button\" tabindex=\"0\" data-control=\"{E(control)}\"")} "
                + $"aria-label=\"{E(Spoken(unit, state, control))}\">"
        );
        A($"<title>{E(Spoken(unit, state, control))}</title>");
        A(
            $"<rect class=\"hit\" x=\"{placed.X - 14:0.#}\" y=\"{placed.Y - 29:0.#}\" width=\"{right - placed.X + 14:0.#}\" "
                + $"height=\"58\" rx=\"5\"/>"
        );
        if (unit.Shape == UnitShape.Box)
            Box(placed);
        else if (unit.Shape == UnitShape.Changeover)
            Changeover(placed, index);
        else
            Single(placed, index);
        if (fault)
            A($"<text class=\"fault-mark\" x=\"{placed.X - 12:0.#}\" y=\"{placed.Y - 16:0.#}\" font-size=\"15\">◆</text>");
        A($"</g>");
    }

    private string? ControlOf(Unit unit) =>
        page
            .Circuit.Parts[_part[unit.Part.Tag]]
            .Contacts.SelectMany(c => c.When?.Leaves() ?? [])
            .OfType<Condition.Position>()
            .Select(p => p.Control)
            .FirstOrDefault(c => page.Circuit.FindControl(c) is not null);

    private string StateOf(Unit unit, int index)
    {
        if (options.Ink is not { } ink)
            return "";
        if (unit.IsCoilContact || unit.Shape == UnitShape.Pin)
            return "";
        if (ink.Machine.Chatters(index))
            return "weak";
        var model = unit.Part.Model;
        return model.Load is not null || model.Coil is not null && (unit.IsCoil || unit.Shape == UnitShape.Box)
            ? LoadState.Judge(ink.Machine, index).Text()
            : "";
    }

    private string Spoken(Unit unit, string state, string? control)
    {
        var words = new StringBuilder(unit.Part.Spoken);
        if (unit.IsCoil)
            words.Append(", coil");
        if (unit.IsCoilContact)
            words.Append(CultureInfo.InvariantCulture, $", contact {string.Join("–", unit.Ports.Select(p => p.Terminal.Name))}");
        if (unit.Part.Place is { } place)
            words.Append(", ").Append(place);
        if (options.Ink is { } ink)
        {
            var index = _part[unit.Part.Tag];
            if (unit.Links.Count == 1 && unit.Part.Model.Links[unit.Links[0]] is Link.Contact or Link.Fuse)
                words.Append(ink.Closed(index, unit.Links[0]) ? ", closed" : ", open");
            if (state.Length > 0)
                words
                    .Append(", ")
                    .Append(
                        unit.IsCoil
                            ? (
                                state == "works" ? "pulled in"
                                : ink.Machine.Chatters(index) ? "chatters"
                                : "at rest"
                            )
                        : state == "works" ? "works"
                        : state == "weak" ? "weak"
                        : "does not run"
                    );
        }
        if (control is not null)
            words.Append(CultureInfo.InvariantCulture, $". {control} is {options.Ink?.Machine.Position(control)}: press to change");
        return words.ToString();
    }

    private void Single(PlacedUnit placed, int index)
    {
        var unit = placed.Unit;
        const double half = PageLayout.HalfGlyph,
            band = PageLayout.Band / 2;
        A(
            $"<path class=\"lead\" d=\"M{placed.X:0.#} {placed.Y - band:0.#}V{placed.Y - half:0.#}M{placed.X:0.#} "
                + $"{placed.Y + half:0.#}V{placed.Y + band:0.#}\"/>"
        );
        var closed = unit.Links.Count > 0 && Closed(unit, index, unit.Links[0]);
        var kind = unit.IsCoilContact ? "switch" : unit.Part.Kind.Word;
        var shape = SymbolOf(kind, closed);
        // The blade hangs where the current leaves; a part met the other way round is drawn so.
        var turned = unit.Links.Count > 0 && unit.Part.Model.Links[unit.Links[0]].A != unit.Ports[0].Terminal.Name;
        var upright = turned ? "<text transform=\"scale(1 -1) rotate(90)\" " : "<text transform=\"rotate(-90)\" ";
        A(
            $"<g class=\"shape\" transform=\"translate({placed.X:0.#} {placed.Y:0.#}) "
                + $"rotate({(turned ? -90 : 90)}){(turned ? " scale(1 -1)" : "")}\">"
                + $"{shape.Replace("<text ", upright, StringComparison.Ordinal)}</g>"
        );
    }

    private string SymbolOf(string kind, bool closed) => Symbol.All[kind].In(options.Symbols, closed);

    /// <summary>With no state given, contacts stand as they do at rest.</summary>
    private bool Closed(Unit unit, int index, int link) =>
        options.Ink?.Closed(index, link)
        ?? unit.Part.Model.Links[link] switch
        {
            Link.Contact { Rule: ClosedRule.ByCoil coil } => !coil.PulledIn,
            Link.Contact { Rule: ClosedRule.ByControls rule } => AtRest(rule),
            _ => true,
        };

    private bool AtRest(ClosedRule.ByControls rule)
    {
        bool Holds(Condition? c) => c is null || c.Holds(n => page.Circuit.FindControl(n) is { } k ? k.Positions[k.Rest] : "", _ => false);
        return rule.Closed.Any(Holds) && !rule.Open.Any(o => Holds(o));
    }

    private void Changeover(PlacedUnit placed, int index)
    {
        var (unit, x, y) = (placed.Unit, placed.X, placed.Y);
        const double band = PageLayout.Band / 2;
        var common = unit.Ports[0].Terminal.Name;
        A($"<g class=\"shape\"><path d=\"M{x:0.#} {y - band:0.#}V{y - 9:0.#}\"/>");
        var (tipX, tipY) = (x - 8, y + 5);
        for (var i = 1; i < unit.Ports.Count; i++)
        {
            var (at, axis) = (x + (i - 1) * 14, placed.Axes[i]);
            A(
                $"<path d=\"M{at:0.#} "
                    + $"{y + 9:0.#}"
                    + $"{(axis == at ? "" : string.Create(CultureInfo.InvariantCulture, $"V{y + 16:0.#}H{axis:0.#}"))}V"
                    + $"{y + band:0.#}\"/><circle "
                    + $"cx=\"{at:0.#}\" cy=\"{y + 9:0.#}\" r=\"2.2\" class=\"body\"/>"
            );
            var name = unit.Ports[i].Terminal.Name;
            var link = unit.Links.FirstOrDefault(
                l => unit.Part.Model.Links[l] is var k && (k.A == common && k.B == name || k.B == common && k.A == name),
                -1
            );
            if (link >= 0 && Closed(unit, index, link))
                (tipX, tipY) = (at, y + 8);
        }
        A($"<path class=\"blade\" d=\"M{x:0.#} {y - 9:0.#}L{tipX:0.#} {tipY:0.#}\"/>");

        A($"</g>");
    }

    private void Box(PlacedUnit placed)
    {
        var unit = placed.Unit;
        var (left, right) = PageLayout.BoxOf(unit, placed.Axes.Min(), placed.Axes.Max());
        A(
            $"<rect class=\"box\" x=\"{left:0.#}\" y=\"{placed.Y - 30:0.#}\" width=\"{right - left:0.#}\" height=\"60\" "
                + $"rx=\"{(unit.Part.Kind is Core.Circuits.Kinds.Module ? 2 : 14)}\"/>"
        );
    }

    /// <summary>Every point that a tip can touch, and where.</summary>
    private IEnumerable<(Terminal Terminal, double X, double Y)> Touchable() =>
        page
            .Units.Where(u => u.Unit.Shape != UnitShape.Bare)
            .SelectMany(u =>
                u.Unit.Ports.Select(
                    (p, i) => (p.Terminal, u.Axes[i], u.Y + (p.Side == Side.Top ? -PageLayout.Band / 2 : PageLayout.Band / 2))
                )
            )
            .Concat(page.Points);

    private void Tips()
    {
        foreach (var (terminal, x, y) in Touchable())
            A(
                $"<circle class=\"tip\" cx=\"{x:0.#}\" cy=\"{y:0.#}\" r=\"12\" "
                    + $"data-terminal=\"{E(terminal.ToString())}\"><title>{E($"{terminal}: put the probe here")}</title></circle>"
            );
    }

    private void Probe(Terminal? tip, string mark, string word)
    {
        if (tip is not { } t || Touchable().FirstOrDefault(p => p.Terminal == t) is not { Terminal.Tag: not null } at)
            return;
        A(
            $"<circle class=\"{mark}\" cx=\"{at.X:0.#}\" cy=\"{at.Y:0.#}\" r=\"9\"/><text class=\"probe-word\" "
                + $"x=\"{at.X:0.#}\" y=\"{at.Y + 4.5:0.#}\" font-size=\"14\">{word}</text>"
        );
    }

    private void Say(Text t) =>
        A(
            $"<text class=\"use-{t.Use.ToString().ToLowerInvariant()}\" x=\"{t.X:0.#}\" y=\"{t.Y:0.#}\" "
                + $"font-size=\"{t.Size:0.#}\"{(t.Middle ? " text-anchor=\"middle\"" : "")}"
                + $"{(t.Wire is { } w ? $" data-wire=\"{E(w.Id)}\"" : "")} "
                + $"aria-hidden=\"true\">{E(t.Words)}</text>"
        );

    /// <summary>Numbers are written in the one culture there is (InvariantGlobalization).</summary>
    private void A(ref DefaultInterpolatedStringHandler text) => _s.Append(text.ToStringAndClear());

    private static string E(string text) => WebUtility.HtmlEncode(text);
}
