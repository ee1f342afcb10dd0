using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.People;

/// <summary>Ends a session on this phone.</summary>
public sealed class SignOutModel(IConfiguration configuration) : PageModel
{
    public async Task<IActionResult> OnPostAsync()
    {
        if (!Workshop.IsOn(configuration))
            return NotFound();
        await HttpContext.RequestServices.GetRequiredService<SignInManager<PersonRow>>().SignOutAsync();
        return Redirect("/people/sign-in");
    }
}
