namespace Zoltric.Core.Circuits;

/// <summary>
/// What a part is electrically: its terminals and the links between them. A link is one conducting path, a conductance between two
/// of the part's points; points beyond the terminals (the motor node inside a starter) are internal and cannot be probed.
/// </summary>
public sealed record PartModel
{
    public required IReadOnlyList<string> Terminals { get; init; }

    /// <summary>First and second terminal when the part can be passed through by its bare tag.</summary>
    public (string First, string Second)? Through { get; init; }

    /// <summary>Terminals that join links inside the part and can be probed though no wire of the sheet ends there.</summary>
    public IReadOnlyList<string> Posts { get; init; } = [];

    /// <summary>A stud or splice: one point with a lug per wire.</summary>
    public bool IsPoint { get; init; }

    /// <summary>
    /// With what an ohmmeter meets between its two ends as the maker states it: a sound one lies in that range at any temperature of a
    /// shop.
    /// </summary>
    /// <param name="good">Lowest and highest, Ω.</param>
    public PartModel Within((double Low, double High) good)
    {
        if (Through is not { } ends || good.Low <= 0)
            return this;
        var spread = double.Hypot(Math.Log(good.High / good.Low) / Math.Sqrt(12), ShopTemperatures);
        return this with
        {
            Links =
            [
                .. Links.Select(l =>
                    l is not Link.Resistance r || (r.A, r.B) != ends ? l
                    : r.RestShare is null ? r with { LogSpread = spread }
                    : r with { RestShare = Math.Sqrt(good.Low * good.High) / r.Ohms, RestLogSpread = spread }
                ),
            ],
        };
    }

    /// <summary>
    /// Copper at 0.39 % a kelvin (IEC 60028, from memory) and some 13 K about the one at which the maker measured, as a standard
    /// deviation; the latter an
    /// estimate.
    /// </summary>
    private const double ShopTemperatures = 0.05;

    public IReadOnlyList<Link> Links { get; init; } = [];
    public CoilRule? Coil { get; init; }

    /// <summary>True for what switches without a sound, by semiconductors.</summary>
    public bool Silent { get; init; }

    /// <summary>True for a motor that is heard to hum when it is fed and stands.</summary>
    public bool Hums { get; init; }

    /// <summary>True where a coil moves a contact, which can be heard and felt.</summary>
    public bool Clicks => !Silent && Coil is not null && Links.Any(l => l is Link.Contact { Rule: ClosedRule.ByCoil });

    /// <summary>Inputs of a module.</summary>
    public IReadOnlyList<InputRule> Inputs { get; init; } = [];

    /// <summary>Pair of bus wires that a module holds and drives, or null.</summary>
    public BusRule? Bus { get; init; }

    /// <summary>Two windings on one core, or null.</summary>
    public Coupling? Coupling { get; init; }
    public LoadRule? Load { get; init; }

    /// <summary>
    /// Link that is open after a trip, where a lever or flag shows it until somebody sets it back; null where nothing does.
    /// </summary>
    public int? Trip { get; init; }

    /// <summary>What trips it when current goes home another way, or null.</summary>
    public ResidualRule? Residual { get; init; }
    public IReadOnlyList<FaultMode> Faults { get; init; } = [];

    public int LinkIndex(string name)
    {
        for (var i = 0; i < Links.Count; i++)
            if (Links[i].Name == name)
                return i;
        return -1;
    }
}

/// <summary>One conducting path inside a part.</summary>
/// <param name="Name">Name in fault words, <c>30-87</c>, <c>coil</c>.</param>
/// <param name="Ohms">Resistance when conducting.</param>
/// <param name="LogSpread">Standard deviation of the logarithm of the resistance factor from part to part.</param>
public abstract record Link(string Name, string A, string B, double Ohms, double LogSpread)
{
    /// <summary>How far the volts that it keeps for itself while it conducts stray from part to part, V.</summary>
    public double StrayVolts { get; init; }

    /// <summary>A plain resistance: load, coil, pin.</summary>
    public sealed record Resistance(string Name, string A, string B, double Ohms, double LogSpread) : Link(Name, A, B, Ohms, LogSpread)
    {
        /// <summary>
        /// For what is stated by what it takes at work, and has far less to an ohmmeter: the share that is left at rest. A motor's copper
        /// without its back-EMF or reactance, a filament that is cold. Null where it is one and the same, or stated.
        /// </summary>
        public double? RestShare { get; init; }

