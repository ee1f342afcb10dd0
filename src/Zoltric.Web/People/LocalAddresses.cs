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
        return
        [
            .. NetworkInterface
                .GetAllNetworkInterfaces()
                .Where(n => n.OperationalStatus == OperationalStatus.Up)
                .SelectMany(n => n.GetIPProperties().UnicastAddresses)
                .Select(a => a.Address)
                .Where(a => a.AddressFamily == AddressFamily.InterNetwork && !IPAddress.IsLoopback(a))
                .Select(a => $"{request.Scheme}://{a}:{request.Host.Port ?? 80}"),
        ];
    }
}
