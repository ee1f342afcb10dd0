using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using CsvHelper;
using CsvHelper.Configuration;

namespace Zoltric.Instruments.Captures;

/// <summary>
/// Reads the CSV that instruments write: time and channels, or channels alone with a sample interval above them; units in the heading, in
/// a row of their own, or not at all; commas, semicolons or tabs; points or commas as decimals. What cannot be read is said by its line.
/// </summary>
public static partial class CaptureFile
{
    public const int MostRows = 2_000_000,
        MostChannels = 8;

    private const int MostHeading = 200;

    /// <summary>Cells of an instrument over its range.</summary>
    private static readonly HashSet<string> Over = new(StringComparer.OrdinalIgnoreCase)
    {
        "",
        "OL",
        "∞",
        "-∞",
        "inf",
        "-inf",
        "nan",
        "---",
    };

    /// <summary>The capture, or why there is none.</summary>
    public static (Capture? Capture, string? Why) Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        foreach (var (delimiter, comma) in new[] { (",", false), (";", false), (";", true), ("\t", false), ("\t", true) })
            if (Rows(text, delimiter, comma) is { } rows)
                return Made(rows);
        // Columns in line by blanks, as programs that compute write them.
        if (Rows(string.Join('\n', text.Split('\n').Select(l => Blanks().Replace(l.Trim(), "\t"))), "\t", false) is { } aligned)
            return Made(aligned);
        return (null, "No columns of figures were found: time and volts in columns, a row for each instant, as an instrument saves CSV.");
    }

    /// <summary>A capture as such a file: seconds, and a column for each channel with its unit.</summary>
    public static string Write(Capture capture)
    {
        ArgumentNullException.ThrowIfNull(capture);
        var text = new StringBuilder("time (s)");
        foreach (var c in capture.Channels)
            text.Append(',').Append(c.Name).Append(" (").Append(c.Unit).Append(')');
        text.Append('\n');
        for (var i = 0; i < capture.Seconds.Length; i++)
        {
            text.Append(Cell(capture.Seconds[i]));
            foreach (var c in capture.Channels)
                text.Append(',').Append(double.IsNaN(c.Values[i]) ? "OL" : Cell(c.Values[i]));
            text.Append('\n');
        }
        return text.ToString();

        static string Cell(double v) => v.ToString("G9", CultureInfo.InvariantCulture);
    }

    private sealed record Table(List<string[]> Heading, List<double[]> Rows, string? Trouble, double? Interval);

    /// <summary>Rows of figures below a heading; null where this is not how the file is written.</summary>
    private static Table? Rows(string text, string delimiter, bool comma)
    {
        using var reader = new StringReader(text);
        using var parser = new CsvParser(
            reader,
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter,
                HasHeaderRecord = false,
                BadDataFound = null,
                IgnoreBlankLines = true,
            }
        );
        var (heading, rows) = (new List<string[]>(), new List<double[]>());
        while (parser.Read())
        {
            var cells = Trimmed(parser.Record!);
            if (Figures(cells, comma) is { } figures && (figures.Length > 1 || rows.Count > 0 || Interval(heading, comma) is not null))
            {
                if (rows.Count > 0 && figures.Length != rows[0].Length)
                    return rows.Count < 3
                        ? null
                        : new Table(
                            heading,
                            rows,
                            $"Line {parser.RawRow} has {figures.Length} columns, those above {rows[0].Length}.",
                            null
                        );
                if (rows.Count >= MostRows)
                    return new Table(heading, rows, $"More than {MostRows:N0} instants: save a shorter stretch.", null);
                rows.Add(figures);
            }
            else if (rows.Count > 1)
                return new Table(heading, rows, $"Line {parser.RawRow} is no row of figures: “{Short(parser.RawRecord)}”.", null);
            else
            {
                // A figure above the heading was a setting.
                rows.ForEach(_ => heading.Add([]));
                rows.Clear();
                if (heading.Count >= MostHeading)
                    return null;
                heading.Add(cells);
            }
        }
        return rows.Count < 3 ? null : new Table(heading, rows, null, Interval(heading, comma));
    }

    /// <summary>Without the empty cell that some instruments end each line with.</summary>
    private static string[] Trimmed(string[] cells)
    {
        var trimmed = Array.ConvertAll(cells, c => c.Trim());
        return trimmed.Length > 1 && trimmed[^1].Length == 0 ? trimmed[..^1] : trimmed;
    }

    private static double[]? Figures(string[] cells, bool comma)
    {
        if (cells.Length is 0 or > MostChannels + 1)
            return null;
        var figures = new double[cells.Length];
        var any = false;
        for (var i = 0; i < cells.Length; i++)
            if (Number(cells[i], comma) is { } v)
                (figures[i], any) = (v, true);
            else if (Over.Contains(cells[i]))
                figures[i] = double.NaN;
            else
                return null;
        return any ? figures : null;
    }

    private static double? Number(string cell, bool comma)
    {
        if (comma && cell.Contains('.', StringComparison.Ordinal))
            return null;
        return
            double.TryParse(
                comma ? cell.Replace(',', '.') : cell,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent,
                CultureInfo.InvariantCulture,
                out var v
            ) && double.IsFinite(v)
            ? v
            : null;
    }

    /// <summary>Seconds from one row to the next, where the heading says it.</summary>
    private static double? Interval(List<string[]> heading, bool comma)
    {
        foreach (var cells in heading)
            for (var i = 0; i + 1 < cells.Length; i++)
                if (Increment().IsMatch(cells[i]) && ReadInterval(cells, i, comma) is { } seconds)
                    return seconds;
        return null;
    }

    private static double? ReadInterval(string[] cells, int i, bool comma)
    {
        var m = Measure().Match(comma ? cells[i + 1].Replace(',', '.') : cells[i + 1]);
        if (!m.Success || Number(m.Groups["n"].Value, false) is not { } value || value <= 0)
            return null;
        var unit =
            m.Groups["u"].Length > 0 ? m.Groups["u"].Value
            : UnitIn(cells[i]) is { Length: > 0 } u ? u
            : "s";
        return Base(unit) is { Unit: "s", Factor: var f } ? value * f : null;
    }

    private static (Capture?, string?) Made(Table table)
    {
        if (table.Trouble is { } trouble)
            return (null, trouble);
        var columns = table.Rows[0].Length;
        var heads = table.Heading.LastOrDefault(h => h.Length == columns && h.Any(c => c.Length > 0 && !IsUnit(c))) ?? [];
        var units = table.Heading.LastOrDefault(h => h.Length == columns && h.All(IsUnit)) ?? [];
        var hasTime = columns > 1 && (table.Interval is null || heads.Length > 0 && Time().IsMatch(heads[0]));
        double[] seconds;
        if (hasTime)
        {
            var factor = Base(UnitOf(0) is { Length: > 0 } u ? u : "s") is { Unit: "s", Factor: var f } ? f : 1;
            seconds = [.. table.Rows.Select(r => r[0] * factor)];
            for (var i = 1; i < seconds.Length; i++)
                if (!(seconds[i] > seconds[i - 1]))
                    return (
                        null,
                        $"The first column is no time: it does not rise at row {i + 1}. A capture has time in its first column, or a "
                            + "sample interval above."
                    );
        }
        else if (table.Interval is { } step)
            seconds = [.. Enumerable.Range(0, table.Rows.Count).Select(i => i * step)];
        else
            return (null, "There is one column of figures and no sample interval: the time between two rows is not known.");
        var channels = new List<CaptureChannel>();
        for (var c = hasTime ? 1 : 0; c < columns; c++)
        {
            var (unit, factor) = Base(UnitOf(c)) ?? ("V", 1);
            var name = c < heads.Length ? WithoutUnit().Replace(heads[c], "").Trim() : "";
            channels.Add(
                new CaptureChannel(
                    name.Length > 0 ? Short(name) : $"channel {channels.Count + 1}",
                    unit,
                    [.. table.Rows.Select(r => r[c] * factor)]
                )
            );
        }
        return channels.TrueForAll(c => Array.TrueForAll(c.Values, double.IsNaN))
            ? (null, "Every value is over the range of the instrument.")
            : (new Capture(seconds, channels), null);

        string UnitOf(int c) =>
            c < units.Length ? units[c].Trim('(', ')', '[', ']')
            : c < heads.Length ? UnitIn(heads[c])
            : "";
    }

    private static bool IsUnit(string cell) => Base(cell.Trim('(', ')', '[', ']')) is not null;

    private static string UnitIn(string head) => WithoutUnit().Match(head) is { Success: true } m ? m.Groups["u"].Value.Trim() : "";

    /// <summary>A unit with its prefix as base unit and factor; null for what is none.</summary>
    private static (string Unit, double Factor)? Base(string unit)
    {
        var u = unit.Trim();
        var word = u.ToUpperInvariant();
        if (word is "SECOND" or "SECONDS" or "SEC")
            return ("s", 1);
        if (word is "VOLT" or "VOLTS")
            return ("V", 1);
        if (word is "AMP" or "AMPS" or "AMPERE" or "AMPERES")
            return ("A", 1);
        var factor =
            u.Length < 2
                ? 1
                : u[0] switch
                {
                    'n' => 1e-9,
                    'u' or 'µ' or 'μ' => 1e-6,
                    'm' => 1e-3,
                    'k' => 1e3,
                    _ => 1,
                };
        var rest = factor == 1 ? u : u[1..];
        return rest is "s" or "S" ? ("s", factor)
            : rest is "V" or "v" ? ("V", factor)
            : rest is "A" or "a" ? ("A", factor)
            : null;
    }

    private static string Short(string text) => text.Trim() is { Length: > 40 } t ? t[..40] + "…" : text.Trim();

    [GeneratedRegex(
        @"\b(sample\s*interval|sampling\s*interval|sampling\s*period|increment|x\s*increment|delta\s*t|dt)\b",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Increment();

    [GeneratedRegex(@"[ \t]+", RegexOptions.CultureInvariant)]
    private static partial Regex Blanks();

    [GeneratedRegex(@"^(?<n>[-+0-9.eE]+)\s*(?<u>[a-zA-Zµμ]*)$", RegexOptions.CultureInvariant)]
    private static partial Regex Measure();

    [GeneratedRegex(@"\btime\b|^t\b|^x\b|second", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex Time();

    [GeneratedRegex(@"\s*[\(\[]\s*(?<u>[a-zA-Zµμ]{1,7})\s*[\)\]]\s*$", RegexOptions.CultureInvariant)]
    private static partial Regex WithoutUnit();
}
