using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;

namespace Zoltric.Web.Pages.People;

/// <summary>A name and a PIN, on a phone that was let in.</summary>
public sealed class SignInModel(PeopleStore people, SignInManager<PersonRow> sessions) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? Back { get; set; }

    [BindProperty]
    public string? Name { get; set; }

    [BindProperty]
    public string? Pin { get; set; }

    public IReadOnlyList<PersonRow> Everyone { get; private set; } = [];
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync() => await Known() ?? Page();

    public async Task<IActionResult> OnPostAsync()
    {
        if (await Known() is { } elsewhere)
            return elsewhere;
        var person = Everyone.FirstOrDefault(p => p.Name == Name);
        var result = person is null
            ? Microsoft.AspNetCore.Identity.SignInResult.Failed
            : await sessions.PasswordSignInAsync(person, Pin ?? "", isPersistent: true, lockoutOnFailure: true);
        if (result.Succeeded)
            return LocalRedirect(Back is { Length: > 0 } && Url.IsLocalUrl(Back) ? Back : "/");
        Problem = result.IsLockedOut
            ? "Too many wrong PINs: this name rests for five minutes. A lead can give it a new PIN at once."
            : "That PIN does not belong to that name.";
        return Page();
    }

    private async Task<IActionResult?> Known()
    {
        Everyone = [.. (await people.All()).Where(p => p.Active)];
        return Everyone.Count == 0 ? Redirect("/people/first") : null;
    }
}
