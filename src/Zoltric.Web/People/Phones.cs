using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Zoltric.Store;

namespace Zoltric.Web.People;

/// <summary>Phones that were let in: each has a cookie with its number, sealed.</summary>
public static class Phones
{
    private const string Cookie = "zoltric-phone",
        Purpose = "phone";
    private const int Days = 365;

    /// <summary>
    /// True at the server's own screen. A server behind a proxy on the same machine has none: <c>Zoltric:OwnScreen=false</c>.
    /// </summary>
    public static bool IsOwnScreen(HttpContext http)
    {
        ArgumentNullException.ThrowIfNull(http);
        return http.RequestServices.GetRequiredService<IConfiguration>().GetValue("Zoltric:OwnScreen", true)
            && http.Connection.RemoteIpAddress is { } from
            && IPAddress.IsLoopback(from);
    }

    public static async Task<bool> IsPaired(HttpContext http) =>
        IsOwnScreen(http)
        || http.Request.Cookies[Cookie] is { } sealedId
            && Open(http, sealedId) is { } id
            && await http.RequestServices.GetRequiredService<PeopleStore>().IsPaired(id);

    /// <summary>Gives a phone its cookie.</summary>
    public static async Task Pair(HttpContext http)
    {
        ArgumentNullException.ThrowIfNull(http);
        var agent = http.Request.Headers.UserAgent.ToString();
        var id = await http.RequestServices.GetRequiredService<PeopleStore>().Pair(agent.Length > 120 ? agent[..120] : agent);
        http.Response.Cookies.Append(
            Cookie,
            Protector(http).Protect(id.ToString(CultureInfo.InvariantCulture)),
            new CookieOptions
            {
                MaxAge = TimeSpan.FromDays(Days),
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
                Secure = http.Request.IsHttps,
            }
        );
    }

    private static IDataProtector Protector(HttpContext http) =>
        http.RequestServices.GetRequiredService<IDataProtectionProvider>().CreateProtector(Purpose);

    private static long? Open(HttpContext http, string sealedId)
    {
        try
        {
            return long.Parse(Protector(http).Unprotect(sealedId), CultureInfo.InvariantCulture);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
