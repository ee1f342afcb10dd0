using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// A fuse is a small shunt: millivolts across it, with the machine at rest, are amps by its rating. Such a reading is weighed as a clamp on
/// its wire would be; the element's resistance is <see cref="Defaults.FuseElementOhms"/>.
/// </summary>
internal static class FuseShunt
{
    /// <summary>Above this the fuse is not whole, or a load works through it, V.</summary>
    private const double MostVolts = 0.05;

    /// <summary>The reading as amps, or itself where it is none.</summary>
    public static Reading AsAmps(Circuit circuit, Reading reading)
    {
        if (
            reading
                is not {
                    Test: { Probe: Probe.Drop { X: var x }, Setup: { Steps.Count: 0, Interventions.Count: 0 } },
                    Result: ReadingResult.Number { Value: var volts }
                }
            || Math.Abs(volts) >= MostVolts
        )
            return reading;
        if (
            x.P.Terminal.Tag != x.Q.Terminal.Tag
            || circuit.FindPart(x.P.Terminal.Tag) is not { Kind: Circuits.Kinds.Fuse } fuse
            || fuse.Model.Links is not [Link.Fuse { ElementOhms: { } ohms }]
        )
            return reading;
        foreach (var terminal in new[] { x.P.Terminal, x.Q.Terminal })
        {
            var wires = circuit.Wires.Where(w => w.From == terminal || w.To == terminal).Take(2).ToList();
            if (wires.Count != 1 || circuit.Bonds.Any(b => b.A == terminal || b.B == terminal))
                continue;
            return reading with
            {
                Test = reading.Test with { Probe = new Probe.Clamp(wires[0].Id) },
                Result = new ReadingResult.Number(Math.Abs(volts) / ohms, Dimension.Ampere),
            };
        }
        return reading;
    }
}