        /// <summary>How widely that share strays from part to part, as a standard deviation of the logarithm.</summary>
        public double RestLogSpread { get; init; }

        /// <summary>Seconds of rest after which it takes <see cref="SleepOhms"/> instead.</summary>
        public double SleepAfter { get; init; } = double.PositiveInfinity;
        public double SleepOhms { get; init; }

        /// <summary>Resistance of a filament that does not glow, or null where it is one and the same.</summary>
        public double? ColdOhms { get; init; }

        /// <summary>Volts from which a filament is hot.</summary>
        public double GlowVolts { get; init; }
    }

    /// <summary>
    /// What alternating current meets otherwise than direct: a winding, with <paramref name="Siemens"/> at rated volts and frequency, or a
    /// capacitor, which lets no direct current through. <paramref name="Ohms"/> is what a meter reads.
    /// </summary>
    /// <param name="Siemens">Admittance at work, S.</param>
    /// <param name="Microfarads">Capacity, or null for a winding.</param>
    public sealed record Reactance(
        string Name,
        string A,
        string B,
        double Ohms,
        double LogSpread,
        System.Numerics.Complex Siemens,
        double? Microfarads = null
    ) : Link(Name, A, B, Ohms, LogSpread)
    {
        /// <summary>Admittance while the part's mover has not pulled in, S: a rotor that stands. Null for no difference.</summary>
        public System.Numerics.Complex? StandingSiemens { get; init; }

        /// <summary>A capacitor of so many microfarads.</summary>
        public static Reactance Capacitor(string name, string a, string b, double microfarads, double spread) =>
            new(name, a, b, Defaults.OpenOhms, spread, System.Numerics.Complex.Zero, microfarads);
    }

    /// <summary>Closed while the rule says so, else <see cref="Defaults.OpenOhms"/>.</summary>
    public sealed record Contact(string Name, string A, string B, ClosedRule Rule)
        : Link(Name, A, B, Defaults.ClosedContactOhms, Spread.Contact)
    {
        public double ClosedOhms { get; init; } = Defaults.ClosedContactOhms;

        /// <summary>Share of the time it is closed while its rule holds; null for all of it.</summary>
        public double? PulsedShare { get; init; }
    }

    /// <summary>Opens for good once its settled current passes <see cref="Defaults.FuseBlowFactor"/> × rating.</summary>
    /// <param name="ElementOhms">Its element where that is known by its rating; else a default.</param>
    public sealed record Fuse(string Name, string A, string B, double RatedAmps, ClosedRule? Rule = null, double? ElementOhms = null)
        : Link(Name, A, B, ElementOhms ?? Defaults.FuseOhms, ElementOhms is null ? Spread.Contact : Spread.FuseElement);

    /// <summary>Conducts from A to B above <paramref name="Volts"/>.</summary>
    public sealed record Diode(string Name, string A, string B, double Volts, double Ohms) : Link(Name, A, B, Ohms, Spread.Load);

    /// <summary>
    /// A source behind a resistance: terminal A is positive. <paramref name="TakingOhms"/> holds while current flows into it;
    /// past <paramref name="LimitAmps"/> it gives that current and no more.
    /// </summary>
    public sealed record Source(
        string Name,
        string A,
        string B,
        double Emf,
        double Ohms,
        double TakingOhms,
        double LimitAmps,
        Condition? When
    ) : Link(Name, A, B, Ohms, Spread.Contact / 3)
    {
        /// <summary>Alternating volts as a phasor, besides the direct ones.</summary>
        public System.Numerics.Complex Ac { get; init; }
    }
}

/// <summary>What closes a contact.</summary>
public abstract record ClosedRule
{
    public sealed record Always : ClosedRule;

    /// <summary>Closed while its own part's coil holds (<paramref name="PulledIn"/>) or while it does not.</summary>
    public sealed record ByCoil(bool PulledIn) : ClosedRule;

