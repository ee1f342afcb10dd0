using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Zoltric.Store;
using Zoltric.Web.People;

namespace Zoltric.Web.Pages.People;

/// <summary>People, the phones that were let in, and the programs that may call: what a lead looks after.</summary>
public sealed class IndexModel(PeopleStore people, UserManager<PersonRow> manager) : PageModel
{
    private const int TokenBytes = 32;

    public IReadOnlyList<PersonRow> Everyone { get; private set; } = [];
    public IReadOnlyList<PhoneRow> Phones { get; private set; } = [];
    public IReadOnlyList<ProgramRow> Programs { get; private set; } = [];
    public string? Problem { get; private set; }

    /// <summary>A token that was just made; it is shown this once.</summary>
    public string? Token { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        await Fill();
        return Page();
    }

    public async Task<IActionResult> OnPostAddAsync(string? name, string? role, string? pin) =>
        await Done(() => Newcomer.Add(manager, name, role, pin));

    public async Task<IActionResult> OnPostPinAsync(long id, string? pin) =>
        await Done(async () =>
        {
            if (await people.Find(id) is not { } person)
                return null;
            if (await Newcomer.WhyNot(manager, person, pin) is { } problem)
                return problem;
            await manager.RemovePasswordAsync(person);
            await manager.AddPasswordAsync(person, pin!);
            await manager.SetLockoutEndDateAsync(person, null);
            await manager.ResetAccessFailedCountAsync(person);
            return null;
        });

    /// <summary>Puts somebody out of use, or back in; either ends every session of theirs.</summary>
    public async Task<IActionResult> OnPostActiveAsync(long id, bool active) =>
        await Done(async () =>
        {
            if (await people.Find(id) is not { } person)
                return null;
            if (
                !active
                && person.Role == Workshop.Lead
                && !(await people.All()).Any(p => p.Active && p.Role == Workshop.Lead && p.Id != id)
            )
                return "Somebody has to lead: name another lead first.";
            person.Active = active;
            await manager.UpdateSecurityStampAsync(person);
            return null;
        });

    public async Task<IActionResult> OnPostSignOutAsync(long id) =>
        await Done(async () =>
        {
            if (await people.Find(id) is { } person)
                await manager.UpdateSecurityStampAsync(person);
            return null;
        });

    public async Task<IActionResult> OnPostPhoneAsync(long id) =>
        await Done(async () =>
        {
            await people.RevokePhone(id);
            return null;
        });

    public async Task<IActionResult> OnPostProgramAsync(string? name, long person)
    {
        if (
            string.IsNullOrWhiteSpace(name)
            || name.Trim().Length > Workshop.MostName
            || await people.Find(person) is not { Active: true } found
        )
            Problem = "Give the program a name, and say for whom it calls.";
        else
        {
            Token = "zt_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(TokenBytes));
            await people.AddProgram(name.Trim(), found.Id, Door.HashOf(Token));
        }
        await Fill();
        return Page();
    }

    public async Task<IActionResult> OnPostProgramOffAsync(long id) =>
        await Done(async () =>
        {
            await people.RevokeProgram(id);
            return null;
        });

    private async Task<IActionResult> Done(Func<Task<string?>> change)
    {
        Problem = await change();
        if (Problem is null)
            return RedirectToPage();
        await Fill();
        return Page();
    }

    private async Task Fill() => (Everyone, Phones, Programs) = (await people.All(), await people.Phones(), await people.Programs());
}
