using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Looks names up in a circuit, or in the parts read so far, and says what was meant when they are not there.</summary>
internal sealed class Names(
    IReadOnlyDictionary<string, Part> parts,
    IReadOnlyDictionary<string, Wire> wires,
    IReadOnlyList<Control> controls,
    Circuit? circuit = null
)
{
    /// <summary>Pins whose halves lie the other way round; none while the sheet is still being read.</summary>
    private readonly Lazy<IReadOnlySet<(string Tag, string Pin)>> _turned = new(() =>
        circuit is null ? new HashSet<(string, string)>() : PlugSides.TurnedPins(circuit)
    );

    public static Names Of(Circuit c) =>
        new(
            c.Parts.ToDictionary(p => p.Tag, StringComparer.Ordinal),
            c.Wires.DistinctBy(w => w.Id).ToDictionary(w => w.Id, StringComparer.Ordinal),
            c.Controls,
            c
        );

    public IReadOnlyDictionary<string, Part> Parts => parts;

    /// <summary>Tags of parts and numbers of wires whose own line could not be read.</summary>
    public HashSet<string> Misread { get; } = new(StringComparer.Ordinal);

    /// <summary>The same problem, marked where it follows from a line that was misread.</summary>
    private NotationException Unknown(string tag, NotationException e) =>
        Misread.Contains(tag) ? new NotationException(e.Problem) { Follows = true } : e;

    public static NotationException Fail(int line, Placed at, string message, string expected, string? suggestion) =>
        new(new Problem(Severity.Error, line, at.Column, message, NotationTokenizer.Clip(at.Text), expected, suggestion));

    public Part Part(Placed tag, int line) =>
        parts.TryGetValue(tag.Text, out var part)
            ? part
            : throw Unknown(
                tag.Text,
                Fail(
                    line,
                    tag,
                    $"There is no part {NotationTokenizer.Clip(tag.Text)} on this sheet.",
                    "the tag of a part",
                    Spelling.DidYouMean(tag.Text, parts.Keys)
                )
            );

    public Control Control(Placed name, int line) =>
        controls.FirstOrDefault(c => c.Name.Equals(name.Text, StringComparison.OrdinalIgnoreCase))
        ?? throw Fail(
            line,
            name,
            $"There is no control {NotationTokenizer.Clip(name.Text)} on this sheet.",
            "a control or given of the sheet",
            Spelling.DidYouMean(name.Text, controls.Select(c => c.Name))
        );

    public static string Position(Control control, Placed position, int line)
    {
        var i = control.IndexOf(position.Text);
        if (i >= 0)
            return control.Positions[i];
        var all = string.Join(", ", control.Positions);
        throw Fail(
            line,
            position,
            $"{control.Name} has no position {NotationTokenizer.Clip(position.Text)}; it has {all}.",
            $"one of {all}",
            Spelling.DidYouMean(position.Text, control.Positions)
        );
    }

    /// <summary>A terminal <c>K1.86</c>, a pin half <c>X3:4a</c> (half a when none is named), a stud <c>GND1</c>.</summary>
    public Terminal Terminal(Placed at, int line)
    {
        if (at.Text.IndexOf('@', StringComparison.Ordinal) is >= 0 and var sign)
            return OnSide(Terminal(at with { Text = at.Text[..sign] }, line), at with { Text = at.Text[(sign + 1)..] }, at, line);
        var (tag, name, pin) = Split(at.Text);
        var part = Part(at with { Text = tag }, line);
        if (part.Kind is Circuits.Kinds.PinRow)
        {
            var half = name.Length > 0 && name[^1] is 'a' or 'b' ? name : name + "a";
            if (name.Length > 0 && part.Model.Terminals.Contains(half))
                return new Terminal(tag, half, true);
            throw Fail(line, at, $"{tag} has pins 1 to {part.Pins}.", "a pin", $"write {tag}:1a or {tag}:1b");
        }
        if (part.Model.IsPoint && name.Length == 0)
            return new Terminal(tag, "");
        if (!pin && part.Model.Terminals.Contains(name))
            return new Terminal(tag, name);
        // 1L1, 2T1 …: main poles with the letters of IEC 60947 beside their digit.
        if (!pin && name.Length == 3 && name[1] is 'L' or 'T' && part.Model.Terminals.Contains(name[..1]))
            return new Terminal(tag, name[..1]);
        var all = string.Join(", ", part.Model.IsPoint ? [tag] : part.Model.Terminals.Select(t => $"{tag}.{t}"));
        var known = Spelling.Nearest(name, part.Model.Terminals);
        throw Fail(
            line,
            at,
            name.Length == 0 ? $"{tag} has more than one terminal." : $"{tag} has no terminal {NotationTokenizer.Clip(name)}.",
            $"one of {all}",
            Circuits.Kinds.Relay.LacksDin(part, name) ? $"for A1, A2, 11, 12, 14 … write “din” on the line of {tag}"
                : known is null ? $"it has {all}"
                : $"did you mean {tag}.{known}?"
        );
    }

    /// <summary>
    /// The side of a terminal by <c>@loom</c>, <c>@part</c> or <c>@lead</c>, or the half of a pin by the name that its plug's <c>sides</c>
    /// gives it.
    /// </summary>
    private Terminal OnSide(Terminal t, Placed side, Placed at, int line)
    {
        var part = parts[t.Tag];
        if (part.Sides is var (first, second) && (side.Text == first || side.Text == second))
        {
            var number = t.Name.TrimEnd('a', 'b');
            return t with { Name = PlugSides.HalfOn(side.Text == first, number, _turned.Value.Contains((t.Tag, number))) };
        }
        return side.Text switch
        {
            "loom" => t with { Side = TerminalSide.Loom },
            "part" => t with { Side = TerminalSide.Part },
            "lead" => t with { Side = TerminalSide.Lead },
            _ => throw Fail(
                line,
                at,
                $"{NotationTokenizer.Clip(side.Text)} is no side of {t}.",
                part.Sides is var (x, y) ? $"{x}, {y}, loom or part" : "loom, part or lead",
                part.Kind is Circuits.Kinds.PinRow && part.Sides is null ? $"name its sides on the sheet:  sides cab|chassis" : null
            ),
        };
    }

    /// <summary>Two points from a two-terminal tag, <c>TAG.a>b</c>, a pin or a wire.</summary>
    public Across Across(Placed x, Placed? leaves, int line)
    {
        if (leaves is { } way)
        {
            var from = Terminal(x, line);
            var to = Terminal(way with { Text = $"{from.Tag}.{way.Text}" }, line);
            return new Across($"{x.Text}>{way.Text}", new ProbePoint(from), new ProbePoint(to));
        }
        if (FindWire(x.Text) is { } wire)
            return new Across(wire.Id, new ProbePoint(wire.From, wire.Id, true), new ProbePoint(wire.To, wire.Id));
        var (tag, name, pin) = Split(x.Text);
        if (!parts.TryGetValue(tag, out var part))
            throw Unknown(
                tag,
                Fail(
                    line,
                    x,
                    $"There is no part or wire {NotationTokenizer.Clip(x.Text)} on this sheet.",
                    "a two-terminal tag, a pin or a wire",
                    Spelling.DidYouMean(x.Text, parts.Keys.Concat(wires.Keys))
                )
            );
        if (part.Kind is Circuits.Kinds.PinRow && pin)
        {
            var number = name.TrimEnd('a', 'b');
            var a = Terminal(x with { Text = $"{tag}:{number}a" }, line);
            var b = a with { Name = number + "b" };
            // Red where the path comes in, so that a drop along it is positive.
            return circuit?.EntersAtHalfB(tag, number) == true
                ? new Across($"{tag}:{number}", new ProbePoint(b), new ProbePoint(a))
                : new Across($"{tag}:{number}", new ProbePoint(a), new ProbePoint(b));
        }
        if (name.Length == 0 && part.Model.Through is { } through)
            return new Across(tag, new ProbePoint(new Terminal(tag, through.First)), new ProbePoint(new Terminal(tag, through.Second)));
        throw Fail(
            line,
            x,
            $"{tag} needs two terminals named.",
            "a two-terminal tag, a pin, a wire or two points",
            part.Model.Terminals.Count > 1 && !part.Model.IsPoint
                ? $"write {tag}.{part.Model.Terminals[0]} {tag}.{part.Model.Terminals[1]}"
                : null
        );
    }

    /// <summary>A wire by number, or by its ends in either order.</summary>
    public Wire? FindWire(string id)
    {
        if (wires.TryGetValue(id, out var wire))
            return wire;
        var ends = id.Split('~');
        return ends.Length == 2 && wires.TryGetValue($"{ends[1]}~{ends[0]}", out wire) ? wire : null;
    }

    public Wire Wire(Placed id, int line) =>
        FindWire(id.Text)
        ?? throw Unknown(
            id.Text,
            Fail(
                line,
                id,
                $"There is no wire {NotationTokenizer.Clip(id.Text)} on this sheet.",
                "a wire",
                Spelling.DidYouMean(id.Text, wires.Keys)
            )
        );

    public static (string Tag, string Name, bool Pin) Split(string text)
    {
        var at = text.IndexOfAny(['.', ':']);
        return at < 0 ? (text, "", false) : (text[..at], text[(at + 1)..], text[at] == ':');
    }

    /// <param name="own">The module whose line it stands in: <c>powered</c> and <c>in7</c> are its own.</param>
    public Condition Bind(ConditionSyntax c, int line, Part? own = null) =>
        c switch
        {
            ConditionSyntax.Position p => BindPosition(p, line),
            ConditionSyntax.Active a => BindActive(a, line, own),
            ConditionSyntax.Not n => new Condition.Not(Bind(n.Inner, line, own)),
            ConditionSyntax.And n => new Condition.And(Bind(n.Left, line, own), Bind(n.Right, line, own)),
            ConditionSyntax.Or n => new Condition.Or(Bind(n.Left, line, own), Bind(n.Right, line, own)),
            _ => throw new InvalidOperationException("unknown condition"),
        };

    private Condition.Position BindPosition(ConditionSyntax.Position p, int line)
    {
        var control = Control(p.Control, line);
        return new Condition.Position(control.Name, Position(control, p.At, line));
    }

    private Condition.Active BindActive(ConditionSyntax.Active a, int line, Part? own)
    {
        if (own is not null && a.Tag.Text == "powered")
            return new Condition.Active(own.Tag);
        var text =
            own is not null && a.Tag.Text.StartsWith("in", StringComparison.Ordinal) && !parts.ContainsKey(a.Tag.Text)
                ? $"{own.Tag}.{a.Tag.Text}"
                : a.Tag.Text;
        if (text.IndexOf(".in", StringComparison.Ordinal) is var dot and > 0)
        {
            var module = Part(a.Tag with { Text = text[..dot] }, line);
            var pins = module.ModuleLines.OfType<ModuleLine.Input>().Select(i => i.Pin).ToList();
            return pins.Contains(text[(dot + 3)..])
                ? new Condition.Active(text)
                : throw Fail(
                    line,
                    a.Tag,
                    $"{module.Tag} has no input {text[(dot + 3)..]}.",
                    pins.Count == 0 ? "an input line below it" : "one of " + string.Join(", ", pins.Select(p => "in" + p)),
                    null
                );
        }
        var part = Part(a.Tag, line);
        return part.Model.Coil is not null
            ? new Condition.Active(part.Tag)
            : throw Fail(
                line,
                a.Tag,
                $"{part.Tag} is a {part.Kind.Word}: it has no coil that could be pulled in.",
                "a relay, contactor or module",
                null
            );
    }
}
