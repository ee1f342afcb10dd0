using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.People;

/// <summary>Lets a phone in by the code that stands on the server's own screen.</summary>
public sealed class PairModel(Pairing pairing) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? Code { get; set; }

    public string? Problem { get; private set; }

    /// <summary>The code as it stands on the server's own screen; null elsewhere.</summary>
    public string? Shown { get; private set; }

    /// <summary>Addresses under which phones reach this server, each with its picture to be read by a camera.</summary>
    public IReadOnlyList<(string Address, string Picture)> Addresses { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync()
    {
        if (Phones.IsOwnScreen(HttpContext))
        {
            Shown = pairing.Code;
            Addresses = [.. LocalAddresses.Of(Request).Select(a => (a, QrPicture.Of($"{a}/people/pair?code={pairing.Code}")))];
        }
        else if (await Phones.IsPaired(HttpContext))
            return Redirect("/people/sign-in");
        return Page();
    }

    public async Task<IActionResult> OnPostAsync()
    {
        if (pairing.Matches(Code))
        {
            await Phones.Pair(HttpContext);
            return Redirect("/people/sign-in");
        }
        Problem = "That is not the code. It stands on the server's screen and in its console; after ten wrong tries it is another one.";
        return Page();
    }
}
