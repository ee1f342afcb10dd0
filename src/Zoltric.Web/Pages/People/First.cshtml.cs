using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.People;

/// <summary>The first lead of a workshop that knows nobody yet.</summary>
public sealed class FirstModel(PeopleStore people, UserManager<PersonRow> manager, SignInManager<PersonRow> sessions) : PageModel
{
    [BindProperty]
    public string? Name { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Known() ?? Page();

    public async Task<IActionResult> OnPostAsync()
    {
        if (await Known() is { } elsewhere)
            return elsewhere;
        Problem = await Newcomer.Add(manager, Name, Workshop.Lead, Pin);
        if (Problem is not null)
            return Page();
        var person = (await people.All())[0];
        await sessions.SignInAsync(person, isPersistent: true);
        return Redirect("/people");
    }

    private async Task<IActionResult?> Known() => (await people.All()).Count > 0 ? Redirect("/people/sign-in") : null;
}
