using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.Trust;

/// <summary>Hands out the certificate of the workshop's own authority.</summary>
public sealed class IndexModel : PageModel
{
    public string Fingerprint { get; private set; } = "";

    /// <summary>Where the server speaks https, by the name that this page was asked for.</summary>
    public string Secure { get; private set; } = "";

    /// <summary>On the server's own screen: addresses of this page, each with its picture.</summary>
    public IReadOnlyList<(string Address, string Picture)> Pictures { get; private set; } = [];

    public IActionResult OnGet()
    {
        if (HttpContext.RequestServices.GetService<OwnAuthority>() is not { } authority)
            return NotFound();
        Fingerprint = authority.Fingerprint;
        Secure = $"https://{Request.Host.Host}:{Tls.Port(HttpContext)}/";
        if (Phones.IsOwnScreen(HttpContext) && !Request.IsHttps)
            Pictures =
            [
                .. LocalAddresses.All().Select(a => $"http://{a}:{Request.Host.Port ?? 80}{Tls.Page}").Select(a => (a, QrPicture.Of(a))),
            ];
        return Page();
    }
}
