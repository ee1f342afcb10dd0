using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Metering;

/// <summary>
/// The instruments that change what the machine does, each with a run of its own: an ammeter joins what was parted, a test lamp loads.
/// </summary>
internal sealed class LoadingInstruments(Machine machine, Setup setup, IReadOnlyList<Fault>? faults, ToleranceDraw? vary)
    : ILoadingInstruments
{
    public MeterReading Amps(string tag)
    {
        if (!setup.Interventions.Any(i => i is Intervention.Pull p && p.Tag == tag))
            return Settled().Amps(tag);
        var part = machine.Circuit.FindPart(tag)!;
        if (part.Model.Through is not { } through || part.Kind.IsSource)
            return MeterReading.Refuse(Dimension.Ampere, $"{tag} has no two ends that an ammeter could join safely.");
        var (p, q) = (new Terminal(tag, through.First), new Terminal(tag, through.Second));
        var op = machine.Run(setup, faults, (p, q, Defaults.AmmeterOhms), leadFromStart: true, vary: vary);
        return MeterReading.Number(Across(op, op.Node(p), op.Node(q)) / Defaults.AmmeterOhms, Dimension.Ampere) with
        {
            Spread = op.Sensitivities.AmmeterSpread(),
            FollowsSupply = true,
        };
    }

    /// <summary>
    /// Refused where the lead was not lifted, and while a starter turns: its current is beyond any series meter.
    /// </summary>
    public MeterReading GapAmps(Terminal at)
    {
        if (!setup.Interventions.Any(i => i is Intervention.Lift l && l.P.Bare == at.Bare))
            return MeterReading.Refuse(Dimension.Ampere, $"Lift {at.Bare} first: amps are read between the post and its lead.");
        var (post, lead) = (at with { Side = TerminalSide.Part }, at with { Side = TerminalSide.Lead });
        var op = machine.Run(setup, faults, (post, lead, Defaults.AmmeterOhms), leadFromStart: true, vary: vary);
        for (var i = 0; i < machine.Circuit.Parts.Count; i++)
            if (machine.Circuit.Parts[i].Kind is Circuits.Kinds.Starter && op.PulledIn(i))
                return MeterReading.Refuse(
                    Dimension.Ampere,
                    "Never with a starter turning: its current goes through the meter. Use a clamp."
                );
        var amps = Math.Abs(Across(op, op.Node(post), op.Node(lead))) / Defaults.AmmeterOhms;
        return MeterReading.Number(op.LetThrough(machine.Circuit.IndexOf(at.Tag), amps), Dimension.Ampere) with
        {
            Spread = op.Sensitivities.AmmeterSpread(),
            FollowsSupply = true,
        };
    }

    public MeterReading Lamp(Terminal p, Terminal? q, double? watts)
    {
        var volts = machine.Circuit.NominalVolts;
        var rated = watts is { } w ? w / volts : Defaults.TestLampAmps;
        var ohms = volts / rated;
        var black = q ?? machine.Circuit.ReferencePoint;
        var op = machine.Run(setup, faults, (p, black, ohms), vary: vary);
        var share = Math.Abs(Across(op, op.Node(p), op.Node(black))) / ohms / rated;
        return MeterReading.Word(
            share >= Defaults.LoadWorksShare ? Answer.Bright
            : share >= Defaults.LoadWeakShare ? Answer.Dim
            : Answer.Off
        );
    }

    /// <summary>Signed volts where all is direct, else the effective value.</summary>
    private static double Across(OperatingPoint op, int p, int q)
    {
        var (direct, ac) = (op.Volts(p) - op.Volts(q), op.AcVolts(p, q).Magnitude);
        return ac == 0 ? direct : Math.Sqrt(direct * direct + ac * ac);
    }

    public IInstruments Settled() => new Instruments(machine.Run(setup, faults, vary: vary), true);
}
