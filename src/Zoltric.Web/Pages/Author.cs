using Zoltric.Web.People;

namespace Zoltric.Web.Pages;

/// <summary>
/// Who writes. In a workshop it is who signed in, whatever a form or a cookie says; on a machine of one's own a name in a cookie, asked for
/// when a job is opened.
/// </summary>
internal static class Author
{
    private const string Cookie = "zoltric-name";

    /// <summary>True where the name is that of somebody who signed in.</summary>
    public static bool IsProved(HttpContext http) => Door.IsSignedIn(http);

    public static string Name(HttpContext http) =>
        IsProved(http) && http.User.Identity!.Name is { } proved ? proved
        : http.Request.Cookies[Cookie] is { Length: > 0 } name ? name
        : "technician";

    /// <summary>The name under which a form is kept: what it says, on a machine of one's own.</summary>
    public static string Name(HttpContext http, string? written) =>
        IsProved(http) || string.IsNullOrWhiteSpace(written) ? Name(http)
        : written.Trim() is { Length: > Workshop.MostName } t ? t[..Workshop.MostName]
        : written.Trim();

    public static void Keep(HttpContext http, string? name)
    {
        if (string.IsNullOrWhiteSpace(name) || IsProved(http))
            return;
        http.Response.Cookies.Append(
            Cookie,
            Name(http, name),
            new CookieOptions
            {
                MaxAge = TimeSpan.FromDays(365),
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
            }
        );
    }
}
