using System.Globalization;
using System.IO.Compression;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using ExcelDataReader;

namespace Zoltric.Web.Import;

/// <summary>
/// A table out of a file: CSV in any usual separator, or the first sheet of an XLSX workbook. Cells are texts as a person reads them.
/// </summary>
public static class TableFile
{
    public const int MostBytes = 4 * 1024 * 1024;
    private const int MostRows = 6000;
    public const int MostColumns = 60;

    /// <summary>Letters of one cell, and bytes of a workbook when it is unpacked.</summary>
    private const int MostCell = 1000,
        MostUnpacked = 48 * 1024 * 1024;

    // The workbook reader asks for Windows code page 1252 even where it does not use it.
    static TableFile() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <exception cref="InvalidDataException">When the file is no table; the message says what it should be.</exception>
    public static List<List<string>> Read(Stream stream, string name)
    {
        ArgumentNullException.ThrowIfNull(stream);
        using var copy = new MemoryStream();
        stream.CopyTo(copy);
        var bytes = copy.ToArray();
        if (bytes.Length == 0)
            throw new InvalidDataException("The file is empty.");
        // XLSX is a ZIP; the older binary format begins otherwise and is not read.
        var rows = bytes.AsSpan().StartsWith("PK"u8) ? Workbook(bytes) : Text(bytes, name);
        for (var row = 0; row < rows.Count; row++)
            if (rows[row].Find(c => c.Length > MostCell) is { } cell)
                throw new InvalidDataException($"Row {row + 1} has a cell of {cell.Length} letters; at most {MostCell} are read.");
        while (rows.Count > 0 && rows[0].TrueForAll(string.IsNullOrWhiteSpace))
            rows.RemoveAt(0);
        return rows.Count > 1
            ? rows
            : throw new InvalidDataException("There is no table in this file: a header row and at least one wire are needed.");
    }

    /// <summary>A small file can unpack to gigabytes: it is unpacked into nothing first, as far as it may go.</summary>
    private static bool IsTooLarge(byte[] bytes)
    {
        using var archive = new ZipArchive(new MemoryStream(bytes), ZipArchiveMode.Read);
        var (left, buffer) = (MostUnpacked, new byte[81920]);
        foreach (var entry in archive.Entries)
        {
            using var content = entry.Open();
            for (int read; (read = content.Read(buffer)) > 0; )
                if ((left -= read) < 0)
                    return true;
        }
        return false;
    }

    private static List<List<string>> Workbook(byte[] bytes)
    {
        try
        {
            if (!IsTooLarge(bytes))
                return FirstSheet(bytes);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // A broken workbook fails in as many ways as it can be broken.
            throw new InvalidDataException("This workbook cannot be read: save it again as .xlsx, or as .csv.", e);
        }
        throw new InvalidDataException("This workbook holds more than a list of wires: save the sheet with the wires alone, as .csv.");
    }

    private static List<List<string>> FirstSheet(byte[] bytes)
    {
        using var reader = ExcelReaderFactory.CreateOpenXmlReader(new MemoryStream(bytes));
        var rows = new List<List<string>>();
        while (reader.Read() && rows.Count < MostRows)
            rows.Add([
                .. Enumerable
                    .Range(0, Math.Min(reader.FieldCount, MostColumns))
                    .Select(i => Convert.ToString(reader.GetValue(i), CultureInfo.InvariantCulture) ?? ""),
            ]);
        return rows;
    }

    private static List<List<string>> Text(byte[] bytes, string name)
    {
        if (bytes.AsSpan(0, Math.Min(bytes.Length, 4000)).Contains((byte)0))
            throw new InvalidDataException($"{Path.GetFileName(name)} is neither CSV text nor an .xlsx workbook.");
        using var reader = new StreamReader(new MemoryStream(bytes), Encoding.UTF8, detectEncodingFromByteOrderMarks: true);
        using var csv = new CsvReader(
            reader,
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                HasHeaderRecord = false,
                DetectDelimiter = true,
                BadDataFound = null,
                IgnoreBlankLines = true,
            }
        );
        var rows = new List<List<string>>();
        while (csv.Read() && rows.Count < MostRows)
            rows.Add([.. Enumerable.Range(0, Math.Min(csv.Parser.Count, MostColumns)).Select(i => csv.GetField(i) ?? "")]);
        return rows;
    }

    /// <summary>Rows as CSV, comma separated (RFC 4180).</summary>
    public static string Csv(IEnumerable<IReadOnlyList<string>> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = new CsvWriter(text, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\r\n" }))
            foreach (var row in rows)
            {
                foreach (var cell in row)
                    csv.WriteField(IsFormula(cell) ? "'" + cell : cell);
                csv.NextRecord();
            }
        return text.ToString();
    }

    /// <summary>What a spreadsheet would compute and not show.</summary>
    private static bool IsFormula(string cell) =>
        cell is ['=' or '+' or '-' or '@' or '\t' or '\r', _, ..]
        && !double.TryParse(cell, NumberStyles.Float, CultureInfo.InvariantCulture, out _);
}
