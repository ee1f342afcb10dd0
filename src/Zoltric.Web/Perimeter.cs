using System.Net;

namespace Zoltric.Web;

/// <summary>
/// Who may speak to this server: requests for a name that is this machine's, and writes that come from its own pages or from programs. A
/// page of another site can make a browser send a request here; its name or its origin gives it away.
/// </summary>
internal static class Perimeter
{
    /// <summary>
    /// What a page may load: what is here. Styles may stand in the page (shares as widths of bars, the sheet editor's own); pictures may be
    /// made by it (a drawing saved as one).
    /// </summary>
    public const string ContentPolicy =
        "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; object-src 'none'; "
        + "base-uri 'self'; form-action 'self'; frame-ancestors 'none'";

    /// <summary>Refuses what comes under another machine's name (421) and writes from another site (403).</summary>
    public static void UsePerimeter(this WebApplication app)
    {
        var names = NamesOf(app.Configuration).Append(Environment.MachineName).ToHashSet(StringComparer.OrdinalIgnoreCase);
        app.Use(
            async (context, next) =>
            {
                var request = context.Request;
                if (!IsOurs(request.Host.Host, names))
                    await Refuse(
                        context,
                        StatusCodes.Status421MisdirectedRequest,
                        $"This server is not known as {request.Host.Host}. Names beside this machine's own are given with Zoltric:Hosts."
                    );
                else if (!IsRead(request.Method) && !IsSameSite(request))
                    await Refuse(context, StatusCodes.Status403Forbidden, "Another site cannot write here.");
                else
                    await next();
            }
        );
    }

    /// <summary>Names that this server goes by, beside its own.</summary>
    internal static string[] NamesOf(IConfiguration configuration) =>
        (configuration["Zoltric:Hosts"] ?? "").Split([',', ';', ' '], StringSplitOptions.RemoveEmptyEntries);

    /// <summary>
    /// An address in figures is nobody's name, and a name without a dot or under a suffix of local networks can be had by nobody elsewhere
    /// (RFC 6762 .local, RFC 8375 .home.arpa, RFC 6761 .localhost; .internal is kept for private use by ICANN).
    /// </summary>
    private static bool IsOurs(string host, HashSet<string> names) =>
        names.Contains(host)
        || !host.Contains('.', StringComparison.Ordinal)
        || IPAddress.TryParse(host.Trim('[', ']'), out _)
        || Array.Exists(LocalSuffixes, s => host.EndsWith(s, StringComparison.OrdinalIgnoreCase));

    private static readonly string[] LocalSuffixes = [".local", ".home.arpa", ".localhost", ".internal"];

    private static bool IsRead(string method) => HttpMethods.IsGet(method) || HttpMethods.IsHead(method) || HttpMethods.IsOptions(method);

    /// <summary>Programs send neither header; a browser always sends one of them with a write.</summary>
    private static bool IsSameSite(HttpRequest request) =>
        request.Headers["Sec-Fetch-Site"].ToString() is "" or "same-origin" or "none"
        && (
            request.Headers.Origin.ToString() is not { Length: > 0 } origin
            || Uri.TryCreate(origin, UriKind.Absolute, out var from)
                && from.Authority.Equals(new Uri($"{request.Scheme}://{request.Host}").Authority, StringComparison.OrdinalIgnoreCase)
        );

    private static Task Refuse(HttpContext context, int status, string say)
    {
        context.Response.StatusCode = status;
        return context.Response.WriteAsync(say);
    }
}
