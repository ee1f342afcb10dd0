namespace Zoltric.Instruments.Captures;

/// <summary>The current of a coil that is switched on.</summary>
/// <param name="Start">When it begins, s.</param>
/// <param name="Final">What it comes to, A.</param>
/// <param name="TimeConstant">From the start to 63.2 % of the final current, s.</param>
/// <param name="Peak">Most, A.</param>
/// <param name="PeakAt">From the start, s.</param>
/// <param name="Slope">Between a tenth and a half of the final current, A/s.</param>
/// <param name="Travel">Where the armature's travel dents the rise, from the start, s; null for none seen.</param>
public sealed record CoilRamp(double Start, double Final, double TimeConstant, double Peak, double PeakAt, double Slope, double? Travel)
{
    /// <summary>Resistance of coil and feed together, Ω, at the volts of the supply.</summary>
    public double Ohms(double volts) => volts / Final;

    /// <summary>H: the time constant times that resistance.</summary>
    public double Henries(double volts) => TimeConstant * Ohms(volts);

    /// <summary>1 − 1/e: what is reached after one time constant (Kuphaldt, Lessons in Electric Circuits, DC, chapter 16).</summary>
    private const double OneConstant = 1 - 1 / Math.E;

    /// <summary>It begins where the current has left rest by this share of its final value.</summary>
    private const double Begins = 0.02;

    /// <summary>Share of the capture's end that is taken for final, and how little it may still rise there.</summary>
    private const double Tail = 0.1,
        StillRises = 0.03;

    /// <summary>A dent counts from this share of the final current on.</summary>
    private const double Dent = 0.02;

    /// <summary>
    /// Finds the ramp in a capture of a current that begins at rest and comes to rest. Null where there is none, or where it is cut off
    /// before it has come to rest.
    /// </summary>
    public static CoilRamp? Find(double[] seconds, double[] amps)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        ArgumentNullException.ThrowIfNull(amps);
        if (amps.Length < 20 || Array.Exists(amps, double.IsNaN))
            return null;
        var tail = Math.Max(2, (int)(amps.Length * Tail));
        var rest = amps[0];
        var final = amps[^tail..].Average() - rest;
        var before = amps[^(2 * tail)..^tail].Average() - rest;
        if (final <= 0 || Math.Abs(final - before) > StillRises * final)
            return null;
        var start = Reached(Begins);
        if (start is not { } s)
            return null;
        // Back along the straight line of the first rise to where it left rest.
        var (at10, at50, at63) = (Reached(0.1), Reached(0.5), Reached(OneConstant));
        if (at10 is not { } t10 || at50 is not { } t50 || at63 is not { } t63 || t50 <= t10)
            return null;
        var early = Reached(2 * Begins) is { } e && e > s ? Math.Max(seconds[0], s - (e - s)) : s;
        var peak = 0;
        for (var i = 1; i < amps.Length; i++)
            if (amps[i] > amps[peak])
                peak = i;
        return new CoilRamp(
            early,
            final,
            t63 - early,
            amps[peak] - rest,
            seconds[peak] - early,
            0.4 * final / (t50 - t10),
            Travelled() is { } d ? d - early : null
        );

        double? Reached(double share)
        {
            var level = rest + share * final;
            for (var i = 1; i < amps.Length; i++)
                if (amps[i] >= level)
                    return amps[i] == amps[i - 1]
                        ? seconds[i]
                        : seconds[i - 1] + (seconds[i] - seconds[i - 1]) * (level - amps[i - 1]) / (amps[i] - amps[i - 1]);
            return null;
        }

        // The armature that moves in takes current away: a highest value, then a lower one, then the final.
        double? Travelled()
        {
            var (most, least) = (double.NegativeInfinity, 0.0);
            var at = 0.0;
            for (var i = 0; i < amps.Length - tail; i++)
            {
                if (amps[i] > most)
                    (most, least, at) = (amps[i], amps[i], seconds[i]);
                else if (amps[i] < least)
                    (least, at) = (amps[i], seconds[i]);
                if (most - least > Dent * final && amps[i] - least > Dent * final && most - rest < (1 + Dent) * final)
                    return at;
            }
            return null;
        }
    }
}
