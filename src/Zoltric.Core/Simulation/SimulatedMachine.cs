using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Simulation;

/// <summary>
/// A machine that is not there: a sheet with hidden faults, its controls as somebody left them, and two tips that lie somewhere. A meter on
/// the tips shows what a real one would, on whatever function it stands. Safe to use from several threads.
/// </summary>
/// <param name="hidden">None for a sound machine.</param>
public sealed class SimulatedMachine(Machine machine, IReadOnlyList<Fault> hidden)
{
    private readonly Lock _gate = new();
    private OperatingPoint? _settled;

    public Circuit Circuit => machine.Circuit;

    /// <summary>How the machine stands.</summary>
    public Setup Setup { get; private set; } = Setup.Rest;

    /// <summary>Where the tips lie; null for in the air.</summary>
    public Probe? Tips { get; private set; }

    /// <summary>Moves controls, sources, plugs, leads: the machine stands so from now on.</summary>
    public void Stand(Setup setup)
    {
        ArgumentNullException.ThrowIfNull(setup);
        lock (_gate)
        {
            if (!setup.Equals(Setup))
                (_settled, _open) = (null, null);
            Setup = setup;
        }
    }

    /// <summary>Lays both tips on, as this probe has them.</summary>
    public void Touch(Probe probe)
    {
        ArgumentNullException.ThrowIfNull(probe);
        lock (_gate)
            Tips = Ends(probe) is null ? null : probe;
    }

    public void LiftTips()
    {
        lock (_gate)
            Tips = null;
    }

    /// <summary>
    /// What a meter on the tips shows. Null with the tips in the air, or where it would show nothing that means anything: ohms on what is
    /// live.
    /// </summary>
    public MeterReading? Shows(MeterFunction function)
    {
        lock (_gate)
        {
            if (Tips is null || Ends(Tips) is not { } ends)
                return null;
            var instruments = new Instruments(Settled(), false);
            var shown =
                function.Reads() == Dimension.Volt
                    ? instruments.Volts(
                        new BetweenTips(ends.P, ends.Q, function == MeterFunction.AcVolts ? VoltsFunction.Ac : VoltsFunction.Dc)
                    )
                    : instruments.Ohms(new Across("tips", ends.P, ends.Q ?? new ProbePoint(Circuit.ReferencePoint)));
            return shown.Refused ? null : shown;
        }
    }

    /// <summary>Anything else that is seen, heard, clamped or loaded, as the machine stands.</summary>
    public MeterReading Observe(Probe probe)
    {
        ArgumentNullException.ThrowIfNull(probe);
        lock (_gate)
            return probe.Loads ? Meter.Read(machine, new Test(Setup, probe), _hidden) : Meter.Read(Settled(), probe, spread: false);
    }

    /// <summary>What is watched over time while controls are moved, in so many points.</summary>
    /// <inheritdoc cref="TimeSimulation.Run" path="/exception"/>
    public Waveforms Over(Setup before, IEnumerable<TimedMove> moves, double seconds, int points, IReadOnlyList<Probe> probes)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(points, 2);
        var step = seconds / (points - 1);
        // Finer than it is shown, so that what is fast is reckoned right.
        var finer = Math.Clamp((int)Math.Ceiling(step / FinestStep), 1, Math.Max(1, TimeSimulation.MostSteps / points));
        lock (_gate)
        {
            var all = new TimeSimulation(machine, [.. _hidden.Except(_comesAndGoes)]).Run(before, moves, seconds, step / finer, probes);
            double[] Every(double[] values) => finer == 1 ? values : [.. values.Where((_, i) => i % finer == 0)];
            return new Waveforms(Every(all.Seconds), [.. all.Channels.Select(c => c with { Values = Every(c.Values) })]);
        }
    }

    /// <summary>s; a hundredth of the fastest coil's time.</summary>
    private const double FinestStep = 2e-5;

    /// <summary>
    /// What comes and goes is open now and then while its place is moved, and closed else. How often is the machine's own affair: every
    /// third
    /// look.
    /// </summary>
    private OperatingPoint Settled()
    {
        var opens = _comesAndGoes.Length > 0 && _comesAndGoes.Any(f => IsMoved(f.Target)) && ++_looks % 3 == 0;
        return opens
            ? _open ??= machine.Run(Setup, [.. _hidden.Except(_comesAndGoes), .. _comesAndGoes.SelectMany(Opened)])
            : _settled ??= machine.Run(Setup, [.. _hidden.Except(_comesAndGoes)]);
    }

    private readonly Fault[] _comesAndGoes = [.. hidden.Where(f => f.Kind == FaultKind.Intermittent)];
    private readonly IReadOnlyList<Fault> _hidden = hidden;
    private OperatingPoint? _open;
    private int _looks;

    private bool IsMoved(string target)
    {
        IEnumerable<string> tags = Circuit.FindWire(target) is { } w ? [w.From.Tag, w.To.Tag] : [target.Split(':', '/')[0]];
        return tags.Select(Circuit.FindPart)
            .Any(p => p is not null && Setup.Moved.Contains(p.PlaceOrTag, StringComparer.OrdinalIgnoreCase));
    }

    /// <summary>The same joint, contact or winding open for good.</summary>
    private IEnumerable<Fault> Opened(Fault f)
    {
        var what = f.Toward;
        string[] words = what is null
            ? [$"{f.Target} open", $"{f.Target} blown"]
            : [$"{f.Target} contact {what} open", $"{f.Target} open {what}", $"{f.Target} {what}-open"];
        return words.Select(w => FaultReader.Read(Circuit, w).Value).FirstOrDefault(v => v is not null) ?? [];
    }

    private (ProbePoint P, ProbePoint? Q)? Ends(Probe probe) =>
        probe.VoltsOn(Circuit) is { } v ? (v.P, v.Q)
        : probe.OhmsAcross is { } x ? (x.P, x.Q)
        : probe is Probe.Beep { X: var b } ? (b.P, b.Q)
        : null;
}
