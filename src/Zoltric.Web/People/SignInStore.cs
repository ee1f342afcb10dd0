using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Zoltric.Store;

namespace Zoltric.Web.People;

/// <summary>The framework's identity on the workshop's own table: names, PIN hashes, stamps of sessions, lock-out after failures.</summary>
public sealed class SignInStore(PeopleStore people)
    : IUserPasswordStore<PersonRow>,
        IUserSecurityStampStore<PersonRow>,
        IUserLockoutStore<PersonRow>
{
    public Task<string> GetUserIdAsync(PersonRow user, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(user);
        return Task.FromResult(user.Id.ToString(CultureInfo.InvariantCulture));
    }

    public Task<string?> GetUserNameAsync(PersonRow user, CancellationToken cancellationToken) => Task.FromResult<string?>(user?.Name);

    public Task SetUserNameAsync(PersonRow user, string? userName, CancellationToken cancellationToken) =>
        Set(user, p => p.Name = userName ?? "");

    public Task<string?> GetNormalizedUserNameAsync(PersonRow user, CancellationToken cancellationToken) =>
        Task.FromResult<string?>(user?.NormalName);

    public Task SetNormalizedUserNameAsync(PersonRow user, string? normalizedName, CancellationToken cancellationToken) =>
        Set(user, p => p.NormalName = normalizedName ?? "");

    public async Task<IdentityResult> CreateAsync(PersonRow user, CancellationToken cancellationToken)
    {
        await people.Add(user);
        return IdentityResult.Success;
    }

    public async Task<IdentityResult> UpdateAsync(PersonRow user, CancellationToken cancellationToken)
    {
        await people.Update(user);
        return IdentityResult.Success;
    }

    /// <summary>Nobody is taken away: names stand in the record.</summary>
    public async Task<IdentityResult> DeleteAsync(PersonRow user, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(user);
        user.Active = false;
        return await UpdateAsync(user, cancellationToken);
    }

    public Task<PersonRow?> FindByIdAsync(string userId, CancellationToken cancellationToken) =>
        long.TryParse(userId, NumberStyles.None, CultureInfo.InvariantCulture, out var id)
            ? people.Find(id)
            : Task.FromResult<PersonRow?>(null);

    public Task<PersonRow?> FindByNameAsync(string normalizedUserName, CancellationToken cancellationToken) =>
        people.Find(normalizedUserName);

    public Task SetPasswordHashAsync(PersonRow user, string? passwordHash, CancellationToken cancellationToken) =>
        Set(user, p => p.PinHash = passwordHash);

    public Task<string?> GetPasswordHashAsync(PersonRow user, CancellationToken cancellationToken) => Task.FromResult(user?.PinHash);

    public Task<bool> HasPasswordAsync(PersonRow user, CancellationToken cancellationToken) => Task.FromResult(user?.PinHash is not null);

    public Task SetSecurityStampAsync(PersonRow user, string stamp, CancellationToken cancellationToken) => Set(user, p => p.Stamp = stamp);

    public Task<string?> GetSecurityStampAsync(PersonRow user, CancellationToken cancellationToken) =>
        Task.FromResult<string?>(user?.Stamp);

    public Task<DateTimeOffset?> GetLockoutEndDateAsync(PersonRow user, CancellationToken cancellationToken) =>
        Task.FromResult<DateTimeOffset?>(
            user?.LockedUntil is { } at ? DateTimeOffset.Parse(at, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal) : null
        );

    public Task SetLockoutEndDateAsync(PersonRow user, DateTimeOffset? lockoutEnd, CancellationToken cancellationToken) =>
        Set(user, p => p.LockedUntil = lockoutEnd?.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture));

    public Task<int> IncrementAccessFailedCountAsync(PersonRow user, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(user);
        return Task.FromResult(++user.Failures);
    }

    public Task ResetAccessFailedCountAsync(PersonRow user, CancellationToken cancellationToken) => Set(user, p => p.Failures = 0);

    public Task<int> GetAccessFailedCountAsync(PersonRow user, CancellationToken cancellationToken) => Task.FromResult(user?.Failures ?? 0);

    public Task<bool> GetLockoutEnabledAsync(PersonRow user, CancellationToken cancellationToken) => Task.FromResult(true);

    public Task SetLockoutEnabledAsync(PersonRow user, bool enabled, CancellationToken cancellationToken) => Task.CompletedTask;

    public void Dispose() { }

    private static Task Set(PersonRow user, Action<PersonRow> change)
    {
        ArgumentNullException.ThrowIfNull(user);
        change(user);
        return Task.CompletedTask;
    }
}
