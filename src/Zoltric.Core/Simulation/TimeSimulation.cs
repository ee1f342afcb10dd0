using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Simulation;

/// <summary>Controls that are moved at an instant, s.</summary>
public sealed record TimedMove(double Seconds, IReadOnlyList<ControlMove> Moves);

/// <summary>One channel over time.</summary>
/// <param name="Unit">V or A.</param>
/// <param name="Values">One for each instant.</param>
public sealed record Waveform(string Name, string Unit, double[] Values);

/// <summary>What was watched from instant to instant.</summary>
/// <param name="Seconds">Rising, from 0.</param>
public sealed record Waveforms(double[] Seconds, IReadOnlyList<Waveform> Channels);

/// <summary>
/// A machine of direct current over milliseconds and seconds: coils whose current rises, armatures that travel and bounce, a battery that
/// sags
/// under a motor that starts, pulsed outputs, a charger's ripple.
/// </summary>
/// <remarks>What each kind of part stores is an estimate of its kind, stated in <c>docs/models.md</c>.</remarks>
public sealed class TimeSimulation(Machine machine, IReadOnlyList<Fault> hidden)
{
    /// <summary>Instants that are computed at most.</summary>
    public const int MostSteps = 200_000;

    /// <summary>False leaves out that contacts bounce.</summary>
    public bool Bounces { get; init; } = true;

    /// <summary>Runs a machine from rest in a setup, moves controls at their instants and watches.</summary>
    /// <param name="setup">Interventions and controls before the first instant; the machine has settled in it.</param>
    /// <param name="moves">In any order; those at or before 0 come at once.</param>
    /// <param name="seconds">How long, s.</param>
    /// <param name="step">From instant to instant, s.</param>
    /// <param name="probes">Volts between two points, or the current in a wire.</param>
    /// <exception cref="ArgumentException">A probe that shows nothing over time, a machine on alternating current, too many
    /// instants.</exception>
    public Waveforms Run(Setup setup, IEnumerable<TimedMove> moves, double seconds, double step, IReadOnlyList<Probe> probes)
    {
        ArgumentNullException.ThrowIfNull(setup);
        ArgumentNullException.ThrowIfNull(moves);
        ArgumentNullException.ThrowIfNull(probes);
        if (!(step > 0 && seconds > 0) || seconds / step > MostSteps)
            throw new ArgumentException($"Between 1 and {MostSteps} instants can be computed.", nameof(step));
        if (machine.IsAlternating)
            throw new ArgumentException("Over time only machines of direct current are computed.", nameof(setup));
        var watched = probes.Select(Watched).ToList();
        var (transient, network) = machine.Begin(setup, hidden, Bounces);
        var due = new Queue<TimedMove>(moves.OrderBy(m => m.Seconds));
        var count = (int)Math.Round(seconds / step) + 1;
        var (at, values) = (new double[count], watched.Select(_ => new double[count]).ToList());
        for (var i = 0; i < count; i++)
        {
            if (i > 0)
                transient.Step(step);
            while (due.TryPeek(out var next) && next.Seconds <= transient.Now + step / 2)
                foreach (var move in due.Dequeue().Moves)
                    transient.Move(move);
            at[i] = i * step;
            for (var k = 0; k < watched.Count; k++)
                values[k][i] = watched[k].Read(transient, network);
        }
        return new Waveforms(at, [.. watched.Select((w, k) => new Waveform(w.Name, w.Unit, values[k]))]);
    }

    private (string Name, string Unit, Func<Transient, Network, double> Read) Watched(Probe probe)
    {
        switch (probe)
        {
            case Probe.Volts v:
                return (v.ToString(), "V", (t, n) => t.Volts(NodeOf(n, v.P), v.Q is { } q ? NodeOf(n, q) : -1));
            case Probe.Clamp c when machine.Circuit.FindWire(c.Wire) is not null:
                return (c.ToString(), "A", (t, n) => t.Amps(n.Layout.WireBranches[n.Layout.WireIndex(c.Wire)]));
            default:
                throw new ArgumentException($"{probe} shows nothing over time: volts and the current in a wire do.");
        }
    }

    private static int NodeOf(Network network, Terminal t) => network.Nodes[network.Layout.PointOf(t)];
}
