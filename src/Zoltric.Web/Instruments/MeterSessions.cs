using System.Collections.Concurrent;
using Zoltric.Instruments.Links;

namespace Zoltric.Web.Instruments;

/// <summary>The jobs that are read hands-free just now: one meter each.</summary>
public sealed class MeterSessions(IServiceScopeFactory scopes, MetersInUse inUse, TimeProvider clock) : IAsyncDisposable
{
    private readonly ConcurrentDictionary<long, MeterSession> _open = new();
    private readonly SemaphoreSlim _one = new(1, 1);

    /// <summary>The session of a job that is still going on; null for none.</summary>
    public MeterSession? Of(long job) => _open.TryGetValue(job, out var s) && !s.Ended ? s : null;

    /// <param name="supply">Address of a second meter on the supply; empty for none.</param>
    /// <summary>Begins; the one of this job that went on before is ended first. Why it cannot, or null.</summary>
    public async Task<string?> Start(long job, string who, bool proved, string? address, string? supply)
    {
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
            await Stop(job);
            var reader = new object();
            if (inUse.TakeAll([there, second], reader, who) is { } taken)
                return taken;
            _open[job] = new MeterSession(job, who, proved, there, second, scopes, clock, () => inUse.Leave(reader));
            return null;
        }
        finally
        {
            _one.Release();
        }
    }

    public async Task Stop(long job)
    {
        if (_open.TryRemove(job, out var session))
            await session.DisposeAsync();
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var job in _open.Keys)
            await Stop(job);
        _one.Dispose();
    }
}
