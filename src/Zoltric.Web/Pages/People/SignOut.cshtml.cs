using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.People;

/// <summary>Ends a session on this phone.</summary>
public sealed class SignOutModel(SignInManager<PersonRow> sessions) : PageModel
{
    public async Task<IActionResult> OnPostAsync()
    {
        await sessions.SignOutAsync();
        return Redirect("/people/sign-in");
    }
}
