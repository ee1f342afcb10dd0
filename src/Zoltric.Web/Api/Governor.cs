using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Prometheus;
using Zoltric.Core.Solving;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Api;

/// <summary>
/// What each request may make this server compute. While technicians are at work heavy work leaves a core free for them and stands back
/// while one is answered; it ends when who asked for it has gone.
/// </summary>
internal static class Governor
{
    /// <summary>After a technician's last request programs have all cores again.</summary>
    private static readonly TimeSpan AtWork = TimeSpan.FromSeconds(30);

    public static void UseGovernor(this WebApplication app)
    {
        var most = app.Configuration.GetValue<long?>("Zoltric:MostSteps") is { } set and > 0 ? set : WorkBudget.UsualSteps;
        var ahead = app.Services.GetRequiredService<WorkAhead>();
        var clock = app.Services.GetRequiredService<TimeProvider>();
        // What stands back keeps its threads; the others must not wait for new ones, which the pool gives out two a second.
        ThreadPool.GetMinThreads(out var threads, out var ports);
        ThreadPool.SetMinThreads(threads + HeavyWork.AtOnce * HeavyWork.AtOnce, ports);
        long last = 0;
        var steps = Metrics.CreateGauge("zoltric_solver_steps", "Steps of the solver since the start.");
        app.Use(
            async (http, next) =>
            {
                var heavy = http.GetEndpoint()?.Metadata.GetMetadata<EnableRateLimitingAttribute>()?.PolicyName == HeavyWork.Policy;
                if (!heavy && http.Request.Path.StartsWithSegments("/jobs"))
                    Interlocked.Exchange(ref last, clock.GetTimestamp());
                var shared = last != 0 && clock.GetElapsedTime(Interlocked.Read(ref last)) < AtWork;
                var page = http.GetEndpoint()?.Metadata.GetMetadata<PageActionDescriptor>() is not null;
                var gone = heavy ? http.RequestAborted : CancellationToken.None;
                var budget = WorkBudget.Begin(
                    most,
                    heavy && shared ? HeavyWork.AtOnce : null,
                    // A heavy page would wait for itself.
                    heavy && !page
                        ? (Action)new StandingBack(() => ahead.IsAsked, StandingBack.Most, gone).Wait
                            + new StandingBack(() => ahead.IsWeighing, StandingBack.MostForAhead, gone).Wait
                        : null,
                    gone
                );
                // What is worked ahead makes room for whoever asks now.
                using var asking = page ? ahead.Asked() : null;
                http.Features.Set(asking);
                try
                {
                    await next(http);
                }
                finally
                {
                    steps.Inc(budget.Spent);
                }
            }
        );
    }

    /// <summary>From here on the page waits for something outside, an instrument or a bus; others need not make room for it.</summary>
    public static void WaitsOutside(this HttpContext http)
    {
        ArgumentNullException.ThrowIfNull(http);
        http.Features.Get<WorkAhead.Asking>()?.Dispose();
    }

    /// <summary>What a program is told of a request that was too much.</summary>
    public static void SayTooMuch(ProblemDetailsContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        if (context.HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error is TooMuchWorkException e)
            (context.ProblemDetails.Title, context.ProblemDetails.Detail) = ("Too much for one request.", e.Message);
    }
}
