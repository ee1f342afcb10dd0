using System.Runtime.CompilerServices;
using Zoltric.Store;

namespace Zoltric.Web.Api;

/// <summary>
/// Tells a screen that has a job open when something was kept in it: a stream of server-sent events, each the mark of what stands in the
/// job. The screen fetches the job itself when the mark is not its own.
/// </summary>
internal static class JobLive
{
    /// <summary>How often a job is looked at while a screen has it open.</summary>
    private static readonly TimeSpan Every = TimeSpan.FromMilliseconds(600);

    public static void MapJobLive(this WebApplication app) =>
        app.MapGet("/jobs/{id:long}/live", async (long id, JobStore jobs, IHostApplicationLifetime life, CancellationToken gone) =>
                await jobs.Mark(id) is null
                    ? Results.NotFound()
                    : TypedResults.ServerSentEvents(Marks(id, jobs, life.ApplicationStopping, gone), eventType: "mark")
            )
            .ExcludeFromDescription();

    private static async IAsyncEnumerable<string> Marks(
        long id,
        JobStore jobs,
        CancellationToken stopping,
        [EnumeratorCancellation] CancellationToken gone
    )
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(stopping, gone);
        string? last = null;
        while (!either.IsCancellationRequested && await jobs.Mark(id) is { } mark)
        {
            if (mark != last)
                yield return last = mark;
            // Ended by the screen or by the server, it just ends.
            await Task.Delay(Every, either.Token).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
