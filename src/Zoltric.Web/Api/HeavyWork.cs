using System.Threading.RateLimiting;

namespace Zoltric.Web.Api;

/// <summary>
/// Computation that programs ask for: one core fewer than there are works on it at once, so that a technician's reading finds one free.
/// Some wait, in the order they came; who comes when that many wait is sent away.
/// </summary>
internal static class HeavyWork
{
    internal const string Policy = "heavy";
    private const int MostWaiting = 32,
        RetrySeconds = 5;

    /// <summary>Requests at once, and cores of each while technicians are at work: one core fewer than there are.</summary>
    internal static int AtOnce { get; } = Math.Max(1, Environment.ProcessorCount - 1);

    public static void AddHeavyWork(this WebApplicationBuilder builder)
    {
        var waiting = builder.Configuration.GetValue("Zoltric:MostWaiting", MostWaiting);
        builder.Services.AddRateLimiter(o =>
        {
            o.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            o.OnRejected = async (context, cancellation) =>
            {
                context.HttpContext.Response.Headers.RetryAfter = RetrySeconds.ToString(System.Globalization.CultureInfo.InvariantCulture);
                await context.HttpContext.Response.WriteAsync("Too many at once. Wait a little and try again.", cancellation);
            };
            o.AddPolicy(Policy, _ => RateLimitPartition.GetConcurrencyLimiter(Policy, _ => new ConcurrencyLimiterOptions
                {
                    PermitLimit = AtOnce,
                    QueueLimit = waiting,
                    QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
                }));
        });
    }

    public static TBuilder IsHeavy<TBuilder>(this TBuilder endpoint)
        where TBuilder : IEndpointConventionBuilder => endpoint.RequireRateLimiting(Policy);
}
