using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Core.Notation;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Pages.Figures;

/// <summary>One bench of figures. All that is written in it stands in the address.</summary>
public sealed class OneModel(JobDesk desk) : PageModel
{
    /// <summary>Field in which what was read is written.</summary>
    private const string Read = "read";

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

    /// <summary>The reading that was written, as a line of the job without its result; null where it is none.</summary>
    public string? Line { get; private set; }

    private IReadOnlyDictionary<string, string>? _fromSheet;

    public async Task<IActionResult> OnGetAsync()
    {
        if (!FigureSheet.All.TryGetValue(Name, out var figures))
            return NotFound();
        Figures = figures;
        if (Job is { } id)
        {
            if ((View = await desk.Load(id)) is not { } view)
                return NotFound();
            if (Part is { } tag && view.Circuit.FindPart(tag) is { } part && figures.From(view.Circuit, part) is { } from)
            {
                (OfPart, _fromSheet) = (part, from);
                Line = view.Closed ? null : figures.Line(view.Circuit, part);
            }
        }
        var (values, problems) = FigureReader.Read(figures, field =>
            figures.Fields.First(f => f.Name == field) is var f ? Written(f) : null
        );
        Problems = problems;
        if (values is null)
            return Page();
        try
        {
            Result = figures.Work(values);
        }
        catch (FigureException e)
        {
            Wrong = e.Message;
        }
        return Page();
    }

    /// <summary>What stands in a field: what was written, else what the sheet says, else an example.</summary>
    public string Written(FigureField field)
    {
        ArgumentNullException.ThrowIfNull(field);
        return Request.Query.TryGetValue(field.Name, out var written) ? written.ToString()
            : _fromSheet?.TryGetValue(field.Name, out var said) == true ? said
            : field.Example;
    }

    /// <summary>What was read, as a result of the notation: with its unit.</summary>
    public string? ReadText =>
        Request.Query[Read].ToString().Trim().Replace(',', '.') is not { Length: > 0 } text || !Result!.Rows.Any() ? null
        : QuantityText.TryParse(text, out var q) && q.Dimension == Dimension.None
            ? text + Units.Short(Figures.Fields.First(f => f.Name == Read).Dimension)
        : text;
}
