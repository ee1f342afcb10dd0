using Zoltric.Web.Instruments;

namespace Zoltric.Web.Api;

/// <summary>
/// Sends what the meter of a job shows to every screen that follows: a stream of server-sent events, one a reading. Where nothing is read
/// any
/// more it answers 204, which ends the stream for good (WHATWG HTML, server-sent events); anything else a browser calls an error, or asks
/// again.
/// </summary>
internal static class MeterLive
{
    public static void MapMeterLive(this WebApplication app)
    {
        app.MapGet("/jobs/{id:long}/meter/live", (long id, MeterSessions sessions, IHostApplicationLifetime life, CancellationToken gone) =>
                sessions.Of(id) is { } session
                    ? TypedResults.ServerSentEvents(Until(session.Watch, life.ApplicationStopping, gone), eventType: "shown")
                    : Results.NoContent()
            )
            .ExcludeFromDescription();
        app.MapGet("/jobs/{id:long}/watch/live", (long id, WatchSessions sessions, IHostApplicationLifetime life, CancellationToken gone) =>
                sessions.Of(id) is { } session
                    ? TypedResults.ServerSentEvents(Until(session.Watch, life.ApplicationStopping, gone), eventType: "shown")
                    : Results.NoContent()
            )
            .ExcludeFromDescription();
    }

    private static async IAsyncEnumerable<T> Until<T>(
        Func<CancellationToken, IAsyncEnumerable<T>> watch,
        CancellationToken stopping,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken gone
    )
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(stopping, gone);
        await foreach (var shown in watch(either.Token))
            yield return shown;
    }
}
