using System.Reflection;

namespace Zoltric.Core.Circuits;

/// <summary>
/// What is observed: a meter on two points, a lamp, an ear, an eye. Each probe is one file in this folder and says all that is its own:
/// its words, what it answers, where its tips go, how the meter is set, what it costs, how it is ordered and which instrument reads it.
/// </summary>
public abstract partial record Probe
{
    /// <summary>What of the figures is taken where the meter watches for a while.</summary>
    public Statistic Statistic { get; init; }

    /// <summary>Dimension of the number it answers with; None where it answers in words.</summary>
    public virtual Dimension Dimension => Dimension.None;

    /// <summary>The words it answers with; none where it answers with a number.</summary>
    public virtual IReadOnlyList<Answer> Answers => [];

    /// <summary>Those of them that fit what it is asked of.</summary>
    public virtual IReadOnlyList<Answer> AnswersOn(Circuit circuit) => Answers;

    /// <summary>Points that the tips touch; a second point that is not said is the reference and no tip here.</summary>
    public virtual IReadOnlyList<Terminal> Tips => [];

    /// <summary>True where the black tip is at the reference without being said.</summary>
    public virtual bool BlackAtReference => false;

    /// <summary>Tags of the parts one must get to.</summary>
    public virtual IEnumerable<string> Reaches(Circuit circuit) => Tips.Select(t => t.Tag);

    /// <summary>Points whose volts the hand or the instrument is exposed to.</summary>
    public virtual IEnumerable<Terminal> Exposes(Circuit circuit) => BlackAtReference ? [.. Tips, circuit.ReferencePoint] : Tips;

    /// <summary>True for probes that send their own current: ohms, continuity, insulation.</summary>
    public virtual bool SendsCurrent => false;

    /// <summary>
    /// True where people say how much and not which way: volts lost across a thing, amps. Which lead was red, or where the arrow pointed,
    /// tells nothing then.
    /// </summary>
    public virtual bool IsEitherWay => false;

    /// <summary>True for probes that change what the machine does: a lamp loads it, an ammeter joins what was parted.</summary>
    public virtual bool Loads => false;

    /// <summary>True where a tip, a lamp or a clamp is put on the machine; false for eye, ear, code reader and a part renewed.</summary>
    public virtual bool TouchesMachine => true;

    /// <summary>Minutes to hold the instrument, to look or to listen; estimates, in docs/costs.md.</summary>
    public virtual double Minutes => 0.7;

    /// <summary>How the meter is set.</summary>
    public abstract Dial DialOn(Circuit circuit);

    /// <summary>The order in words.</summary>
    public virtual Order OrderOn(Circuit circuit) => new("Measure", ToString()!);

    /// <summary>Reads it on a machine that stands still.</summary>
    public virtual MeterReading Read(IInstruments with) =>
        MeterReading.Refuse(Dimension.None, $"“{this}” cannot be computed from the sheet.");

    /// <summary>Reads it on a machine that it changes; what changes nothing is read where the machine has settled.</summary>
    public virtual MeterReading Read(ILoadingInstruments with) => Read(with.Settled());

    /// <summary>The two points of a reading in volts; null for every other probe.</summary>
    public virtual BetweenTips? VoltsOn(Circuit circuit) => null;

    /// <summary>What an ohms reading lies across; null for every other probe.</summary>
    public virtual Across? OhmsAcross => null;

    /// <summary>How each word that begins a probe is read; found by the files of this folder.</summary>
    public static IReadOnlyDictionary<string, ProbeWords> Words { get; } =
        typeof(Probe)
            .GetNestedTypes()
            .Where(t => t.IsSubclassOf(typeof(Probe)))
            .Select(t => (ProbeWords)t.GetProperty("Reads", BindingFlags.Public | BindingFlags.Static)!.GetValue(null)!)
            .SelectMany(w => w.Verbs.Select(v => (Verb: v, Words: w)))
            .OrderBy(w => w.Verb, StringComparer.Ordinal)
            .ToDictionary(w => w.Verb, w => w.Words, StringComparer.Ordinal);

    private string Watched => Statistic == Statistic.None ? "" : " " + Statistic.ToString().ToLowerInvariant();

    public abstract override string ToString();
}

/// <summary>The words that begin a probe, and how what follows them is read.</summary>
/// <param name="Read">From the verb that was written and its operands.</param>
public sealed record ProbeWords(IReadOnlyList<string> Verbs, Func<string, IOperands, Probe> Read);

/// <summary>What follows a probe's verb. Each member throws the notation's own problem where the words do not fit.</summary>
public interface IOperands
{
    int Count { get; }

    /// <summary>What stands in quotes, or null.</summary>
    string? Quoted { get; }

    /// <summary>As many operands are wanted, which are <paramref name="expected"/>.</summary>
    void Want(int least, int most, string expected);

    Terminal Point(int i);

    /// <summary>Two points, or what is measured across.</summary>
    Across Across();

