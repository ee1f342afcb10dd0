using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Metering;

/// <summary>Whether a load works, as a person would say: works, weak, dead.</summary>
public static class LoadState
{
    /// <summary>Share of its rated amps from which a valve's or an injector's magnet pulls; common practice, no source.</summary>
    public const double PullsFrom = 0.65;

    /// <param name="meant">The share that counts as whole, see <see cref="MeantShare"/>.</param>
    public static Answer Judge(OperatingPoint op, int part, double meant = 1)
    {
        ArgumentNullException.ThrowIfNull(op);
        var model = op.Circuit.Parts[part].Model;
        if (model.Load is not { } load)
            return model.Coil is not null && op.PulledIn(part) ? Answer.Works : Answer.Dead;
        var share = Share(op, part) / meant;
        return share >= load.WorksShare ? Answer.Works
            : share >= load.WeakShare ? Answer.Weak
            : Answer.Dead;
    }

    /// <summary>Share of rated current, or of nominal volts for a starter; 0 for a load that is stuck or draws nothing.</summary>
    public static double Share(OperatingPoint op, int part)
    {
        ArgumentNullException.ThrowIfNull(op);
        var load = op.Circuit.Parts[part].Model.Load;
        if (load is null)
            return op.PulledIn(part) ? 1 : 0;
        if (op.Stuck(part) || load.OnlyWhileHeld && !op.PulledIn(part))
            return 0;
        var amps = load.Links.Average(l => op.MostLinkAmps(part, l));
        if (!load.ByVolts)
            return amps / load.Rated;
        // Volts across an open winding turn nothing.
        return amps < 1e-6 ? 0 : Math.Abs(op.LinkVolts(part, load.Link)) / load.Rated;
    }
}

/// <summary>Whether a function works in the state the machine is in, and whether it should.</summary>
public static class FunctionState
{
    /// <summary>works, weak or dead inside its condition, by what is meant there; dead or stuck-on outside.</summary>
    public static Answer Judge(OperatingPoint op, MachineFunction f)
    {
        ArgumentNullException.ThrowIfNull(op);
        ArgumentNullException.ThrowIfNull(f);
        var state = f.Test switch
        {
            FunctionTest.LoadWorks l => LoadState.Judge(op, op.Circuit.IndexOf(l.Tag), MeantShare.Of(op.Circuit, f)),
            FunctionTest.Measured m => Measured(op, m),
            _ => Answer.Dead,
        };
        return op.Holds(f.When) ? state
            : state == Answer.Dead ? Answer.Dead
            : f.Test is FunctionTest.LoadWorks ? Answer.StuckOn
            : Answer.Dead;
    }

    private static Answer Measured(OperatingPoint op, FunctionTest.Measured m) =>
        ValueOf(op, m) is var v && v >= m.Low && v <= m.High ? Answer.Works : Answer.Dead;

    /// <summary>What is read to judge the function, in base units; NaN where nothing can be.</summary>
    internal static double ValueOf(OperatingPoint op, FunctionTest.Measured m)
    {
        // An ohms test is made with the sources off: only what lies between the points counts, not what is live now.
        if (m.Probe.OhmsAcross is { } x)
            return op.Ohms(Meter.TipNode(op, x.P, true), Meter.TipNode(op, x.Q, true));
        // What a fuse carries, without having to write down that it is pulled for it.
        if (m.Probe is Probe.Amps { Tag: var tag } && op.Circuit.FindPart(tag) is { Model.Links: [Link.Fuse, ..] })
            return Math.Abs(op.LinkAmps(op.Circuit.IndexOf(tag), 0));
        return Meter.Read(op, m.Probe, spread: false).Value ?? double.NaN;
    }
}
