using System.Threading.RateLimiting;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.RateLimiting;
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

    /// <summary>Letters of a name at most.</summary>
    public const int MostName = 60;

    private const int MostFailures = 5;
    private static readonly TimeSpan LockOut = TimeSpan.FromMinutes(5),
        WorkingDay = TimeSpan.FromHours(12);

    /// <summary>Tries of a code or a PIN a minute, and other writes, from one address.</summary>
    private const int MostTries = 20,
        MostWrites = 300;

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
                if (!Door.IsWrite(http))
                    return RateLimitPartition.GetNoLimiter("");
                var door = Door.IsDoor(http.Request.Path);
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

    public static void SayPairing(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (IsOn(app.Configuration))
            Console.WriteLine(
                $"Workshop mode. Phones are let in at /people/pair by the code {app.Services.GetRequiredService<Pairing>().Code}"
            );
    }
}
