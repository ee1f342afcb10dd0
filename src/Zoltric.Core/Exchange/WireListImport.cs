using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Exchange;

/// <summary>
/// Which column of a table says what; -1 where none does. Ends may stand in one column (<c>K1:86</c>) or in two (<c>K1</c>, <c>86</c>).
/// </summary>
public sealed record WireColumns(int Wire, int From, int FromTerminal, int To, int ToTerminal, int Colour, int Size, int Length)
{
    private static readonly (string Field, string[] Words)[] Names =
    [
        ("fromterminal", ["from pin", "from terminal", "pin from", "terminal from", "pin 1", "start pin", "from cavity"]),
        ("toterminal", ["to pin", "to terminal", "pin to", "terminal to", "pin 2", "end pin", "to cavity"]),
        ("from", ["from", "from device", "source", "start", "device 1", "end 1", "a"]),
        ("to", ["to", "to device", "target", "destination", "end", "device 2", "end 2", "b"]),
        ("wire", ["wire", "wire no", "wire number", "number", "no", "nr", "conductor", "id", "circuit"]),
        ("colour", ["colour", "color", "col", "insulation"]),
        ("size", ["size", "section", "cross section", "mm2", "mm²", "gauge", "awg", "csa"]),
        ("length", ["length", "len", "m", "length m", "metres", "length (m)"]),
    ];

    /// <summary>Guesses the columns from a header row.</summary>
    public static WireColumns Guess(IReadOnlyList<string> header)
    {
        ArgumentNullException.ThrowIfNull(header);
        var taken = new HashSet<int>();
        var found = new Dictionary<string, int>();
        foreach (var exact in (ReadOnlySpan<bool>)[true, false])
        foreach (var (field, words) in Names)
        {
            if (found.ContainsKey(field))
                continue;
            for (var i = 0; i < header.Count && !found.ContainsKey(field); i++)
            {
                var cell = header[i].Trim().TrimEnd('.').ToLowerInvariant();
                if (taken.Contains(i) || cell.Length == 0)
                    continue;
                if (exact ? words.Contains(cell) : words.Any(w => w.Length > 2 && cell.Contains(w, StringComparison.Ordinal)))
                    (found[field], _) = (i, taken.Add(i));
            }
        }
        int At(string field) => found.GetValueOrDefault(field, -1);
        return new WireColumns(
            At("wire"),
            At("from"),
            At("fromterminal"),
            At("to"),
            At("toterminal"),
            At("colour"),
            At("size"),
            At("length")
        );
    }
}

/// <summary>One row of a wire list that could not be placed, and why.</summary>
/// <param name="Row">Row of the table, counted from 1 with the header.</param>
public sealed record UnplacedRow(int Row, string Text, string Reason, string? Suggestion);

/// <summary>A row that was placed, with what was assumed on the way.</summary>
public sealed record PlacedRow(int Row, string Path, string? Assumed);

/// <summary>What an import made of a table: the sheet, every row placed or not, and the kinds it guessed.</summary>
public sealed record WireListResult(
    string Sheet,
    IReadOnlyList<PlacedRow> Placed,
    IReadOnlyList<UnplacedRow> Unplaced,
    IReadOnlyList<string> Guessed
);

/// <summary>
/// Makes a sheet of a wire list: each row becomes a path of one wire, each tag a part whose kind is guessed from its reference letter
/// (IEC 81346-2) and its terminals. Nothing is dropped without being said: a row is placed, or stands in the list of rows that are not.
/// </summary>
public static partial class WireListImport
{
    public const int MostRows = 5000;

    private sealed record End(string Tag, string Terminal)
    {
        public override string ToString() => Terminal.Length == 0 ? Tag : $"{Tag}.{Terminal}";
    }

    private sealed record Row(int Number, string Text, string Wire, End From, End To, string Colour, string Size, string Length);

