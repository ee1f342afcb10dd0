using System.Globalization;
using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using Zoltric.Store;

namespace Zoltric.Web.People;

/// <summary>What everybody passes in a workshop: phone, name, role, and whether a job is in their hands.</summary>
public static class Door
{
    /// <summary>Lets in who may come in, each to what is theirs.</summary>
    public static void UseWorkshop(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (!Workshop.IsOn(app.Configuration))
        {
            app.Use(
                (http, next) =>
                {
                    if (!http.Request.Path.StartsWithSegments("/people"))
                        return next();
                    http.Response.StatusCode = StatusCodes.Status404NotFound;
                    return Task.CompletedTask;
                }
            );
            return;
        }
        app.UseAuthentication();
        app.Use(
            async (http, next) =>
            {
                var path = http.Request.Path;
                if (path.Value is Pairing.Page or NoNetwork or "/healthz" or "/readyz" || path.StartsWithSegments(Tls.Page))
                    await next();
                else if (path.StartsWithSegments("/api") || path.StartsWithSegments("/openapi") || path == "/metrics")
                    await (await IsProgram(http) || IsSignedIn(http) && await Phones.IsPaired(http) ? next() : RefuseProgram(http));
                else if (!await Phones.IsPaired(http))
                    Send(http, Pairing.Page);
                else if (IsDoor(path))
                    await next();
                else if (!IsSignedIn(http))
                    Send(http, "/people/sign-in?back=" + Uri.EscapeDataString(Back(http)));
                else if ((MayNot(http) ?? await HeldByAnother(http)) is { } why)
                    await Refuse(http, why);
                else
                    await next();
            }
        );
    }

    /// <summary>What a phone shows where it has no network and nothing kept.</summary>
    internal const string NoNetwork = "/no-network";

    /// <summary>What stands for a token in the store.</summary>
    public static string HashOf(string token) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    /// <summary>Pages that are open to who has not come in yet.</summary>
    internal static bool IsDoor(PathString path) => path.Value is Pairing.Page or "/people/sign-in" or "/people/first";

    internal static bool IsSignedIn(HttpContext http) => http.User.Identity?.IsAuthenticated == true;

    internal static bool IsWrite(HttpContext http) => !HttpMethods.IsGet(http.Request.Method) && !HttpMethods.IsHead(http.Request.Method);

    /// <summary>Why a person may not do this here; null where they may.</summary>
    private static string? MayNot(HttpContext http)
    {
        var path = http.Request.Path;
        if (path.StartsWithSegments("/people") && path.Value != "/people/sign-out" && !http.User.IsInRole(Workshop.Lead))
            return "Only a lead looks after people, phones and programs.";
        if (path.StartsWithSegments("/upkeep") && !http.User.IsInRole(Workshop.Lead))
            return "Only a lead looks after the server and its backups.";
        if (!IsWrite(http) || !http.User.IsInRole(Workshop.Office) || path.Value == "/people/sign-out")
            return null;
        // The office reads everything and writes what stands on a report.
        return path.Value!.EndsWith("/report", StringComparison.Ordinal) ? null : "The office reads jobs and does not work on them.";
    }

    /// <summary>
    /// Why somebody may not write in a job: another has it in hand. Words, locks and proofs of dead are each person's own, and notes on a
    /// report anybody's; a reading is refused on its page, beside what was written.
    /// </summary>
    private static async Task<string?> HeldByAnother(HttpContext http)
    {
        if (
            !IsWrite(http)
            || http.Request.Path.Value!.Split('/', StringSplitOptions.RemoveEmptyEntries) is not ["jobs", var written, var page]
            || page is not ("trace" or "repair" or "intake" or "meter" or "captures")
            || !long.TryParse(written, NumberStyles.None, CultureInfo.InvariantCulture, out var id)
            || http.Request.Query["handler"].ToString().ToLowerInvariant() is "takeover" or "reading"
            || await http.RequestServices.GetRequiredService<JobStore>().Find(id) is not { ClosedAt: null } job
            || job.Holder == http.User.Identity!.Name
        )
            return null;
        return $"{job.Holder} has this job in hand. Take it over on its trace first.";
    }

    private static async Task<bool> IsProgram(HttpContext http)
    {
        const string scheme = "Bearer ";
        if (
            http.Request.Headers.Authorization.ToString() is not { } written
            || !written.StartsWith(scheme, StringComparison.OrdinalIgnoreCase)
            || await http.RequestServices.GetRequiredService<PeopleStore>().PersonOfToken(HashOf(written[scheme.Length..].Trim()))
                is not { } person
        )
            return false;
        http.User = new ClaimsPrincipal(
            new ClaimsIdentity([new Claim(ClaimTypes.Name, person.Name), new Claim(ClaimTypes.Role, person.Role)], "token")
        );
        return true;
    }

    private static Task RefuseProgram(HttpContext http)
    {
        http.Response.StatusCode = StatusCodes.Status401Unauthorized;
        http.Response.Headers.WWWAuthenticate = "Bearer";
        return http.Response.WriteAsync("A token is wanted: Authorization: Bearer … A lead makes one at /people.");
    }

    private static Task Refuse(HttpContext http, string why)
    {
        http.Response.StatusCode = StatusCodes.Status403Forbidden;
        return http.Response.WriteAsync(why);
    }

    /// <summary>Where to come back to: the page itself, or for a write the page it was on.</summary>
    private static string Back(HttpContext http) => IsWrite(http) ? http.Request.Path : http.Request.Path + http.Request.QueryString.Value;

    private static void Send(HttpContext http, string to)
    {
        // A part of a page that is asked for by script goes there as a whole.
        if (http.Request.Headers.ContainsKey("HX-Request"))
            (http.Response.StatusCode, http.Response.Headers["HX-Redirect"]) = (StatusCodes.Status401Unauthorized, to);
        else
            http.Response.Redirect(to);
    }
}
