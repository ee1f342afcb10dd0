using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Procedures;
using Zoltric.Core.Solving;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Procedures;

/// <summary>Plans that are being worked out or have been: one computation for each, however many ask, and one at a time.</summary>
public sealed class PlanDesk(IHostApplicationLifetime lifetime, WorkAhead ahead) : IDisposable
{
    private const int MostKept = 40;

    /// <summary>A plan waits for technicians that long in all; an estimate.</summary>
    private static readonly TimeSpan MostStandingBack = TimeSpan.FromMinutes(5);

    private readonly ConcurrentDictionary<(string Sheet, string Function, int Steps), Lazy<Task<MadePlan>>> _plans = new();
    private readonly SemaphoreSlim _one = new(1);

    /// <summary>The plan for a function that is dead; null where nothing sets the machine so that it should work.</summary>
    /// <param name="text">Of the sheet, which it is kept by.</param>
    public Task<MadePlan>? Of(ReadySheet sheet, string text, MachineFunction function, int steps)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(function);
        if (FunctionSetups.SetupFor(sheet.Circuit, function) is not { } setup)
            return null;
        if (_plans.Count >= MostKept)
            foreach (var done in _plans.Where(p => p.Value is { IsValueCreated: true, Value.IsCompleted: true }).Take(MostKept / 2))
                _plans.TryRemove(done.Key, out _);
        var complaint = new Reading(new Test(setup, new Probe.Sees(function.Name, true)), new ReadingResult.Word(Answer.Dead));
        return _plans
            .GetOrAdd((text, function.Name, steps), _ => new Lazy<Task<MadePlan>>(() =>
                Task.Run(async () =>
                {
                    await _one.WaitAsync(lifetime.ApplicationStopping);
                    try
                    {
                        // Minutes of work that no request waits for: nobody's budget, and behind whoever is at a machine.
                        WorkBudget.Begin(
                            long.MaxValue,
                            Math.Max(1, Environment.ProcessorCount - 1),
                            new StandingBack(() => ahead.InHand, MostStandingBack, lifetime.ApplicationStopping).Wait,
                            lifetime.ApplicationStopping
                        );
                        return PlanMaker.Make(
                            sheet.Space,
                            $"{function.Name}: dead",
                            [complaint],
                            new PlanLimits(steps),
                            stop: lifetime.ApplicationStopping
                        );
                    }
                    finally
                    {
                        _one.Release();
                    }
                })
            ))
            .Value;
    }

    public void Dispose() => _one.Dispose();
}
