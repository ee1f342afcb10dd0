using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Exchange;
using Zoltric.Web.Import;

namespace Zoltric.Web.Pages.Import;

/// <summary>A wire list becomes a sheet: file, columns, what was placed and what was not.</summary>
[RequestFormLimits(ValueLengthLimit = 16 * 1024 * 1024, MultipartBodyLengthLimit = 8 * 1024 * 1024)]
public sealed class IndexModel : PageModel
{
    [BindProperty]
    public IFormFile? Upload { get; set; }

    [BindProperty]
    public string? Title { get; set; }

    [BindProperty]
    public double Volts { get; set; } = 24;

    /// <summary>The table as it was read, carried along so that columns can be changed without sending the file again.</summary>
    [BindProperty]
    public string? Table { get; set; }

    [BindProperty]
    public WireColumns? Columns { get; set; }

    /// <summary>Cells mended in place, by row and column: "7:2".</summary>
    [BindProperty]
    public Dictionary<string, string?> Mended { get; set; } = [];

    /// <summary>Columns of which cells can be mended: the ends and the size.</summary>
    public IEnumerable<(int Column, string Label)> Mendable =>
        Columns is null
            ? []
            : new[]
            {
                (Columns.Wire, "wire"),
                (Columns.From, "one end"),
                (Columns.FromTerminal, "its terminal"),
                (Columns.To, "other end"),
                (Columns.ToTerminal, "its terminal"),
                (Columns.Size, "size"),
            }.Where(c => c.Item1 >= 0);

    public string CellAt(int row, int column) => Rows[row - 1].ElementAtOrDefault(column) ?? "";

    public List<List<string>> Rows { get; private set; } = [];
    public WireListResult? Result { get; private set; }
    public string? Wrong { get; private set; }

    public static IReadOnlyList<(string Name, string Label)> Fields { get; } =
    [
        (nameof(WireColumns.Wire), "Wire number"),
        (nameof(WireColumns.From), "From"),
        (nameof(WireColumns.FromTerminal), "From, terminal"),
        (nameof(WireColumns.To), "To"),
        (nameof(WireColumns.ToTerminal), "To, terminal"),
        (nameof(WireColumns.Colour), "Colour"),
        (nameof(WireColumns.Size), "Size"),
        (nameof(WireColumns.Length), "Length"),
    ];

    public int ColumnOf(string field) => (int)typeof(WireColumns).GetProperty(field)!.GetValue(Columns)!;

    public IActionResult OnPostRead()
    {
        if (Upload is not { Length: > 0 } file)
            Wrong = "Choose a file first: .csv or .xlsx.";
        else if (file.Length > TableFile.MostBytes)
            Wrong = "The file is larger than 4 MB: split the list by harness.";
        else
            try
            {
                using var stream = file.OpenReadStream();
                Rows = TableFile.Read(stream, file.FileName);
                Columns = WireColumns.Find(Rows, out var hasHeader);
                if (!hasHeader)
                    Rows.Insert(0, [.. Enumerable.Range(1, Rows[0].Count).Select(i => $"column {i}")]);
                Table = JsonSerializer.Serialize(Rows);
                if (string.IsNullOrWhiteSpace(Title))
                    Title = Path.GetFileNameWithoutExtension(file.FileName);
                Place();
            }
            catch (InvalidDataException e)
            {
                Wrong = e.Message;
            }
        return Page();
    }

    public IActionResult OnPostPlace()
    {
        try
        {
            Rows = JsonSerializer.Deserialize<List<List<string>>>(Table ?? "[]") ?? [];
        }
        catch (JsonException)
        {
            Rows = [];
        }
        if (Rows.Count < 2 || Columns is null)
        {
            Wrong = "Choose the file again.";
            return Page();
        }
        foreach (var (at, cell) in Mended)
            if (
                at.Split(':') is [var r, var c]
                && int.TryParse(r, out var row)
                && int.TryParse(c, out var column)
                && row >= 2
                && row <= Rows.Count
                && column >= 0
                && column < TableFile.MostColumns
            )
            {
                while (Rows[row - 1].Count <= column)
                    Rows[row - 1].Add("");
                Rows[row - 1][column] = (cell ?? "").Trim() is var text && text.Length > MostInCell ? text[..MostInCell] : text;
            }
        Mended = [];
        Table = JsonSerializer.Serialize(Rows);
        Place();
        return Page();
    }

    private const int MostInCell = 100;

    /// <summary>Rows that are offered for mending at once.</summary>
    public const int MostMended = 60;

    private void Place()
    {
        // The posted columns are already taken over by the model; what the fields show must follow it.
        ModelState.Clear();
        if (Columns!.From < 0 || Columns.To < 0)
        {
            Wrong = "Say which columns hold the two ends of a wire.";
            return;
        }
        Result = WireListImport.Read(
            Rows,
            Columns,
            string.IsNullOrWhiteSpace(Title) ? "wire list" : Title,
            Volts is > 0 and < 1000 ? Volts : 24
        );
    }
}
