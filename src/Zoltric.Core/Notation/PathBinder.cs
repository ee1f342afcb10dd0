using System.Globalization;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Notation;

/// <summary>Binds paths: the stations of each, its wires and what is bolted together.</summary>
internal sealed partial class PathBinder(SheetDraft sheet)
{
    private readonly HashSet<string> _odd = new(StringComparer.OrdinalIgnoreCase);

    public PathRoute AddPath(SheetLine line, Statement.Path s, List<Bond> bonds)
    {
        var hops = new List<PathHop>();
        var first = Hop(s.First, line.Number, true, false);
        hops.Add(new PathHop(null, first.Enter, first.Leave));
        for (var i = 0; i < s.Rest.Count; i++)
        {
            var (join, metal, wireText, hopSyntax) = s.Rest[i];
            var from = hops[^1].Leave;
            var (enter, leave) = Hop(hopSyntax, line.Number, false, i == s.Rest.Count - 1);
            if (from == enter)
                throw Names.Fail(line.Number, hopSyntax.Name, $"This joins {from} to itself.", "another point", null);
            if (metal)
            {
                bonds.Add(new Bond(from, enter));
                hops.Add(new PathHop(new PathJoin(null), enter, leave));
                continue;
            }
            var wire = BindWire(line.Number, join, wireText ?? "", from, enter);
            sheet.Wires[wire.Id] = wire;
            hops.Add(new PathHop(new PathJoin(wire.Id), enter, leave));
        }
        return new PathRoute(hops);
    }

    private (Terminal Enter, Terminal Leave) Hop(HopSyntax hop, int line, bool first, bool last)
    {
        var (tag, name, pin) = Names.Split(hop.Name.Text);
        var part = sheet.Names.Part(hop.Name with { Text = tag }, line);
        if (part.Kind is PinRow)
        {
            if (name.Length > 0 && name[^1] is 'a' or 'b')
            {
                var half = sheet.Names.Terminal(hop.Name, line);
                return (half, half);
            }
            var a = sheet.Names.Terminal(hop.Name, line);
            var b = a with { Name = a.Name[..^1] + "b" };
            var (near, far) = hop.Backwards ? (b, a) : (a, b);
            return first ? (far, far)
                : last ? (near, near)
                : (near, far);
        }
        if (pin)
            throw Names.Fail(
                line,
                hop.Name,
                $"{tag} is a {part.Kind.Word}: its terminals are written with a dot.",
                "a terminal",
                $"write {tag}.{name}"
            );
        if (hop.Backwards)
            throw Names.Fail(line, hop.Name, "“<” turns a connector pin round; other parts name their terminals.", "TAG.a>b", null);
        if (hop.Leaves is { } way)
        {
            var enter = sheet.Names.Terminal(hop.Name, line);
            return (enter, sheet.Names.Terminal(way with { Text = $"{tag}.{way.Text}" }, line));
        }
        if (name.Length > 0 || part.Model.IsPoint)
        {
            var t = sheet.Names.Terminal(hop.Name, line);
            return (t, t);
        }
        if (part.Model.Through is not { } through)
            throw Names.Fail(
                line,
                hop.Name,
                $"{tag} has more than two terminals: say where the path enters and leaves.",
                string.Join(", ", part.Model.Terminals.Select(t => $"{tag}.{t}")),
                $"write {tag}.{part.Model.Terminals[0]}>{part.Model.Terminals[^1]}"
            );
        var (one, two) = (new Terminal(tag, through.First), new Terminal(tag, through.Second));
        return first ? (two, two)
            : last ? (one, one)
            : (one, two);
    }

    /// <summary>IEC 60757 letter codes.</summary>
    private static readonly HashSet<string> Colours =
    [
        "BK",
        "BN",
        "RD",
        "OG",
        "YE",
        "GN",
        "BU",
        "VT",
        "GY",
        "WH",
        "PK",
        "GD",
        "TQ",
        "SR",
        "GNYE",
    ];

    private Wire BindWire(int line, Placed join, string text, Terminal from, Terminal to)
    {
        string? id = null,
            colour = null;
        Quantity? size = null;
        double? length = null,
            celsius = null;
        var column = join.Column + 2;
        foreach (var word in text.Split(' '))
        {
            var at = new Placed(word, column);
            column += word.Length + 1;
            if (word.Length == 0)
                continue;
            if (WireNumber().IsMatch(word))
                id = word;
            else if (ManyZeros().Match(word) is { Success: true } zeros)
                size = new Quantity(1 - int.Parse(zeros.Groups[1].Value, CultureInfo.InvariantCulture), Dimension.WireGauge);
            else if (word.All(char.IsAsciiDigit))
                throw Names.Fail(
                    line,
                    at,
                    $"{NotationTokenizer.Clip(word)} is neither a size nor a length.",
                    "a wire's number, size or length with its unit",
                    $"a wire's number begins with w: w{word}"
                );
            else if (QuantityText.LooksNumeric(word))
            {
                var q = SheetValues.Quantity(at, line, Dimension.SquareMillimetre, Dimension.WireGauge, Dimension.Metre, Dimension.Celsius);
                if (q.Dimension == Dimension.Celsius)
                {
                    // Beyond these a copper wire has no insulation left, or the law no meaning.
                    if (q.Value is < -90 or > 400)
                        throw Names.Fail(line, at, "A wire is between -90 and 400 °C.", "a temperature such as 90C", null);
                    celsius = q.Value;
                    continue;
                }
                if (q.Dimension != Dimension.WireGauge && q.Value <= 0)
                    throw Names.Fail(line, at, "A wire has a size and length above zero.", "a value above zero", null);
                if (q.Dimension == Dimension.Metre)
                    length = q.Value;
                else
                    size = q;
            }
            else
            {
                colour = word;
                // Said once: a sheet that has its own letter for a colour has it on every other wire.
                if (!word.Split('/').All(Colours.Contains) && _odd.Add(word))
                    sheet.Warn(
                        line,
                        at,
                        $"{NotationTokenizer.Clip(word)} is no colour code of IEC 60757.",
                        Spelling.DidYouMean(word, Colours) ?? "RD, BK, WH/RD …"
                    );
            }
        }
        if (id is not null && sheet.Wires.ContainsKey(id))
            throw Names.Fail(line, join, $"There are two wires {id}.", "a number of its own", null);
        var name = id ?? $"{from}~{to}";
        for (var i = 2; id is null && (sheet.Wires.ContainsKey(name) || sheet.Wires.ContainsKey($"{to}~{from}") && i == 2); i++)
            name = $"{from}~{to}#{i}";
        return new Wire(name, id is not null, from, to, colour, size, length, celsius);
    }

    [GeneratedRegex("^w[A-Za-z0-9_.]+$")]
    private static partial Regex WireNumber();

    [GeneratedRegex("^([1-4])/0(?:awg|AWG)$")]
    private static partial Regex ManyZeros();
}
