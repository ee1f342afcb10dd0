using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Instruments.Links;
using Zoltric.Store;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Instruments;

/// <summary>The jobs that are watched just now: one figure each.</summary>
public sealed class WatchSessions(CaptureStore captures, MetersInUse inUse, IServiceScopeFactory scopes, TimeProvider clock)
    : IAsyncDisposable
{
    private readonly ConcurrentDictionary<long, WatchSession> _open = new();
    private readonly SemaphoreSlim _one = new(1, 1);

    /// <summary>The watch of a job that still goes on; null for none.</summary>
    public WatchSession? Of(long job) => _open.TryGetValue(job, out var s) && !s.Ended ? s : null;

    /// <summary>Begins; the watch of this job that went on before is ended, and kept, first. Why it cannot, or null.</summary>
    /// <param name="proved">True where people prove who they are: then only the holder's figures are kept.</param>
    /// <param name="supply">Address of a second meter on the supply; empty for none.</param>
    public async Task<string?> Start(
        JobView view,
        string who,
        bool proved,
        WatchPlan plan,
        string? address,
        string? supply,
        double speed = 1
    )
    {
        ArgumentNullException.ThrowIfNull(view);
        ArgumentNullException.ThrowIfNull(plan);
        var (there, why) = InstrumentAddress.Read(address);
        if (there is null)
            return why;
        InstrumentAddress? second = null;
        if (!string.IsNullOrWhiteSpace(supply))
        {
            (second, why) = InstrumentAddress.Read(supply);
            if (second is null)
                return $"The supply's meter: {why}";
        }
        await _one.WaitAsync();
        try
        {
            await Stop(view.Job.Id);
            var reader = new object();
            if (inUse.TakeAll([there, second], reader, who) is { } taken)
                return taken;
            _open[view.Job.Id] = new WatchSession(
                new WatchStart(
                    view.Job.Id,
                    who,
                    plan,
                    there,
                    second,
                    AsleepAfter(view.Circuit),
                    view.Options.Meter,
                    speed,
                    WhyNot(view.Job.Id, who, proved),
                    () => inUse.Leave(reader)
                ),
                captures,
                clock
            );
            return null;
        }
        finally
        {
            _one.Release();
        }
    }

    /// <summary>Why nothing more may be kept of a job: it was closed, or somebody else has it in hand. Asked anew when it
    /// changes.</summary>
    private Func<Task<string?>> WhyNot(long job, string who, bool proved)
    {
        var (known, why) = ("", (string?)null);
        return async () =>
        {
            using var scope = scopes.CreateScope();
            var mark = await scope.ServiceProvider.GetRequiredService<JobStore>().Mark(job);
            if (mark == known)
                return why;
            if (mark is null || await scope.ServiceProvider.GetRequiredService<JobDesk>().Load(job) is not { } now)
                return "There is no such job any more.";
            (known, why) = (mark, JobDesk.MayWrite(now, who, proved)?.Problem.Message);
            return why;
        };
    }

    /// <summary>The module that takes longest to fall asleep, by the sheet.</summary>
    private static (double, string)? AsleepAfter(Circuit circuit) =>
        circuit
            .Parts.SelectMany(p => p.ModuleLines.OfType<ModuleLine.Sleeps>().Select(s => (s.AfterSeconds, p.Spoken)))
            .OrderByDescending(s => s.AfterSeconds)
            .Select(s => ((double, string)?)s)
            .FirstOrDefault();

    /// <summary>Ends the watch of a job and keeps it; the capture it is kept as, or null.</summary>
    public async Task<long?> Stop(long job)
    {
        if (!_open.TryRemove(job, out var session))
            return null;
        await session.DisposeAsync();
        return session.Capture;
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var job in _open.Keys)
            await Stop(job);
        _one.Dispose();
    }
}