    /// <summary>Closed when any of <paramref name="Closed"/> holds and none of <paramref name="Open"/>; null entries hold always.</summary>
    public sealed record ByControls(IReadOnlyList<Condition?> Closed, IReadOnlyList<Condition> Open) : ClosedRule;

    /// <summary>Whether it is closed by controls alone, all of them in one position, nothing pulled in.</summary>
    public bool IsClosedAt(string position) =>
        this is Always
        || this is ByControls by
            && by.Closed.Any(c => c?.Holds(_ => position, _ => false) ?? true)
            && !by.Open.Any(c => c.Holds(_ => position, _ => false));
}

/// <summary>A coil that moves contacts: it pulls in at or above one voltage and lets go at or below another.</summary>
/// <param name="Link">Index of the coil link.</param>
/// <param name="OperateMs">Milliseconds from coil voltage to closed contact; common practice, no source.</param>
public sealed record CoilRule(int Link, double RatedVolts, double PullInVolts, double DropOutVolts, double OperateMs, double ReleaseMs)
{
    /// <summary>True for what trips by its current and is set back by hand.</summary>
    public bool IsTrip => DropOutVolts <= NeverLetsGo && ResetLink is null;

    /// <summary>Volts at which <see cref="OperateMs"/> is stated; those of its rating when nothing else is said.</summary>
    public double TimedAtVolts { get; init; } = RatedVolts;

    /// <summary>Drop-out volts of what latches: it is reset by hand, not by its volts.</summary>
    public const double NeverLetsGo = -1;

    /// <summary>Links of which the highest volts decide; the coil itself for a relay.</summary>
    public IReadOnlyList<int> Links { get; init; } = [Link];

    /// <summary>True where the lowest volts decide instead: all of them have to be fed.</summary>
    public bool Weakest { get; init; }

    /// <summary>True where the volts count only while the first two links' phases follow each other clockwise.</summary>
    public bool InOrder { get; init; }

    /// <summary>Of the volts of two links, those that decide.</summary>
    public double Deciding(double a, double b) => Weakest ? Math.Min(a, b) : Math.Max(a, b);

    /// <summary>A pull-in winding: its volts decide while the coil is at rest, those of <see cref="Links"/> once it holds.</summary>
    public int? PullLink { get; init; }

    /// <summary>A second coil that lets go what the first has pulled in; without volts it stays as it is.</summary>
    public int? ResetLink { get; init; }

    /// <summary>Every link whose volts it looks at.</summary>
    public IEnumerable<int> AllLinks =>
        Links.Concat(PullLink is { } pull ? [pull] : Array.Empty<int>()).Concat(ResetLink is { } reset ? [reset] : Array.Empty<int>());

    /// <summary>Seconds a timer waits before it pulls in.</summary>
    public double OnDelay { get; init; }

    /// <summary>Seconds a timer waits before it lets go.</summary>
    public double OffDelay { get; init; }
}

/// <summary>
/// Opens all its links for good once their currents, from first terminal to second and home, do not cancel by so many amps.
/// </summary>
public sealed record ResidualRule(IReadOnlyList<int> Links, double Amps);

/// <summary>How a load shows that it works: share of rated current, or for starters share of rated volts across the motor.</summary>
public sealed record LoadRule(int Link, double Rated, bool ByVolts, double WorksShare, double WeakShare)
{
    /// <summary>For a load of several elements, all of them; its share is their mean.</summary>
    public IReadOnlyList<int> Links { get; init; } = [Link];

    /// <summary>True for what works only while the part's mover holds: a motor that has started.</summary>
    public bool OnlyWhileHeld { get; init; }
}

/// <summary>A module's input: on while the volts across its link are above (or below) the threshold.</summary>
public sealed record InputRule(string Pin, int Link, bool Above, double Volts);

/// <summary>A module's two bus wires: the links that hold them, the share of time it drives them, and when it falls asleep.</summary>
public sealed record BusRule(int High, int Low, double Share, double SleepAfter);

/// <summary>An ideal ratio between two winding links: volts of the primary over volts of the secondary.</summary>
/// <param name="MagnetisingOhms">What the iron takes, as a resistance across the primary, Ω.</param>
public sealed record Coupling(int Primary, int Secondary, double Ratio, double MagnetisingOhms);
