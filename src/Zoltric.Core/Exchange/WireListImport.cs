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
        (
            "fromterminal",
            [
                "from pin",
                "from terminal",
                "from term",
                "pin from",
                "terminal from",
                "pin 1",
                "pin a",
                "start pin",
                "from cavity",
                "cavity 1",
            ]
        ),
        ("toterminal", ["to pin", "to terminal", "to term", "pin to", "terminal to", "pin 2", "pin b", "end pin", "to cavity", "cavity 2"]),
        (
            "from",
            [
                "from",
                "from device",
                "from component",
                "source",
                "origin",
                "start",
                "device 1",
                "component 1",
                "end 1",
                "end a",
                "point a",
                "a",
            ]
        ),
        (
            "to",
            [
                "to",
                "to device",
                "to component",
                "target",
                "destination",
                "dest",
                "end",
                "device 2",
                "component 2",
                "end 2",
                "end b",
                "point b",
                "b",
            ]
        ),
        ("wire", ["wire", "wire no", "wire number", "wire id", "number", "no", "nr", "#", "conductor", "id", "circuit", "cable"]),
        ("colour", ["colour", "color", "col", "clr", "insulation"]),
        ("size", ["size", "section", "cross section", "mm2", "mm²", "sq mm", "gauge", "awg", "ga", "csa"]),
        ("length", ["length", "len", "m", "length m", "metres", "length (m)"]),
    ];

    /// <summary>
    /// The columns of a table: by its header, else by what stands below: two columns of part and terminal are the ends.
    /// </summary>
    /// <param name="hasHeader">False where the first row is a wire already.</param>
    public static WireColumns Find(IReadOnlyList<IReadOnlyList<string>> rows, out bool hasHeader)
    {
        ArgumentNullException.ThrowIfNull(rows);
        var byHead = Guess(rows[0]);
        bool IsEnd(IReadOnlyList<string> row, int i) => i < row.Count && WireEnd.Read(row[i], "") is { Terminal.Length: > 0 };
        hasHeader = byHead is not { From: < 0, To: < 0 } || !Enumerable.Range(0, rows[0].Count).Any(i => IsEnd(rows[0], i));
        if (byHead is { From: >= 0, To: >= 0 })
            return byHead;
        var body = rows.Skip(hasHeader ? 1 : 0).ToList();
        var ends = Enumerable
            .Range(0, rows.Max(r => r.Count))
            .Where(i => body.Count(r => IsEnd(r, i)) > body.Count / 2 && i != byHead.Wire && i != byHead.Colour && i != byHead.Size)
            .Take(2)
            .ToList();
        if (ends.Count < 2)
            return byHead;
        int Rest(int known, Func<string, bool> fits) =>
            known >= 0
                ? known
                : Enumerable
                    .Range(0, rows.Max(r => r.Count))
                    .Where(i => !ends.Contains(i) && body.Count(r => i < r.Count && fits(r[i].Trim())) > body.Count / 2)
                    .Append(-1)
                    .First();
        var colour = Rest(byHead.Colour, c => Regex.IsMatch(c, "^[A-Za-z]{2}([/ -]?[A-Za-z]{2})?$"));
        var size = Rest(byHead.Size, c => Regex.IsMatch(c, @"^\d+([.,]\d+)?\s*(mm2|mm²|sqmm|awg)$", RegexOptions.IgnoreCase));
        var wire = Rest(byHead.Wire, c => Regex.IsMatch(c, @"^[Ww]?\d{1,5}[A-Za-z]?$"));
        return byHead with { From = ends[0], To = ends[1], Colour = colour, Size = size, Wire = wire };
    }

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
/// <param name="Functions">Names of the functions it proposes, one for each load that is reached.</param>
/// <param name="Unreached">Loads that nothing reaches as the list stands, with what is in the way.</param>
/// <param name="Grounds">Ways home that the list leaves out and that were added.</param>
public sealed record WireListResult(
    string Sheet,
    IReadOnlyList<PlacedRow> Placed,
    IReadOnlyList<UnplacedRow> Unplaced,
    IReadOnlyList<string> Guessed,
    IReadOnlyList<string> Functions,
    IReadOnlyList<string> Unreached,
    IReadOnlyList<string> Grounds
);

/// <summary>
/// Makes a sheet of a wire list: each row becomes a path of one wire, each tag a part whose kind is guessed from its reference letter
/// (IEC 81346-2) and its terminals. Nothing is dropped without being said: a row is placed, or stands in the list of rows that are not.
/// </summary>
public static class WireListImport
{
    public const int MostRows = 5000;

