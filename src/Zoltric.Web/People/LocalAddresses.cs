using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Zoltric.Web.People;

/// <summary>Addresses under which others reach this machine.</summary>
internal static class LocalAddresses
{
    /// <summary>With scheme and port of the request; empty where the server listens on its own machine only.</summary>
    public static IReadOnlyList<string> Of(HttpRequest request)
    {
        var server = request.HttpContext.RequestServices.GetRequiredService<IServer>();
        var listens = server.Features.Get<IServerAddressesFeature>()?.Addresses ?? [];
        if (listens.All(a => Uri.TryCreate(a, UriKind.Absolute, out var uri) && uri.IsLoopback))
            return [];
        // Where others may come by https only, that is what they are told.
        var secure = Tls.IsOn(request.HttpContext.RequestServices.GetRequiredService<IConfiguration>())
            ? Tls.Port(request.HttpContext)
            : null;
        return [.. All().Select(a => secure is { } port ? $"https://{a}:{port}" : $"{request.Scheme}://{a}:{request.Host.Port ?? 80}")];
    }

    /// <summary>IPv4 addresses of this machine in its networks.</summary>
    public static IReadOnlyList<IPAddress> All() =>
        [
            .. NetworkInterface
                .GetAllNetworkInterfaces()
                .Where(n => n.OperationalStatus == OperationalStatus.Up)
                .SelectMany(n => n.GetIPProperties().UnicastAddresses)
                .Select(a => a.Address)
                .Where(a => a.AddressFamily == AddressFamily.InterNetwork && !IPAddress.IsLoopback(a)),
        ];
}
