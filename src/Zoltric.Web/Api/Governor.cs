using Microsoft.AspNetCore.Diagnostics;
using Zoltric.Core.Solving;

namespace Zoltric.Web.Upkeep;

/// <summary>
/// What each request may make this server compute. While technicians are at work a program's request leaves a core free for them; it ends
/// when the program has gone.
/// </summary>
internal static class Governor
{
    /// <summary>After a technician's last request programs have all cores again.</summary>
    private static readonly TimeSpan AtWork = TimeSpan.FromSeconds(30);

    public static void UseGovernor(this WebApplication app)
    {
        var most = app.Configuration.GetValue<long?>("Zoltric:MostSteps") is { } set and > 0 ? set : WorkBudget.UsualSteps;
        var clock = app.Services.GetRequiredService<TimeProvider>();
        long last = 0;
        app.Use(
            (http, next) =>
            {
                var program =
                    http.Request.Path.StartsWithSegments("/api")
                    || http.Request.Path.Value?.EndsWith("/ahead", StringComparison.Ordinal) == true;
                if (!program && http.Request.Path.StartsWithSegments("/jobs"))
                    Interlocked.Exchange(ref last, clock.GetTimestamp());
                var shared = last != 0 && clock.GetElapsedTime(Interlocked.Read(ref last)) < AtWork;
                WorkBudget.Begin(
                    most,
                    program && shared ? Math.Max(1, Environment.ProcessorCount - 1) : null,
                    program ? http.RequestAborted : CancellationToken.None
                );
                return next();
            }
        );
    }

    /// <summary>What a program is told of a request that was too much.</summary>
    public static void SayTooMuch(ProblemDetailsContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        if (context.HttpContext.Features.Get<IExceptionHandlerFeature>()?.Error is TooMuchWorkException e)
            (context.ProblemDetails.Title, context.ProblemDetails.Detail) = ("Too much for one request.", e.Message);
    }
}