    private sealed record Row(int Number, string Text, string Wire, WireEnd From, WireEnd To, string Colour, string Size, string Length)
    {
        public bool Joins(Row other) => From.Is(other.From) && To.Is(other.To) || From.Is(other.To) && To.Is(other.From);
    }

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
        var parts = Parts(good, unplaced, nominalVolts, known);
        return Sheet(good, parts, unplaced, title, nominalVolts);
    }

    private static Row? Bind(IReadOnlyList<string> cells, int number, string text, WireColumns c, out UnplacedRow? why)
    {
        string Cell(int i) => i >= 0 && i < cells.Count ? cells[i].Trim() : "";
        why = null;
        var (from, to) = (WireEnd.Read(Cell(c.From), Cell(c.FromTerminal)), WireEnd.Read(Cell(c.To), Cell(c.ToTerminal)));
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
                $"{NotationTokenizer.Clip(from is null ? Cell(c.From) : Cell(c.To))} names no part and terminal.",
                "write K1:86, X12-3, BAT+ or PTO SW/1"
            );
        else if (from.Is(to) && from.Terminal.Length > 0)
            why = new UnplacedRow(number, text, "Both ends are the same point.", null);
        if (why is not null)
            return null;
        var size = SizeText(Cell(c.Size));
        if (size is null)
        {
            why = new UnplacedRow(
                number,
                text,
                $"{NotationTokenizer.Clip(Cell(c.Size))} is no wire size.",
                "write it in mm² or AWG, such as 1.5 or 14awg"
            );
            return null;
        }
        var length = LengthText(Cell(c.Length));
        if (length is null)
        {
            why = new UnplacedRow(number, text, $"{NotationTokenizer.Clip(Cell(c.Length))} is no length.", "a length such as 1.2m");
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
            if (good.Find(o => o.Number < row.Number && o.Wire == row.Wire && o.Joins(row)) is { } same)
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

    private static Dictionary<string, WireListPart> Parts(List<Row> good, List<UnplacedRow> unplaced, double nominalVolts, Circuit? known)
    {
        var parts = new Dictionary<string, WireListPart>(StringComparer.Ordinal);
        foreach (var group in good.SelectMany(r => new[] { r.From, r.To }).GroupBy(e => e.Tag).ToList())
        {
            if (known?.FindPart(group.Key) is { } part)
            {
                parts[group.Key] = new WireListPart(group.Key, part.Kind, "", [], new Dictionary<string, string>(), part.Model.Terminals);
                Misfits(group.Key, part.Model.Terminals, part.Kind is PinRow, good, unplaced);
                continue;
            }
            var made = WireListPart.Of(group.Key, [.. group], nominalVolts);
            parts[group.Key] = made;
            Rename(made, good);
            if (made.Terminals is { Count: > 0 } terminals)
                Misfits(group.Key, terminals, made.Kind is PinRow, good, unplaced);
        }
        return parts;
    }

    /// <summary>Puts a part's own terminals for those of the list; where it names none, one after the other.</summary>
    private static void Rename(WireListPart part, List<Row> good)
    {
        if (!part.IsAssumed)
            return;
        var unnamed = 0;
        WireEnd Own(WireEnd end) =>
            end.Tag != part.Tag || !part.Renamed.TryGetValue(end.Terminal, out var own)
                ? end
                : end with
                {
                    Terminal = end.Terminal.Length > 0 ? own : $"{++unnamed}",
                };
        for (var i = 0; i < good.Count; i++)
            good[i] = good[i] with { From = Own(good[i].From), To = Own(good[i].To) };
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
        Dictionary<string, WireListPart> parts,
        List<UnplacedRow> unplaced,
        string title,
        double nominalVolts
    )
    {
        var s = new StringBuilder();
        s.Append(CultureInfo.InvariantCulture, $"sheet \"{title.Replace('"', ' ')}\"\nnominal {nominalVolts}V dc\ndrawn from maker\n\n");
        var used = good.SelectMany(r => new[] { r.From.Tag, r.To.Tag }).ToHashSet();
        var made = parts.Values.Where(p => p.Statement.Length > 0 && used.Contains(p.Tag)).ToList();
        foreach (var control in made.SelectMany(p => p.Controls))
            s.Append(control).Append('\n');
        foreach (var part in made)
            s.Append(part.Statement).Append('\n');
        s.Append('\n');
        // The first wire on a pin lies on its a half, the next beyond it.
        var pins = new Dictionary<string, int>();
        var placed = new List<PlacedRow>();
        foreach (var row in good)
        {
            var assumed = new List<string>();
            string At(WireEnd end)
            {
                var part = parts[end.Tag];
                if (part.Kind is Point)
                    return end.Tag;
                if (
                    part.IsAssumed
                    && part.Renamed.FirstOrDefault(r => r.Value == end.Terminal || r.Key.Length == 0) is { Value: not null } was
                )
                    assumed.Add(was.Key.Length == 0 ? $"{end} is its first free terminal" : $"{end.Tag}:{was.Key} is its {end.Terminal}");
                if (part.Kind is not PinRow)
                    return end.ToString();
                if (end.Terminal.Length > 1 && end.Terminal[^1] is 'a' or 'b')
                    return $"{end.Tag}:{end.Terminal}";
                var n = pins[$"{end.Tag}:{end.Terminal}"] = pins.GetValueOrDefault($"{end.Tag}:{end.Terminal}") + 1;
                if (n > 2)
                    assumed.Add($"the third wire on {end.Tag}:{end.Terminal} is taken to lie beyond it");
                return $"{end.Tag}:{end.Terminal}{(n == 1 ? "a" : "b")}";
            }

            string[] words = [row.Wire, row.Colour, row.Size, row.Length];
            var wire = string.Join(' ', words.Where(w => w.Length > 0));
            var path = $"path {At(row.From)}{(wire.Length == 0 ? " - " : $" -[{wire}]- ")}{At(row.To)}";
            s.Append(path).Append('\n');
            placed.Add(new PlacedRow(row.Number, path, assumed.Count == 0 ? null : string.Join("; ", assumed)));
        }
        var ways = WireListGrounds.Add(s, made, good.SelectMany(r => new[] { r.From, r.To }).ToList());
        var (functions, unreached) = ProposedFunctions.Of(s.ToString());
        foreach (var f in functions)
            s.Append(s[^1] == '\n' && f == functions[0] ? "\n" : "").Append(f).Append('\n');
        return new WireListResult(
            s.ToString(),
            placed,
            [.. unplaced.OrderBy(u => u.Row)],
            [.. made.Select(p => $"{p.Tag}: {p.Kind.Word}")],
            [.. functions.Select(f => f[(f.IndexOf('"', StringComparison.Ordinal) + 1)..f.LastIndexOf('"')])],
            unreached,
            ways
        );
    }
}