    /// <param name="rows">Cells of the table, header first.</param>
    /// <param name="known">Parts of a sheet that is there already: their kinds and terminals hold.</param>
    public static WireListResult Read(
        IReadOnlyList<IReadOnlyList<string>> rows,
        WireColumns columns,
        string title,
        double nominalVolts,
        Circuit? known = null
    )
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(columns);
        var unplaced = new List<UnplacedRow>();
        var good = new List<Row>();
        for (var i = 1; i < rows.Count; i++)
        {
            if (rows[i].All(string.IsNullOrWhiteSpace))
                continue;
            var text = string.Join(" | ", rows[i].Select(c => c.Trim() is { Length: > 0 } cell ? cell : "—"));
            if (good.Count >= MostRows)
            {
                unplaced.Add(new UnplacedRow(i + 1, text, $"More than {MostRows} rows.", "split the list by harness"));
                continue;
            }
            if (Bind(rows[i], i + 1, text, columns, out var why) is { } row)
                good.Add(row);
            else
                unplaced.Add(why!);
        }
        Doubles(good, unplaced);
        Misspelt(good, unplaced, known);
        var (parts, guessed) = Parts(good, unplaced, known);
        return Sheet(good, parts, guessed, unplaced, title, nominalVolts);
    }

    private static Row? Bind(IReadOnlyList<string> cells, int number, string text, WireColumns c, out UnplacedRow? why)
    {
        string Cell(int i) => i >= 0 && i < cells.Count ? cells[i].Trim() : "";
        why = null;
        var (from, to) = (ReadEnd(Cell(c.From), Cell(c.FromTerminal)), ReadEnd(Cell(c.To), Cell(c.ToTerminal)));
        if (Cell(c.From).Length == 0 || Cell(c.To).Length == 0)
            why = new UnplacedRow(
                number,
                text,
                $"The {(Cell(c.From).Length == 0 ? "first" : "second")} end is missing.",
                "a wire needs both its ends"
            );
        else if (from is null || to is null)
            why = new UnplacedRow(
                number,
                text,
                $"“{NotationTokenizer.Clip(from is null ? Cell(c.From) : Cell(c.To))}” names no part and terminal.",
                "write K1:86 or K1.86"
            );
        else if (from == to)
            why = new UnplacedRow(number, text, "Both ends are the same point.", null);
        if (why is not null)
            return null;
        var size = SizeText(Cell(c.Size));
        if (size is null)
        {
            why = new UnplacedRow(
                number,
                text,
                $"“{NotationTokenizer.Clip(Cell(c.Size))}” is no wire size.",
                "mm² or AWG, such as 1.5 or 14awg"
            );
            return null;
        }
        var length = LengthText(Cell(c.Length));
        if (length is null)
        {
            why = new UnplacedRow(number, text, $"“{NotationTokenizer.Clip(Cell(c.Length))}” is no length.", "a length such as 1.2m");
            return null;
        }
        return new Row(
            number,
            text,
            WireNumber(Cell(c.Wire)),
            from!,
            to!,
            Cell(c.Colour).ToUpperInvariant().Replace(' ', '/'),
            size,
            length
        );
    }

    /// <summary><c>=A1-K1:86</c>, <c>K1:86</c>, <c>K1.86</c>, <c>K1 86</c>, <c>GND1</c>: product tag and terminal.</summary>
    [GeneratedRegex(@"^(?:[=+][\w.+]*)?-?(?<tag>[A-Za-z][A-Za-z0-9_]*)(?:\s*[:.\s/]\s*(?<pin>[\w+\-]+))?$")]
    private static partial Regex EndShape();

    private static End? ReadEnd(string cell, string terminal)
    {
        var m = EndShape().Match(cell);
        if (!m.Success)
            return null;
        var pin = terminal.Length > 0 ? terminal : m.Groups["pin"].Value;
        return new End(m.Groups["tag"].Value, pin);
    }

    private static string WireNumber(string cell)
    {
        var clean = new string([.. cell.Where(char.IsAsciiLetterOrDigit)]);
        return clean.Length == 0 ? ""
            : clean[0] is 'w' or 'W' && clean.Length > 1 ? "w" + clean[1..]
            : "w" + clean;
    }

    private static string? SizeText(string cell)
    {
        if (cell.Length == 0)
            return "";
        if (double.TryParse(cell.Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var mm2))
            return mm2 > 0 ? string.Create(CultureInfo.InvariantCulture, $"{mm2}mm2") : null;
        var joined = cell.Replace(" ", "", StringComparison.Ordinal)
            .Replace(',', '.')
            .Replace("sqmm", "mm2", StringComparison.OrdinalIgnoreCase);
        return QuantityText.TryParse(joined, out var q) && q.Dimension is Dimension.SquareMillimetre or Dimension.WireGauge
            ? QuantityText.Write(q)
            : null;
    }

    private static string? LengthText(string cell)
    {
        if (cell.Length == 0)
            return "";
        if (double.TryParse(cell.Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var m))
            return m > 0 ? string.Create(CultureInfo.InvariantCulture, $"{m}m") : null;
        return
            QuantityText.TryParse(cell.Replace(" ", "", StringComparison.Ordinal).Replace(',', '.'), out var q)
            && q.Dimension == Dimension.Metre
            && q.Value > 0
            ? QuantityText.Write(q)
            : null;
    }

    private static void Drop(List<Row> good, Row row, List<UnplacedRow> unplaced, string reason, string? suggestion)
    {
        good.Remove(row);
        unplaced.Add(new UnplacedRow(row.Number, row.Text, reason, suggestion));
    }

    private static void Doubles(List<Row> good, List<UnplacedRow> unplaced)
    {
        foreach (var row in good.ToList())
        {
            if (
                good.Find(o =>
                    o.Number < row.Number
                    && o.Wire == row.Wire
                    && (o.From == row.From && o.To == row.To || o.From == row.To && o.To == row.From)
                ) is
                { } same
            )
                Drop(good, row, unplaced, $"The same wire stands in row {same.Number}.", "placed once");
            else if (row.Wire.Length > 0 && good.Find(o => o.Number < row.Number && o.Wire == row.Wire) is { } other)
                Drop(
                    good,
                    row,
                    unplaced,
                    $"Wire {row.Wire} stands in row {other.Number} between other points.",
                    "give one of them its right number"
                );
        }
    }

    /// <summary>A tag that stands once and lies next to one that stands more often was more likely mistyped.</summary>
    private static void Misspelt(List<Row> good, List<UnplacedRow> unplaced, Circuit? known)
    {
        var count = good.SelectMany(r => new[] { r.From.Tag, r.To.Tag })
            .GroupBy(t => t, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Count());
        foreach (var row in good.ToList())
        foreach (var tag in new[] { row.From.Tag, row.To.Tag })
        {
            if (known?.FindPart(tag) is not null || count[tag] > 1)
                continue;
            // K1 and K2 are two relays; KI and K1, or K1 and k1, are one. Digits alone tell tags apart on purpose.
            var others = count
                .Where(c => c.Key != tag && (c.Value > 1 || known?.FindPart(c.Key) is not null))
                .Select(c => c.Key)
                .Concat(known?.Parts.Select(p => p.Tag) ?? []);
            if (others.FirstOrDefault(o => Confusable(o) == Confusable(tag)) is { } meant)
            {
                Drop(good, row, unplaced, $"{tag} stands here only.", $"did you mean {meant}?");
                break;
            }
        }
    }

    /// <summary>Letters and digits that a hand or a scan takes for one another are one.</summary>
    private static string Confusable(string tag) =>
        new([
            .. tag.ToUpperInvariant()
                .Select(c =>
                    c switch
                    {
                        'I' or 'L' or '|' => '1',
                        'O' or 'Q' or 'D' => '0',
                        'S' => '5',
                        'Z' => '2',
                        'B' => '8',
                        _ => c,
                    }
                )
                .Where(c => c != '_'),
        ]);

    private static readonly (string Prefix, string Kind)[] Letters =
    [
        ("GND", "stud"),
        ("PE", "stud"),
        ("SP", "splice"),
        ("XS", "splice"),
        ("XT", "strip"),
        ("TB", "strip"),
        ("BAT", "battery"),
        ("GB", "battery"),
        ("G", "battery"),
        ("F", "fuse"),
        ("K", "relay"),
        ("Q", "isolator"),
        ("S", "switch"),
        ("B", "limit"),
        ("X", "connector"),
        ("J", "connector"),
        ("P", "lamp"),
        ("H", "lamp"),
        ("E", "heater"),
        ("M", "motor"),
        ("Y", "coil"),
        ("R", "resistor"),
        ("D", "diode"),
        ("V", "diode"),
        ("A", "module"),
        ("U", "psu"),
    ];

    private static (Dictionary<string, (string Statement, PartKind Kind)> Parts, List<string> Guessed) Parts(
        List<Row> good,
        List<UnplacedRow> unplaced,
        Circuit? known
    )
    {
        var parts = new Dictionary<string, (string, PartKind)>(StringComparer.Ordinal);
        var guessed = new List<string>();
        foreach (var group in good.SelectMany(r => new[] { r.From, r.To }).GroupBy(e => e.Tag).ToList())
        {
            var terminals = group.Select(e => e.Terminal).Distinct().ToList();
            if (known?.FindPart(group.Key) is { } part)
            {
                parts[group.Key] = ("", part.Kind);
                Misfits(group.Key, part.Model.Terminals, part.Kind is PinRow, good, unplaced);
                continue;
            }
            var letter = Letters.FirstOrDefault(l => group.Key.StartsWith(l.Prefix, StringComparison.OrdinalIgnoreCase)).Kind;
            var word = letter switch
            {
                null => terminals.All(t => t.Length == 0) ? "splice" : "strip",
                "relay" when terminals.Any(t => t is "A1" or "A2") => terminals.Any(t => t is "1" or "2" or "3" or "13")
                    ? "contactor"
                    : "relay",
                "connector" when terminals.All(t => t.Length == 0) => "splice",
                _ => letter,
            };
            var kind = PartKind.All[word];
            var statement =
                $"part {group.Key} {word}"
                + word switch
                {
                    "connector" or "strip" => $" {terminals.Select(t => int.TryParse(t, out var n) ? n : 1).DefaultIfEmpty(1).Max()}",
                    "relay" when terminals.Any(t => t is "A1" or "A2") => " din",
                    _ => "",
                };
            var open = word is "switch" or "limit" or "isolator" or "module";
            if (open && terminals.Remove(""))
                Misfits(group.Key, terminals, false, good, unplaced);
            if (open && terminals.Count == 0)
                continue;
            // Contacts of switches are what their terminals say; a pair each, closed until somebody says when.
            if (word is "switch" or "limit" or "isolator" && terminals.Count >= 2 && !terminals.SequenceEqual(["1", "2"]))
                for (var i = 1; i < terminals.Count; i++)
                    statement += $"\n  closed {terminals[0]}-{terminals[i]}";
            if (word == "module")
            {
                statement += $"\n  supply {terminals[0]} ground {(terminals.Count > 1 ? terminals[1] : "gnd")}";
                for (var i = 2; i < terminals.Count; i++)
                    statement += $"\n  input {terminals[i]} high>6V";
            }
            parts[group.Key] = (statement, kind);
            guessed.Add($"{group.Key}: {word}");
            if (open)
                continue;
            var model = SheetReader.Read($"sheet \"x\"\npart ZZ battery 12V\n{statement}\n").Value?.FindPart(group.Key)?.Model;
            if (model is not null)
                Misfits(group.Key, model.Terminals, kind is PinRow, good, unplaced);
        }
        return (parts, guessed);
    }

    /// <summary>Rows that name a terminal which the part does not have.</summary>
    private static void Misfits(string tag, IReadOnlyList<string> terminals, bool pins, List<Row> good, List<UnplacedRow> unplaced)
    {
        foreach (var row in good.ToList())
        foreach (var end in new[] { row.From, row.To })
        {
            if (end.Tag != tag)
                continue;
            var fits = pins
                ? terminals.Contains(end.Terminal + "a") || terminals.Contains(end.Terminal)
                : terminals.Contains(end.Terminal) || terminals is [""];
            if (fits)
                continue;
            Drop(
                good,
                row,
                unplaced,
                end.Terminal.Length == 0
                    ? $"{tag} has more than one terminal and none is named."
                    : $"{tag} has no terminal {end.Terminal}.",
                Spelling.DidYouMean(end.Terminal, terminals)
                    ?? "it has " + string.Join(", ", pins ? terminals.Where(t => t.EndsWith('a')).Select(t => t[..^1]).Take(12) : terminals)
            );
            break;
        }
    }

    private static WireListResult Sheet(
        List<Row> good,
        Dictionary<string, (string Statement, PartKind Kind)> parts,
        List<string> guessed,
        List<UnplacedRow> unplaced,
        string title,
        double nominalVolts
    )
    {
        var s = new StringBuilder();
        s.Append(CultureInfo.InvariantCulture, $"sheet \"{title.Replace('"', ' ')}\"\nnominal {nominalVolts}V dc\ndrawn from maker\n\n");
        var used = good.SelectMany(r => new[] { r.From.Tag, r.To.Tag }).ToHashSet();
        foreach (var (tag, (statement, _)) in parts)
            if (statement.Length > 0 && used.Contains(tag))
                s.Append(statement).Append('\n');
        s.Append('\n');
        // The first wire on a pin lies on its a half, the next beyond it.
        var pins = new Dictionary<string, int>();
        var placed = new List<PlacedRow>();
        foreach (var row in good)
        {
            string? assumed = null;
            string At(End end)
            {
                var (_, kind) = parts[end.Tag];
                if (kind is Point)
                    return end.Tag;
                if (kind is not PinRow)
                    return end.ToString();
                if (end.Terminal.Length > 1 && end.Terminal[^1] is 'a' or 'b')
                    return $"{end.Tag}:{end.Terminal}";
                var n = pins[$"{end.Tag}:{end.Terminal}"] = pins.GetValueOrDefault($"{end.Tag}:{end.Terminal}") + 1;
                if (n > 2)
                    assumed = $"the third wire on {end.Tag}:{end.Terminal} is taken to lie beyond it";
                return $"{end.Tag}:{end.Terminal}{(n == 1 ? "a" : "b")}";
            }

            string[] words = [row.Wire, row.Colour, row.Size, row.Length];
            var wire = string.Join(' ', words.Where(w => w.Length > 0));
            var path = $"path {At(row.From)}{(wire.Length == 0 ? " - " : $" -[{wire}]- ")}{At(row.To)}";
            s.Append(path).Append('\n');
            placed.Add(new PlacedRow(row.Number, path, assumed));
        }
        return new WireListResult(
            s.ToString(),
            placed,
            [.. unplaced.OrderBy(u => u.Row)],
            [.. guessed.Where(g => used.Contains(g.Split(':')[0]))]
        );
    }
}
