using System.Globalization;
using System.Net;
using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.RateLimiting;
using Microsoft.Extensions.Options;
using Zoltric.Store;

namespace Zoltric.Web.People;

/// <summary>
/// Workshop mode, <c>Zoltric:Workshop</c>: who comes over the network is let in by a phone that was paired and a name with a PIN. Names on
/// readings, words, locks and closings are those of the session. Without it the server is one person's, on one machine, and open.
/// </summary>
public static class Workshop
{
    public const string Lead = "lead",
        Technician = "technician",
        Instructor = "instructor",
        Office = "office";

    public static IReadOnlyList<string> Roles { get; } = [Technician, Lead, Instructor, Office];

    /// <summary>Figures of a PIN at least.</summary>
    public const int LeastPin = 6;

    private const int MostFailures = 5;
    private static readonly TimeSpan LockOut = TimeSpan.FromMinutes(5),
        WorkingDay = TimeSpan.FromHours(12);

    /// <summary>Tries of a code or a PIN a minute, and other writes, from one address.</summary>
    private const int MostTries = 20,
        MostWrites = 300;

    private const string PhoneCookie = "zoltric-phone",
        PhonePurpose = "phone";
    private const int PhoneDays = 365;

    public static bool IsOn(IConfiguration configuration) => configuration.GetValue<bool>("Zoltric:Workshop");

    public static void AddWorkshop(this WebApplicationBuilder builder, string dataFolder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        var services = builder.Services;
        services.AddSingleton<PeopleStore>();
        services.AddSingleton<Pairing>();
        if (!IsOn(builder.Configuration))
            return;
        // Keys of cookies live beside the data: a server that is moved keeps its sessions, and nobody else's home is touched.
        services.AddDataProtection().PersistKeysToFileSystem(Keys(dataFolder));
        services.AddHttpContextAccessor();
        services.AddAuthentication(IdentityConstants.ApplicationScheme).AddIdentityCookies();
        services.ConfigureApplicationCookie(o =>
        {
            (o.Cookie.Name, o.Cookie.HttpOnly, o.Cookie.SameSite) = ("zoltric-person", true, SameSiteMode.Lax);
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            (o.ExpireTimeSpan, o.SlidingExpiration) = (WorkingDay, true);
        });
        services
            .AddIdentityCore<PersonRow>(o =>
            {
                o.User.AllowedUserNameCharacters = "";
                (o.Password.RequiredLength, o.Password.RequireDigit) = (LeastPin, true);
                (o.Password.RequireLowercase, o.Password.RequireUppercase, o.Password.RequireNonAlphanumeric) = (false, false, false);
                o.Password.RequiredUniqueChars = 3;
                (o.Lockout.MaxFailedAccessAttempts, o.Lockout.DefaultLockoutTimeSpan) = (MostFailures, LockOut);
            })
            .AddUserStore<SignInStore>()
            .AddClaimsPrincipalFactory<PersonClaims>()
            .AddSignInManager();
        // Who was put out is out with the next request.
        services.Configure<SecurityStampValidatorOptions>(o => o.ValidationInterval = TimeSpan.Zero);
        services.Configure<RateLimiterOptions>(o =>
        {
            o.GlobalLimiter = PartitionedRateLimiter.Create<HttpContext, string>(http =>
            {
                if (HttpMethods.IsGet(http.Request.Method) || HttpMethods.IsHead(http.Request.Method))
                    return RateLimitPartition.GetNoLimiter("");
                var door = IsDoor(http.Request.Path);
                return RateLimitPartition.GetFixedWindowLimiter(
                    $"{http.Connection.RemoteIpAddress} {door}",
                    _ => new FixedWindowRateLimiterOptions
                    {
                        PermitLimit = door ? MostTries : MostWrites,
                        Window = TimeSpan.FromMinutes(1),
                        QueueLimit = 0,
                    }
                );
            });
        });
    }

    /// <summary>The folder of the keys: its owner's and nobody else's.</summary>
    private static DirectoryInfo Keys(string dataFolder)
    {
        var folder = Directory.CreateDirectory(Path.Combine(dataFolder, "keys"));
        if (!OperatingSystem.IsWindows())
            folder.UnixFileMode = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
        return folder;
    }

    /// <summary>Lets in who may come in, each to what is theirs.</summary>
    public static void UseWorkshop(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (!IsOn(app.Configuration))
            return;
        app.UseAuthentication();
        app.Use(
            async (http, next) =>
            {
                var path = http.Request.Path;
                if (IsDoor(path) || path.Value is "/healthz" or "/readyz")
                    await next();
                else if (path.StartsWithSegments("/api") || path.StartsWithSegments("/openapi"))
                    await (await IsProgram(http) || IsSignedIn(http) && await IsPaired(http) ? next() : RefuseProgram(http));
                else if (!await IsPaired(http))
                    Send(http, "/people/pair");
                else if (!IsSignedIn(http))
                    Send(http, "/people/sign-in?back=" + Uri.EscapeDataString(Back(http)));
                else if ((MayNot(http) ?? await HeldByAnother(http)) is { } why)
                    await Refuse(http, why);
                else
                    await next();
            }
        );
    }

    public static void SayPairing(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (IsOn(app.Configuration))
            Console.WriteLine(
                $"Workshop mode. Phones are let in at /people/pair by the code {app.Services.GetRequiredService<Pairing>().Code}"
            );
    }

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
        || http.Request.Cookies[PhoneCookie] is { } sealedId
            && Open(http, sealedId) is { } id
            && await http.RequestServices.GetRequiredService<PeopleStore>().IsPaired(id);

    /// <summary>Gives a phone its cookie.</summary>
    public static async Task Pair(HttpContext http)
    {
        ArgumentNullException.ThrowIfNull(http);
        var agent = http.Request.Headers.UserAgent.ToString();
        var id = await http.RequestServices.GetRequiredService<PeopleStore>().Pair(agent.Length > 120 ? agent[..120] : agent);
        http.Response.Cookies.Append(
            PhoneCookie,
            Protector(http).Protect(id.ToString(CultureInfo.InvariantCulture)),
            new CookieOptions
            {
                MaxAge = TimeSpan.FromDays(PhoneDays),
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
                Secure = http.Request.IsHttps,
            }
        );
    }

    /// <summary>What stands for a token in the store.</summary>
    public static string HashOf(string token) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    private static IDataProtector Protector(HttpContext http) =>
        http.RequestServices.GetRequiredService<IDataProtectionProvider>().CreateProtector(PhonePurpose);

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

    private static bool IsDoor(PathString path) => path.Value is "/people/pair" or "/people/sign-in" or "/people/first";

    private static bool IsSignedIn(HttpContext http) => http.User.Identity?.IsAuthenticated == true;

    private static bool IsWrite(HttpContext http) => !HttpMethods.IsGet(http.Request.Method) && !HttpMethods.IsHead(http.Request.Method);

    /// <summary>Why a person may not do this here; null where they may.</summary>
    private static string? MayNot(HttpContext http)
    {
        var path = http.Request.Path;
        if (path.StartsWithSegments("/people") && path.Value != "/people/sign-out" && !http.User.IsInRole(Lead))
            return "Only a lead looks after people, phones and programs.";
        if (!IsWrite(http) || !http.User.IsInRole(Office) || path.Value == "/people/sign-out")
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
            || page is not ("trace" or "repair" or "intake")
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
