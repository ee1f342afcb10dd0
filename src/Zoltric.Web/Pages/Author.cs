namespace Zoltric.Web.Pages;

/// <summary>Who writes: a name in a cookie, asked for when a job is opened.</summary>
internal static class Author
{
    private const string Cookie = "zoltric-name";

    public static string Name(HttpContext http) => http.Request.Cookies[Cookie] is { Length: > 0 } name ? name : "technician";

    public static void Keep(HttpContext http, string? name)
    {
        if (string.IsNullOrWhiteSpace(name))
            return;
        var clipped = name.Trim();
        http.Response.Cookies.Append(
            Cookie,
            clipped.Length > 60 ? clipped[..60] : clipped,
            new CookieOptions
            {
                MaxAge = TimeSpan.FromDays(365),
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
            }
        );
    }
}
