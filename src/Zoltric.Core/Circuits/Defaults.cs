namespace Zoltric.Core.Circuits;

/// <summary>
/// What holds when the sheet is silent. The table in docs/notation.md is the same list; change a figure only with a source.
/// All ohms unless the name says otherwise.
/// </summary>
public static class Defaults
{
    public const double CellVolts = 2.1;
    public const double BatteryGivingOhms = 0.010;
    public const double BatteryTakingOhms = 0.5;
    public const double PsuOhms = 0.050;
    public const double ChargerOhms = 0.020;
    public const double ClosedContactOhms = 0.001;
    public const double FuseOhms = 0.005;

    /// <summary>
    /// Cold resistance of a blade fuse by its rating, Ω: 5 A 17 mΩ, 7.5 A 11, 10 A 7.5, 15 A 4.6, 20 A 3.2, 30 A 2.0 (typical data-sheet
    /// values, from memory); between and beyond them along a straight line of the logarithms.
    /// </summary>
    public static double FuseElementOhms(double amps)
    {
        ReadOnlySpan<(double Amps, double Ohms)> table = [(5, 0.017), (7.5, 0.011), (10, 0.0075), (15, 0.0046), (20, 0.0032), (30, 0.0020)];
        var i = 1;
        while (i < table.Length - 1 && table[i].Amps < amps)
            i++;
        var ((a, r), (b, s)) = (table[i - 1], table[i]);
        return r * Math.Pow(amps / a, Math.Log(s / r) / Math.Log(b / a));
    }

    /// <summary>
    /// Across a good contact at its rated amps, V; 0.3 V is a bad one. Main contacts of relays, contactors, starters, switches and
    /// isolators lie about it whatever their size; common practice, no source.
    /// </summary>
    public const double GoodContactVolts = 0.025;

    /// <summary>A good closed contact by its rating, Ω; without one, as of 25 A.</summary>
    public static double ContactOhms(double? ratedAmps) => ratedAmps is > 0 and var amps ? GoodContactVolts / amps : ClosedContactOhms;

    /// <summary>
    /// A pole of a circuit-breaker by its rating, Ω: half of the greatest loss that IEC 60898-1 allows a pole at its rated amps (3 W up to
    /// 10 A, 3.5 W to 16 A, 4.5 W to 25 A, 6 W to 32 A, 7.5 W to 40 A, 9 W to 50 A, 13 W beyond; from memory, the half common practice).
    /// </summary>
    public static double BreakerOhms(double amps)
    {
        ReadOnlySpan<(double Amps, double Watts)> losses = [(10, 3), (16, 3.5), (25, 4.5), (32, 6), (40, 7.5), (50, 9)];
        var watts = 13.0;
        foreach (var (upTo, most) in losses)
            if (amps <= upTo)
            {
                watts = most;
                break;
            }
        // Below 10 A the loss stays about the same, and above 63 A the table ends: from there it grows with the amps.
        watts *= Math.Max(1, amps / 63);
        return watts / 2 / (amps * amps);
    }

    public const double PinOhms = 0.002;
    public const double StudOhms = 0.0001;
    public const double UnnamedWireOhms = 0.005;
    public const double ModuleOhms = 200;

    /// <summary>Pull-down of a module's input; common practice, no source.</summary>
    public const double InputOhms = 100e3;
    public const double DriverOhms = 0.050;

    /// <summary>Both bus wires at rest, V. Source: ISO 11898-2, recessive level.</summary>
    public const double BusRestVolts = 2.5;

    /// <summary>
    /// What holds a bus wire at rest, Ω to the module's ground. Source: ISO 11898-2, single-ended internal resistance up to 50 kΩ.
    /// </summary>
    public const double BusHoldOhms = 50e3;

    /// <summary>
    /// Pull-up of a module on a bus of one wire, Ω: 30 kΩ for a responder, 1 kΩ for the commander (ISO 17987-4, from memory).
    /// </summary>
    public const double SingleWirePullUpOhms = 30e3;

    /// <summary>What draws such a wire to ground, Ω: under 20 % of the supply with 1 kΩ (ISO 17987-4, from memory).</summary>
    public const double SingleWireDriveOhms = 40;

