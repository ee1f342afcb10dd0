using Zoltric.Core.Circuits;
using Zoltric.Core.Simulation;
using Zoltric.Instruments.StandIns;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Instruments;

/// <summary>
/// The demo's machine that is not there, with its meter on this machine: everything by instruments can be tried without one. Stands on one
/// job at a time.
/// </summary>
public sealed class SimulatedBench(IConfiguration settings) : IAsyncDisposable
{
    private readonly Lock _gate = new();
    private ScpiMeterStandIn? _meter;
    private ScpiMeterStandIn? _supply;
    private ScpiDigitizerStandIn? _digitizer;
    private Watch? _watch;
    private (long Job, SimulatedMachine Machine, string Fault)? _on;

    /// <summary>True where the demo is served.</summary>
    public bool IsThere => settings["Zoltric:Demo"] is { Length: > 0 };

    /// <summary>Where its meter is reached.</summary>
    public string Address
    {
        get
        {
            lock (_gate)
                return Meter.Address;
        }
    }

    private ScpiMeterStandIn Meter => _meter ??= new ScpiMeterStandIn(() => _on?.Machine);

    private ScpiMeterStandIn Supply =>
        _supply ??= new ScpiMeterStandIn(() =>
        {
            if (_on?.Machine is not { } machine || machine.Circuit.Sources.FirstOrDefault() is not { Model: var model, Tag: var tag })
                return null;
            // A second meter of its own, on the posts, which are looked at as the machine stands.
            if (model.Terminals is not ["+", "-", ..])
                return null;
            return machine.With(new Probe.Volts(new Terminal(tag, "+"), new Terminal(tag, "-")));
        });

    /// <summary>Where its second meter is reached, which lies on the posts of the supply.</summary>
    public string SupplyAddress
    {
        get
        {
            lock (_gate)
                return Supply.Address;
        }
    }

    /// <summary>
    /// Puts the machine of a job on the bench to be watched for long: the meter lies where the plan says, its dial turned as by hand, and
    /// the machine's time goes so many times faster than the clock's.
    /// </summary>
    public bool TakeForWatch(JobView view, WatchPlan plan, TimeProvider clock, double speed)
    {
        ArgumentNullException.ThrowIfNull(view);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(clock);
        if (Faults(view) is not [var hidden, ..])
            return false;
        var began = clock.GetTimestamp();
        var machine = new SimulatedMachine(view.Sheet.Machine, hidden.Faults, () => clock.GetElapsedTime(began).TotalSeconds * speed);
        machine.Stand(plan.Test.Setup);
        machine.Touch(plan.Test.Probe);
        lock (_gate)
        {
            _on = (view.Job.Id, machine, hidden.Words);
            Meter.Function = plan.Dial;
        }
        return true;
    }

    /// <summary>Where its instrument for waveforms is reached.</summary>
    public string DigitizerAddress
    {
        get
        {
            lock (_gate)
                return (_digitizer ??= new ScpiDigitizerStandIn(Watched)).Address;
        }
    }

    private (SimulatedMachine, Watch)? Watched()
    {
        lock (_gate)
            return _on is { } on && _watch is { } watch ? (on.Machine, watch) : null;
    }

    private BusStandIn? _bus;

    /// <summary>Where the bus of its machine is given out.</summary>
    public string BusAddress
    {
        get
        {
            lock (_gate)
                return (
                    _bus ??= new BusStandIn(() => Machine?.Codes() is { } set ? [.. set.Select(c => (c.Code.Code, c.State))] : null)
                ).Address;
        }
    }

    private SimulatedMachine? Machine
    {
        get
        {
            lock (_gate)
                return _on?.Machine;
        }
    }

    /// <summary>Lays the channels on, and says what is done while they watch.</summary>
    public void Lay(Watch watch)
    {
        lock (_gate)
            _watch = watch;
    }

    /// <summary>The machine of a job, or null where the bench stands on another.</summary>
    public SimulatedMachine? Of(long job)
    {
        lock (_gate)
            return _on is { } on && on.Job == job ? on.Machine : null;
    }

    /// <summary>What is hidden in the machine of a job, for who wants to see it.</summary>
    public string? FaultOf(long job)
    {
        lock (_gate)
            return _on is { } on && on.Job == job ? on.Fault : null;
    }

    /// <summary>Puts the machine of a job on the bench, with this of its faults hidden; null for the likeliest.</summary>
    public bool Take(JobView view, string? fault)
    {
        ArgumentNullException.ThrowIfNull(view);
        if (Faults(view).FirstOrDefault(f => fault is null || f.Words == fault) is not { Words: not null } hidden)
            return false;
        lock (_gate)
            _on = (view.Job.Id, new SimulatedMachine(view.Sheet.Machine, hidden.Faults), hidden.Words);
        return true;
    }

    /// <summary>What the job's lines leave as possible, the likeliest first: the faults together, and as fault words.</summary>
    public static IReadOnlyList<(string Words, IReadOnlyList<Fault> Faults)> Faults(JobView view)
    {
        ArgumentNullException.ThrowIfNull(view);
        return
        [
            .. view
                .Findings.Suspects.Where(g => g.Share > 0)
                .Select(g =>
                    (IReadOnlyList<Fault>)[g.Faults[0], .. g.Together.Select(t => t with { Value = g.Faults[0].Value }), .. g.Also]
                )
                .Select(f => (string.Join(" + ", f), f))
                .Take(MostFaults),
        ];
    }

    private const int MostFaults = 40;

    public async ValueTask DisposeAsync()
    {
        if (_meter is not null)
            await _meter.DisposeAsync();
        if (_supply is not null)
            await _supply.DisposeAsync();
        if (_digitizer is not null)
            await _digitizer.DisposeAsync();
        if (_bus is not null)
            await _bus.DisposeAsync();
    }
}
