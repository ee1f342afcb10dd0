using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.People;

/// <summary>The first lead of a workshop that knows nobody yet.</summary>
public sealed class FirstModel(IConfiguration configuration, PeopleStore people) : PageModel
{
    [BindProperty]
    public string? Name { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Door() ?? Page();

    public async Task<IActionResult> OnPostAsync()
    {
        if (await Door() is { } elsewhere)
            return elsewhere;
        var services = HttpContext.RequestServices;
        Problem = await Newcomer.Add(services.GetRequiredService<UserManager<PersonRow>>(), Name, Workshop.Lead, Pin);
        if (Problem is not null)
            return Page();
        var person = (await people.All())[0];
        await services.GetRequiredService<SignInManager<PersonRow>>().SignInAsync(person, isPersistent: true);
        return Redirect("/people");
    }

    private async Task<IActionResult?> Door()
    {
        if (!Workshop.IsOn(configuration))
            return NotFound();
        if (!await Phones.IsPaired(HttpContext))
            return Redirect("/people/pair");
        return (await people.All()).Count > 0 ? Redirect("/people/sign-in") : null;
    }
}
