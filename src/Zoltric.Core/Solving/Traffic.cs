using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>What beats: modules that drive a bus in turn, and outputs that pulse. A meter shows the mean over time.</summary>
/// <param name="settled">Potentials of the machine at rest, or null where they are the update's.</param>
/// <param name="injected">Currents put in, A.</param>
internal sealed class Traffic(
    Machine machine,
    Network network,
    FaultSet faults,
    MachineState state,
    BaseState baseState,
    LowRankUpdate? update,
    double[]? settled,
    INodalSolver<double>? solver,
    double[] injected
)
{
    /// <summary>
    /// What a meter shows where modules drive a bus in turn: the mean over time. One solution for the bus at rest, one for each module
    /// while it drives, weighed by their shares of time. Null where nobody drives and the machine's changes say it all.
    /// </summary>
    public double[]? Mean()
    {
        var awake =
            machine.Buses.Length == 0
                ? []
                : Array.FindAll(machine.Buses, b => state.PulledIn(b.Part) && !state.Asleep(b.Part) && b.Bus.Share > 0);
        var pulses = machine.Pulsed.Length == 0 ? [] : Array.FindAll(machine.Pulsed, Pulses);
        if (awake.Length == 0 && pulses.Length == 0)
            return settled;
        var volts = settled ?? new double[network.Size];
        if (settled is null)
            update!.WriteVolts(volts);
        INodalSolver<double>? changed = null;
        // More traffic than the wires can carry leaves no time at rest.
        var crowd = Math.Max(1, awake.Sum(b => b.Bus.Share));
        var mean = (double[])volts.Clone();
        foreach (var (_, bus, high, low) in awake)
        {
            var share = bus.Share / crowd;
            if (update is { Count: <= 1 } few && DrivenByUpdate(few.Single, volts, high, low, share, mean))
                continue;
            changed ??= solver ?? update!;
            var driving = UpdatedSolver<double>.TryMake(
                changed,
                network.Size,
                network.A(high),
                network.B(high),
                1 / Defaults.BusDriveOhms
            )!;
            driving = UpdatedSolver<double>.TryMake(driving, network.Size, network.A(low), network.B(low), 1 / Defaults.BusDriveOhms)!;
            var driven = (double[])injected.Clone();
            Potentials.Inject(driven, network.A(high), network.B(high), Defaults.BusDriveVolts / Defaults.BusDriveOhms);
            driving.Solve(driven);
            for (var i = 0; i < mean.Length; i++)
                mean[i] += share * (driven[i] - volts[i]);
        }
        foreach (var (_, contact, branch) in pulses)
        {
            changed ??= solver ?? update!;
            if (
                UpdatedSolver<double>.TryMake(changed, network.Size, network.A(branch), network.B(branch), 1 / contact.ClosedOhms)
                is not { } on
            )
                continue;
            var driven = (double[])injected.Clone();
            on.Solve(driven);
            WhileOn.Add(driven);
            for (var i = 0; i < mean.Length; i++)
                mean[i] += contact.PulsedShare!.Value * (driven[i] - volts[i]);
        }
        return mean;
    }

    /// <summary>An output that beats now: its rule holds and nothing is wrong with its driver.</summary>
    private bool Pulses((int Part, Link.Contact Contact, int Branch) x) =>
        !network.Removed[x.Branch]
        && !faults.Changes.Exists(c => c.Branch == x.Branch)
        && Conductances.Closed(x.Contact.Rule, x.Part, state);

    /// <summary>Potentials while each pulsed output is on, V.</summary>
    public List<double[]> WhileOn { get; } = [];

    /// <summary>
    /// The same from responses of the base state, which are kept: both drivers and the fault are changes of three conductances. False
    /// where the three would cancel.
    /// </summary>
    /// <param name="fault">The one change of this machine, with its factor and response, if there is one.</param>
    /// <param name="volts">Potentials with the bus at rest.</param>
    private bool DrivenByUpdate(
        (Modification At, double Factor, double[] Z)? fault,
        double[] volts,
        int high,
        int low,
        double share,
        double[] mean
    )
    {
        const double G = 1 / Defaults.BusDriveOhms;
        var (h, l) = (baseState.Response(network.A(high), network.B(high)), baseState.Response(network.A(low), network.B(low)));
        double High(double[] x) => Potentials.Across(x, network.A(high), network.B(high));
        double Low(double[] x) => Potentials.Across(x, network.A(low), network.B(low));
        // Responses of this machine: the baseState ones less what the fault takes.
        var (fh, fl) = (0.0, 0.0);
        double hh = High(h),
            hl = Low(h),
            ll = Low(l);
        if (fault is var (at, factor, z))
        {
            (fh, fl) = (factor * LowRankUpdate.Across(h, at), factor * LowRankUpdate.Across(l, at));
            hh -= fh * High(z);
            hl -= fh * Low(z);
            ll -= fl * Low(z);
        }
        // With drive current in at the high side: solve for what both added conductances carry.
        const double I = Defaults.BusDriveVolts * G;
        var (vh, vl) = (High(volts) + I * hh, Low(volts) + I * hl);
        var (a, b, c) = (1 / G + hh, hl, 1 / G + ll);
        var det = a * c - b * b;
        if (det < 1e-9 * a * c)
            return false;
        var (ch, cl) = ((c * vh - b * vl) / det, (a * vl - b * vh) / det);
        var (kh, kl) = (share * (I - ch), -share * cl);
        for (var i = 0; i < mean.Length; i++)
            mean[i] += kh * h[i] + kl * l[i];
        if (fault is var (_, _, zf))
        {
            var kf = kh * fh + kl * fl;
            for (var i = 0; i < mean.Length; i++)
                mean[i] -= kf * zf[i];
        }
        return true;
    }
}
