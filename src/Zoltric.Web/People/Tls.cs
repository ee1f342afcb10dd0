using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Zoltric.Web.People;

/// <summary>
/// <c>Zoltric:Tls</c>: the server's https addresses speak with a certificate of the workshop's own authority, and over plain http others
/// get no more than the page that hands that authority out.
/// </summary>
public static class Tls
{
    /// <summary>Where the authority is taken from.</summary>
    internal const string Page = "/trust";

    public static bool IsOn(IConfiguration configuration) => configuration.GetValue<bool>("Zoltric:Tls");

    public static void AddOwnTls(this WebApplicationBuilder builder, string dataFolder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        if (!IsOn(builder.Configuration))
            return;
        var authority = new OwnAuthority(
            Path.Combine(dataFolder, "tls"),
            [Environment.MachineName, .. Perimeter.NamesOf(builder.Configuration)],
            LocalAddresses.All,
            TimeProvider.System
        );
        builder.Services.AddSingleton(authority);
        builder.WebHost.ConfigureKestrel(o =>
            o.ConfigureHttpsDefaults(h => h.ServerCertificateSelector = (_, _) => authority.ServerCertificate())
        );
    }

    /// <summary>Sends who comes by plain http to https, but for the machine itself and for what is needed to trust it.</summary>
    public static void UseOwnTls(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (!IsOn(app.Configuration))
            return;
        app.Use(
            (http, next) =>
            {
                if (
                    http.Request.IsHttps
                    || http.Request.Path.StartsWithSegments(Page)
                    || http.Request.Path.Value is "/healthz" or "/readyz"
                    || Phones.IsOwnScreen(http)
                    || Port(http) is not { } port
                )
                    return next();
                http.Response.Redirect($"https://{http.Request.Host.Host}:{port}{http.Request.Path}{http.Request.QueryString}");
                return Task.CompletedTask;
            }
        );
    }

    /// <summary>The certificate of the workshop's own authority, as phones take it in.</summary>
    public static void MapTrust(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        if (app.Services.GetService<OwnAuthority>() is { } authority)
            app.MapGet("/trust/zoltric-workshop.crt", () =>
                    Results.File(authority.Certificate, "application/x-x509-ca-cert", "zoltric-workshop.crt")
                )
                .ExcludeFromDescription();
    }

    /// <summary>The port that speaks https; null where none does.</summary>
    internal static int? Port(HttpContext http) =>
        (http.RequestServices.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()?.Addresses ?? [])
            .Select(a => BindingAddress.Parse(a))
            .FirstOrDefault(a => a.Scheme == "https")
            ?.Port;
}
