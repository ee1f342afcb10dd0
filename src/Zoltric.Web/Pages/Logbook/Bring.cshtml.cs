using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.Import;

namespace Zoltric.Web.Pages.Logbook;

/// <summary>What a job file would bring, before any of it is kept: brought in by one, or left.</summary>
public sealed class BringModel(ImportStore imports, LogbookStore logbook) : PageModel
{
    public WaitingFile Waiting { get; private set; } = null!;
    public JobFile Job { get; private set; } = null!;
    public Meets Meets { get; private set; } = null!;

    /// <summary>Everybody who says or signs something in it.</summary>
    public IReadOnlyList<string> People =>
        [
            .. Job
                .Lines.Select(l => l.Author)
                .Concat(Job.Safety.Select(s => s.Author))
                .Concat(Job.Notes.Select(n => n.Author))
                .Append(Job.Author)
                .Where(a => a.Length > 0)
                .Distinct(StringComparer.OrdinalIgnoreCase)
                .Order(StringComparer.OrdinalIgnoreCase),
        ];

    private async Task<bool> Read(string id)
    {
        if (await imports.Find(id) is not { } waiting || JobFileReader.Read(waiting.Data).Job is not { } file)
            return false;
        (Waiting, Job, Meets) = (waiting, file, await imports.WhatItMeets(file));
        return true;
    }

    public async Task<IActionResult> OnGetAsync(string id) => await Read(id) ? Page() : NotFound();

    public async Task<IActionResult> OnPostAsync(string id)
    {
        if (!await Read(id))
            return NotFound();
        var job = await imports.Bring(Waiting.Name, Job, Author.Name(HttpContext), Waiting.Id);
        if (Job.ClosedAt is null)
            return RedirectToPage("/Trace/Index", new { id = job });
        await logbook.Index(job);
        return RedirectToPage("/Report/Index", new { id = job });
    }

    public async Task<IActionResult> OnPostLeaveAsync(string id)
    {
        await imports.Drop(id);
        return RedirectToPage("/Logbook/Index");
    }
}
