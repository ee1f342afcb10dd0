using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Core.Notation;
using Zoltric.Drawing.Schematic;
using Zoltric.Store;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Figures;

/// <summary>One bench of figures. All that is written in it stands in the address.</summary>
public sealed class OneModel(JobDesk desk, NoteStore notes, LogbookStore logbook) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string Name { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public long? Job { get; set; }

    /// <summary>Tag of the part whose values are taken from the sheet.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Part { get; set; }

    public FigureSheet Figures { get; private set; } = null!;
    public JobView? View { get; private set; }
    public Part? OfPart { get; private set; }
    public FigureResult? Result { get; private set; }
    public IReadOnlyDictionary<string, string> Problems { get; private set; } = new Dictionary<string, string>();

    /// <summary>Why values that are each possible make nothing together.</summary>
    public string? Wrong { get; private set; }

    private IReadOnlyDictionary<string, string>? _fromSheet;

    /// <summary>What it asks for, of this machine where there is one.</summary>
    public IReadOnlyList<FigureField> Fields { get; private set; } = [];

    /// <summary>What is worked out on the machine's own sheet.</summary>
    public IReadOnlyList<FigureTable> OnMachine { get; private set; } = [];

    /// <summary>The bus of the machine from end to end; none where the bench is about another thing.</summary>
    public IReadOnlyList<BusPlace> Backbone { get; private set; } = [];

    /// <summary>What it proposes to draw into the sheet; null for nothing.</summary>
    public FigureDraft? Draft { get; private set; }

    /// <summary>Readings of its fields as lines of the job with their results.</summary>
    public IReadOnlyList<string> Lines { get; private set; } = [];

    /// <summary>The circuit behind the figures; empty where none is.</summary>
    public string Drawing { get; private set; } = "";

    /// <summary>Why lines were not kept, each with its reason.</summary>
    public IReadOnlyList<string> NotKept { get; private set; } = [];

    /// <summary>What was kept just now.</summary>
    public string? Kept { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Fill() ? Page() : NotFound();

    /// <summary>Keeps readings in the job; what cannot be kept stays in its field, with the reason.</summary>
    public async Task<IActionResult> OnPostKeepAsync(string[] line)
    {
        ArgumentNullException.ThrowIfNull(line);
        if (!await Fill() || View is not { } view)
            return NotFound();
        var me = Author.Name(HttpContext);
        List<string> not = [];
        var kept = 0;
        foreach (var text in line.Take(MostLines))
        {
            var (after, refusal) = JobDesk.MayWrite(view, me, Author.IsProved(HttpContext)) is { } may
                ? new Added(view, may)
                : await desk.Add(view, text, me);
            if (refusal is null)
                kept++;
            else
                not.Add($"{text.Trim()}: {refusal.Problem.Message}");
            view = after;
        }
        (View, NotKept) = (view, not);
        Kept =
            kept == 0 ? null
            : kept == 1 ? "One reading is kept in the job."
            : $"{kept} readings are kept in the job.";
        return Page();
    }

    /// <summary>Keeps what was worked out as a note of the job.</summary>
    public async Task<IActionResult> OnPostNoteAsync()
    {
        if (!await Fill() || View is not { } view || Result is not { } result)
            return NotFound();
        var part = OfPart is { } p ? $" ({p.Spoken})" : "";
        var fits = result.Fits is { } f ? $" Fits {f.State}. {f.Follows}" : "";
        var given = string.Join(", ", Fields.Where(f => Written(f).Length > 0).Select(f => $"{f.Label}: {Written(f)}"));
        await notes.Add(
            view.Job.Id,
            $"{Figures.Title}{part}.{fits} {string.Join(' ', result.Says)} Given: {given}.",
            Author.Name(HttpContext)
        );
        await logbook.Index(view.Job.Id);
        Kept = "It is kept as a note and stands in the report.";
        return Page();
    }

    /// <summary>Address of a post: what was written stands in it.</summary>
    public string Post(string handler)
    {
        var written = Request.Query.Where(q => q.Key != "handler").SelectMany(q => q.Value, (q, v) => KeyValuePair.Create(q.Key, v));
        return $"/figures/{Name}{QueryString.Create(written.Prepend(KeyValuePair.Create("handler", (string?)handler)))}";
    }

    /// <summary>Most lines that one post keeps.</summary>
    private const int MostLines = 30;

    private async Task<bool> Fill()
    {
        if (!FigureSheet.All.TryGetValue(Name, out var figures))
            return false;
        (Figures, Fields) = (figures, figures.Fields);
        if (Job is { } id)
        {
            if ((View = await desk.Load(id)) is not { } view)
                return false;
            if (Part is { } tag && view.Circuit.FindPart(tag) is { } part && figures.From(view.Circuit, part) is { } from)
            {
                (OfPart, _fromSheet, Fields) = (part, from, figures.FieldsOn(view.Circuit));
                OnMachine = figures.OnMachine(view.Sheet.Machine, part, view.Readings);
                Backbone = figures is BusFigures ? BusLine.Of(view.Circuit, part) : [];
                Draft = figures.Drawn(view.Circuit, part, view.Job.SheetText);
            }
        }
        var byName = Fields.ToDictionary(f => f.Name, StringComparer.Ordinal);
        var (values, problems) = FigureReader.Read(Fields, field => Written(byName[field]));
        Problems = problems;
        if (values is null)
            return true;
        try
        {
            Result = figures.Work(values);
        }
        catch (FigureException e)
        {
            Wrong = e.Message;
            return true;
        }
        if (Result.Sheet is { } sheet && SheetReader.Read(sheet).Value is { } circuit)
            Drawing = PageSvg.Write(PageLayout.Of(circuit), new PageOptions { Id = "figure-svg" });
        if (View is { Closed: false } job && OfPart is { } of)
            Lines = [.. figures.Lines(job.Circuit, of, f => Read(byName.GetValueOrDefault(f)))];
        return true;
    }

    /// <summary>What somebody wrote in a field; null for a value that only stands there as an example: nobody has read it.</summary>
    private string? Read(FigureField? field) =>
        field is not null
        && Request.Query.TryGetValue(field.Name, out var written)
        && written.ToString().Trim() is var text
        && text != (_fromSheet?.GetValueOrDefault(field.Name) ?? field.Example)
            ? text
            : null;

    /// <summary>What stands in a field: what was written, else what the sheet says, else an example.</summary>
    public string Written(FigureField field)
    {
        ArgumentNullException.ThrowIfNull(field);
        return Request.Query.TryGetValue(field.Name, out var written) ? written.ToString()
            : _fromSheet?.TryGetValue(field.Name, out var said) == true ? said
            : field.Example;
    }
}
