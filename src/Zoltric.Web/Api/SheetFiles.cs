using Zoltric.Core.Exchange;
using Zoltric.Core.Notation;
using Zoltric.Store;
using Zoltric.Web.Import;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Api;

/// <summary>A kept sheet as a file: text, JSON twin, wire list, SPICE netlist.</summary>
public static class SheetFiles
{
    public static void MapSheetFiles(this WebApplication app)
    {
        var api = app.MapGroup("/api/v1/sheets").WithTags("sheets");
        api.MapGet("/{id:long}.sheet", async (long id, MachineStore machines, SheetLibrary library) =>
                await File(id, machines, library, "sheet", "text/plain; charset=utf-8", (text, _) => text)
            )
            .WithSummary("The sheet as text");
        api.MapGet("/{id:long}.json", async (long id, MachineStore machines, SheetLibrary library) =>
                await File(id, machines, library, "json", "application/json", (_, s) => JsonSheet.Write(s.Circuit))
            )
            .WithSummary("The sheet as its JSON twin");
        api.MapGet("/{id:long}.csv", async (long id, MachineStore machines, SheetLibrary library) =>
                await File(id, machines, library, "csv", "text/csv; charset=utf-8", (_, s) =>
                    TableFile.Csv([WireList.Columns, .. WireList.Rows(s.Circuit)])
                )
            )
            .WithSummary("The wire list");
        api.MapGet("/{id:long}.cir", Netlist).WithSummary("The circuit as a SPICE netlist, in the setup given as ?setup=");
    }

    private static async Task<IResult> File(
        long id,
        MachineStore machines,
        SheetLibrary library,
        string extension,
        string type,
        Func<string, ReadySheet, string> write
    )
    {
        if (await machines.Sheet(id) is not { } row)
            return Results.Problem(title: $"There is no sheet {id}.", statusCode: 404);
        var parsed = library.Get(row.Text);
        if (parsed.Value is not { } sheet)
            return Results.Problem(title: "The sheet cannot be read.", detail: parsed.Problems[0].ToString(), statusCode: 409);
        return Results.File(System.Text.Encoding.UTF8.GetBytes(write(row.Text, sheet)), type, $"sheet-{id}.{extension}");
    }

    private static async Task<IResult> Netlist(long id, string? setup, MachineStore machines, SheetLibrary library)
    {
        Problem? wrong = null;
        var file = await File(id, machines, library, "cir", "text/plain; charset=utf-8", (_, s) =>
        {
            var parsed = ReadingReader.ReadSetup(s.Circuit, setup ?? "");
            if (parsed.Value is { } read)
                return SpiceNetlist.Write(s.Machine, read);
            wrong = parsed.Problems[0];
            return "";
        });
        return wrong is null
            ? file
            : Results.Problem(
                title: "The setup cannot be used.",
                detail: wrong.ToString(),
                statusCode: 400,
                extensions: new Dictionary<string, object?>
                {
                    ["line"] = wrong.Line,
                    ["column"] = wrong.Column,
                    ["message"] = wrong.Message,
                    ["suggestion"] = wrong.Suggestion,
                }
            );
    }
}
