using Microsoft.AspNetCore.Identity;
using Zoltric.Store;

namespace Zoltric.Web.People;

/// <summary>Somebody new, with a first PIN.</summary>
internal static class Newcomer
{
    /// <returns>Why not, or null.</returns>
    public static async Task<string?> Add(UserManager<PersonRow> people, string? name, string? role, string? pin)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > Workshop.MostName)
            return "A name is wanted, of 60 letters at most.";
        if (role is null || !Workshop.Roles.Contains(role))
            return "Choose a role.";
        var person = new PersonRow { Name = name.Trim(), Role = role };
        if (await WhyNot(people, person, pin) is { } problem)
            return problem;
        var made = await people.CreateAsync(person, pin!);
        return made.Succeeded ? null : "That name is here already. Two people want two names.";
    }

    /// <summary>Why a PIN is none, or null.</summary>
    public static async Task<string?> WhyNot(UserManager<PersonRow> people, PersonRow person, string? pin)
    {
        foreach (var check in people.PasswordValidators)
            if (!(await check.ValidateAsync(people, person, pin ?? "")).Succeeded)
                return $"A PIN has {Workshop.LeastPin} figures or more, and at least three different ones.";
        return null;
    }
}
