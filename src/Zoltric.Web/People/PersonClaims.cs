using System.Security.Claims;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Zoltric.Store;

namespace Zoltric.Web.People;

/// <summary>A session says who it is and what they are here.</summary>
internal sealed class PersonClaims(UserManager<PersonRow> people, IOptions<IdentityOptions> options)
    : UserClaimsPrincipalFactory<PersonRow>(people, options)
{
    protected override async Task<ClaimsIdentity> GenerateClaimsAsync(PersonRow user)
    {
        var identity = await base.GenerateClaimsAsync(user);
        identity.AddClaim(new Claim(ClaimTypes.Role, user.Role));
        return identity;
    }
}
