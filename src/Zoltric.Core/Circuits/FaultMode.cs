namespace Zoltric.Core.Circuits;

/// <summary>One way a part fails: the words that name it, what it does to the part's links, how often, and what mends it.</summary>
/// <param name="Words">Fault words without tag and value, <c>contact 30-87 open</c>.</param>
/// <param name="Effect">What changes.</param>
/// <param name="Odds">Relative odds, an estimate; 0 for words that are understood but never suspected on their own.</param>
public sealed record FaultMode(string Words, FaultEffect Effect, double Odds)
{
    /// <summary>What the words mean.</summary>
    public FaultKind Kind => FaultKinds.Of(Words);

    /// <summary>Dimension of the value the words carry, or null for none.</summary>
    public Dimension? Value { get; init; }

    /// <summary>True when the value may be left out; then <see cref="DefaultValue"/> holds.</summary>
    public double? DefaultValue { get; init; }

    /// <summary>Values to weigh, rising, where the effect alone does not say them.</summary>
    public IReadOnlyList<double>? Values { get; init; }
}

/// <summary>What a fault does to the links of the part it sits on.</summary>
public abstract record FaultEffect
{
    /// <summary>The links conduct no more than insulation.</summary>
    public sealed record Open(params int[] Links) : FaultEffect;

    /// <summary>The value in ohms comes in series with the links while they conduct.</summary>
    public sealed record Series(params int[] Links) : FaultEffect;

    /// <summary>
    /// The value in ohms, without one no contact at all, comes in series with the link, in what holds the part: pulled out and read by
    /// itself the part is sound.
    /// </summary>
    public sealed record Holder(int Link) : FaultEffect;

    /// <summary>The links have the value as their resistance.</summary>
    public sealed record SetOhms(params int[] Links) : FaultEffect;

    /// <summary>The capacitor has the value in microfarads.</summary>
    public sealed record SetMicrofarads(int Link) : FaultEffect;

    /// <summary>The source gives the value in amps at most.</summary>
    public sealed record Limit(int Link) : FaultEffect;

    /// <summary>A motor that stands still, whatever feeds it.</summary>
    public sealed record Stalled : FaultEffect;

    /// <summary>These links never have more than that many ohms, whether or not they should have fallen asleep.</summary>
    public sealed record Awake(params int[] Links) : FaultEffect;

    /// <summary>The value in ohms comes across the run of links from the first one's first terminal to the last one's second.</summary>
    public sealed record Short(int First, int Last) : FaultEffect;

    /// <summary>The links conduct whatever the state.</summary>
    public sealed record Closed(params int[] Links) : FaultEffect;

    /// <summary>Some links are open and others closed whatever the state: a trip that was not reset.</summary>
    public sealed record Tripped(int[] Opened, int[] Made) : FaultEffect;

    /// <summary>Links that follow the part's coil stand as if it were at rest: a plunger that does not move.</summary>
    public sealed record Sticks(params int[] Links) : FaultEffect;

    /// <summary>A load that draws locked-rotor current and does not move: resistance of the links times the factor.</summary>
    public sealed record Seized(double OhmsFactor, params int[] Links) : FaultEffect;

    /// <summary>The value in ohms joins two of the part's terminals.</summary>
    public sealed record Across(string From, string To) : FaultEffect;

    /// <summary>The first terminal of the link is joined to the reference by the value in ohms.</summary>
    public sealed record Grounded(int Link) : FaultEffect;

    /// <summary>All phases of the source give the value over the nominal volts of what they should.</summary>
    public sealed record EmfScale(double NominalVolts) : FaultEffect;

    /// <summary>The source gives the value in volts.</summary>
    public sealed record Emf(int Link) : FaultEffect;
}