    /// <summary>
    /// A driver: the high wire to this many volts and the low wire to ground, each through <see cref="BusDriveOhms"/>. Chosen so that two
    /// terminators, 60 Ω, see 3.5 V and 1.5 V, the dominant levels of ISO 11898-2.
    /// </summary>
    public const double BusDriveVolts = 5;
    public const double BusDriveOhms = 45;
    public const double BusTrafficShare = 0.05;

    /// <summary>How far a driven bus wire is from where it rests, V. Source: ISO 11898-2, 3.5 and 1.5 V about 2.5 V.</summary>
    public const double BusDriven = 1;
    public const double MainsOhms = 0.050;
    public const double Hertz = 50;
    public const double DiodeVolts = 0.65;
    public const double DiodeOhms = 0.05;

    /// <summary>
    /// A diode below its forward volts, Ω: what microamps of leakage meet, so that they lift no dead point. The foot of a silicon junction
    /// as one straight line; from memory.
    /// </summary>
    public const double DiodeFootOhms = 100e3;

    /// <summary>
    /// What a transformer takes with nothing connected, as a share of its volt-amperes; small control transformers, from memory.
    /// </summary>
    public const double MagnetisingShare = 0.05;
    public const double OpenOhms = 1e9;
    public const double PullInShare = 0.65;
    public const double DropOutShare = 0.20;
    public const double VoltMeterOhms = 10e6;
    public const double TestLampAmps = 0.25;

    /// <summary>Jumper lead: taken as an unnamed wire. Feed lead: the same plus its fuse.</summary>
    public const double JumperOhms = 0.005;
    public const double FeedOhms = 0.010;

    /// <summary>Series ammeter burden, Ω: the same as the fuse it stands in for, so the circuit sees no change.</summary>
    public const double AmmeterOhms = 0.005;

    /// <summary>A fuse opens when its settled current passes this many times its rating.</summary>
    public const double FuseBlowFactor = 1.35;

    public const double LoadWorksShare = 0.80;
    public const double LoadWeakShare = 0.30;
    public const double StarterWorksShare = 0.75;
    public const double StarterWeakShare = 0.40;

    /// <summary>Relay coil, Ω: 85 at 12 V and 300 at 24 V; other voltages draw the power of the nearer of the two.</summary>
    public static double RelayCoilOhms(double ratedVolts) =>
        ratedVolts switch
        {
            <= 17 => 85 * Square(ratedVolts / 12),
            _ => 300 * Square(ratedVolts / 24),
        };

    private static double Square(double x) => x * x;
}

/// <summary>
/// How far a value strays from part to part: standard deviation of the logarithm of its factor.
/// A plain tolerance of ± t is taken as uniform, so sigma = t / √3; contacts range from 0.2 to 5 times, uniform in the logarithm.
/// </summary>
public static class Spread
{
    public const double None = 0;
    public const double Load = 0.10 / 1.7320508;
    public const double Coil = 0.10 / 1.7320508;
    public const double Wire = 0.20 / 1.7320508;

    /// <summary>
    /// Standard deviation of what the two ends of a wire add to it, crimp and lug, Ω. It is most of a battery cable; estimate.
    /// </summary>
    public const double WireEndsOhms = 0.0002;

    /// <summary>The same of a wire by its resistance: its copper, and what its ends add.</summary>
    /// <param name="ohms">Of the copper.</param>
    public static double OfWire(double ohms) => Math.Min(double.Hypot(Wire, WireEndsOhms / Math.Max(ohms, 1e-9)), Contact);

    public const double Contact = 1.6094379 / 1.7320508;

    /// <summary>
    /// Electronics without the volts they need: what they let through then is nobody's promise, half or twice as much as a rule; estimate.
    /// </summary>
    public const double Starved = 0.6;

    /// <summary>Fuse elements, from data sheets ± 20 % (from memory).</summary>
    public const double FuseElement = 0.20 / 1.7320508;

    /// <summary>What leaks past electronics that are off: from nothing to what the data sheet allows; estimate.</summary>
    public const double Leakage = 1;

    /// <summary>A breaker's pole, heater and contact together, between makers: half as much to twice; estimate.</summary>
    public const double Breaker = 0.4;
}
