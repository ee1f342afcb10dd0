using System.Reflection;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.Upkeep;

/// <summary>How the server is, and its backups.</summary>
public sealed class IndexModel(Database database, Backups backups, JobStore jobs) : PageModel
{
    public string? WhyNotReady { get; private set; }
    public long StoreBytes { get; private set; }
    public long FreeBytes { get; private set; }
    public (long Open, long Closed) Jobs { get; private set; }
    public IReadOnlyList<BackupFile> Kept { get; private set; } = [];
    public string Folder => backups.Folder;
    public string? Problem { get; private set; }

    public static string Version { get; } =
        typeof(IndexModel).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()?.InformationalVersion.Split('+')[0] ?? "";

    public async Task OnGetAsync() => await Fill();

    public async Task<IActionResult> OnPostAsync()
    {
        Problem = await Task.Run(backups.Make, HttpContext.RequestAborted);
        if (Problem is null)
            return RedirectToPage();
        await Fill();
        return Page();
    }

    private async Task Fill()
    {
        WhyNotReady = database.WhyNotReady();
        (StoreBytes, FreeBytes) = (database.Bytes, database.FreeBytes);
        Kept = backups.All();
        Jobs = await jobs.CountAll();
    }

    /// <summary>Megabytes, or gigabytes from ten on, as a person reads them.</summary>
    public static string Said(long bytes) => bytes >= 10L << 30 ? $"{bytes >> 30} GB" : $"{Math.Max(1, (bytes + (1 << 19)) >> 20)} MB";
}