    /// <summary>The one operand as the tag of a part.</summary>
    string Tag();

    /// <summary>The one operand as what is mended: a part, a wire or one pin.</summary>
    string Unit();

    string Wire(int i);

    string Text(int i);

    /// <summary>True where an operand is written as a terminal and not as a part.</summary>
    bool IsPoint(int i);

    bool TryQuantity(int i, Dimension dimension, out double value);

    /// <summary>The problem with an operand.</summary>
    Exception Wrong(int i, string said, string expected);
}

/// <summary>How a meter is set for a probe.</summary>
/// <param name="Function">As the HTTP interface says it.</param>
/// <param name="Words">As a person reads it on the dial.</param>
public readonly record struct Dial(string Function, string Words, DialRange Range = DialRange.None);

/// <summary>By what the range of a dial is chosen.</summary>
public enum DialRange
{
    None,

    /// <summary>Most volts that can stand at the tips, of either sort, or of one.</summary>
    Volts,
    AnyVolts,
    AcVolts,
    DcVolts,
    Ohms,
    Insulation,
    Amps,

    /// <summary>What leaks, by a clamp.</summary>
    Leakage,
    SeriesAmps,
}

/// <summary>An order in words.</summary>
/// <param name="Do">What the hand does: "Red on", "Volts across", "Listen at".</param>
/// <param name="On">The point or part, the thing to find; the probe itself where nothing better is known.</param>
public sealed record Order(string Do, string On)
{
    /// <summary>Where the other tip goes, or null.</summary>
    public string? Black { get; init; }

    /// <summary>Tag of the part whose place is said, or null.</summary>
    public string? At { get; init; }

    /// <summary>What is said where no part has a place.</summary>
    public string Where { get; init; } = "";

    /// <summary>The point whose wires are named, or null.</summary>
    public Terminal? WiresAt { get; init; }

    /// <summary>How it is done; null for plugged or not, dead or live.</summary>
    public string? How { get; init; }

    /// <summary>Said before what is taken apart; null for nothing.</summary>
    public string? Near { get; init; }
}

/// <summary>The two points of a reading in volts and the function they are read in; the second is the reference where null.</summary>
public readonly record struct BetweenTips(ProbePoint P, ProbePoint? Q, VoltsFunction Function);

/// <summary>The instruments, eyes and ears that probes are read with, on a machine that stands still.</summary>
public interface IInstruments
{
    Circuit Circuit { get; }
    MeterReading Volts(in BetweenTips tips);
    MeterReading Ohms(Across x);
    MeterReading Insulation(Across x);

    /// <summary>A source's own current.</summary>
    MeterReading Amps(string tag);
    MeterReading Clamp(string wire);

    /// <summary>Current of several wires together, each counted from its first end to its second, or against it.</summary>
    MeterReading Residual(IReadOnlyList<(string Wire, bool Along)> wires);
    MeterReading Beep(Across x);

    /// <summary>Capacity of a part that is taken out of the circuit.</summary>
    MeterReading Capacitance(string tag);

    /// <summary>Order of the phases at three points.</summary>
    MeterReading Rotation(Terminal first, Terminal second, Terminal third);
    MeterReading Function(string name);
    MeterReading Load(string tag);
    MeterReading Coil(string tag);
    MeterReading Look(string tag);
}

/// <summary>The instruments that change what the machine does, each with a run of its own.</summary>
public interface ILoadingInstruments
{
    /// <summary>In the place of a pulled part; else the source's own current.</summary>
    MeterReading Amps(string tag);

    /// <summary>In the gap between a post and the lead lifted off it.</summary>
    MeterReading GapAmps(Terminal at);
    MeterReading Lamp(Terminal p, Terminal? q, double? watts);

    /// <summary>The machine without any of them.</summary>
    IInstruments Settled();
}

/// <summary>How a part was renewed.</summary>
public enum Renewal
{
    Replaced,
    Repaired,
    Fitted,
}

/// <summary>What a meter that watches for a while is asked for.</summary>
public enum Statistic
{
    None,

    /// <summary>Lowest figure.</summary>
    Min,

    /// <summary>Highest figure.</summary>
    Max,

    /// <summary>Highest within a millisecond or so: an inrush.</summary>
    Peak,

    /// <summary>Mean over time, as a plain meter shows.</summary>
    Mean,

    /// <summary>What alternates on direct volts.</summary>
    Ripple,
}

public enum VoltsFunction
{
    Dc,
    Ac,
    LowImpedance,
}

/// <summary>Two probe points, as written: two terminals, a part, a way through a part, a pin or a wire.</summary>
public sealed record Across(string Text, ProbePoint P, ProbePoint Q)
{
    public override string ToString() => Text;
}

/// <summary>Where a tip goes: a terminal, or one end of a wire (its own lug, on a stud).</summary>
public readonly record struct ProbePoint(Terminal Terminal, string? WireId = null, bool WireStart = false)
{
    public override string ToString() => Terminal.ToString();
}
