using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// A fuse is a small shunt: millivolts across it, with the machine at rest, are amps by its rating. Such a reading is weighed as a clamp on
/// its wire would be; the element's resistance is <see cref="Defaults.FuseElementOhms"/>. Of a fuse whose sort the sheet does not say the
/// amps are a range.
/// </summary>
internal static class FuseShunt
{
    /// <summary>Above this the fuse is not whole, or a load works through it, V.</summary>
    private const double MostVolts = 0.05;

    /// <summary>
    /// Up to this rating a fuse of whatever sort has some milliohms, A; by how much they differ from sort to sort, as a factor; and what
    /// the last digit of a millivolt makes, A. Estimates.
    /// </summary>
    private const double MostRated = 40,
        EitherWay = 1.6,
        ClampAmps = 0.03;

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
            || fuse.Model.Links is not [Link.Fuse { RatedAmps: var rated, ElementOhms: var element }]
            || element is null && rated > MostRated
        )
            return reading;
        var amps = Math.Abs(volts) / (element ?? Math.Sqrt(Defaults.FuseElementOhms(rated) * Defaults.FuseOhms));
        foreach (var terminal in new[] { x.P.Terminal, x.Q.Terminal })
        {
            var wires = circuit.Wires.Where(w => w.From == terminal || w.To == terminal).Take(2).ToList();
            if (wires.Count != 1 || circuit.Bonds.Any(b => b.A == terminal || b.B == terminal))
                continue;
            return reading with
            {
                Test = reading.Test with { Probe = new Probe.Clamp(wires[0].Id) },
                Result = element is null
                    ? new ReadingResult.Range(amps / EitherWay - ClampAmps, amps * EitherWay + ClampAmps, Dimension.Ampere)
                    : new ReadingResult.Number(amps, Dimension.Ampere),
            };
        }
        return reading;
    }
}
