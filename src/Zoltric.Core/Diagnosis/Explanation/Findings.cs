using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Routes;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Explanation;

public enum AdviceKind
{
    Find,
    ProveDead,
    Confirm,
    Proof,
}

/// <summary>One answer that a test may give and what it would leave, computed by diagnosing it.</summary>
/// <param name="Name">good, dead, between, or the word itself.</param>
/// <param name="Result">As it would be written in a reading line.</param>
public sealed record Outcome(string Name, string Result, double Chance, string Leads);

/// <summary>An answer that a test may give where its answers are parted by what they tell.</summary>
/// <param name="Word">Null for a value.</param>
/// <param name="Low">Least, usual and most that it may be, in the unit of the test; 0 for a word.</param>
public sealed record PartedAnswer(Answer? Word, double Low, double Middle, double High, double Chance);

/// <summary>A test worth making now.</summary>
/// <param name="Gain">Bits.</param>
public sealed record Advice(
    Test Test,
    AdviceKind Kind,
    double Gain,
    double Minutes,
    string Why,
    IReadOnlyList<Outcome> Outcomes,
    Expected Expected,
    IReadOnlyList<string> Places,
    IReadOnlyList<string> Cautions
)
{
    /// <summary>Bits of the test that is wanted, where the machine is to be proved dead for it first.</summary>
    internal double Tells { get; init; }

    /// <summary>Where <see cref="DiagnosisOptions.Parted"/> asks for them; else empty.</summary>
    public IReadOnlyList<PartedAnswer> Answers { get; init; } = [];
}

/// <summary>The stretch of a lane that still holds the trouble: not yet proved from one station to the other.</summary>
public sealed record Stretch(Lane Lane, int From, int To, IReadOnlyList<string> Parts)
{
    public Terminal FromTerminal => Lane.Stations[From].Terminal;
    public Terminal ToTerminal => Lane.Stations[To].Terminal;
}

/// <summary>Everything the readings come to.</summary>
/// <param name="Suspects">Groups, likeliest first; with <paramref name="OffSheet"/> their shares add to 1.</param>
/// <param name="Solved">One group holds 95 % and no single reading carries it alone.</param>
public sealed record Findings(
    IReadOnlyList<Verdict> Verdicts,
    IReadOnlyList<FaultGroup> Suspects,
    double OffSheet,
    Stretch? Stretch,
    IReadOnlyList<Advice> Next,
    IReadOnlyList<string> Cautions,
    bool Solved,
    IReadOnlyList<Lane> Lanes,
    MachineFunction? Function,
    string? Stuck
)
{
    private readonly WeakReference<Belief> _belief = new(null!);
    private readonly Func<Belief> _weigh = null!;

    /// <summary>
    /// What the findings rest on: megabytes for each, which few screens ask for once the lanes are marked. It is let go with the next full
    /// collection and weighed anew when it is asked for.
    /// </summary>
    internal Belief Belief
    {
        get
        {
            if (_belief.TryGetTarget(out var known))
                return known;
            var made = _weigh();
            _belief.SetTarget(made);
            return made;
        }
    }

    /// <summary>Sets what they rest on, and how that is weighed anew.</summary>
    internal (Belief Known, Func<Belief> Anew) RestOn
    {
        init => (_belief, _weigh) = (new WeakReference<Belief>(value.Known), value.Anew);
    }

    /// <summary>
    /// Volts found with every source off: nothing more is ordered until it is known what feeds them. Null where there are none.
    /// </summary>
    public string? Stop { get; init; }

    /// <summary>Locks that keep the machine from being worked, where only live tests are left; null where they do not hinder.</summary>
    public string? LockedOut { get; init; }

    /// <summary>A new fuse to be put in, where nothing else tells more; null elsewhere.</summary>
    public Test? PutIn { get; init; }

    /// <summary>The isolation of the machine as these readings, or the job's record, show it.</summary>
    public required IsolationState Isolation { get; init; }

    /// <summary>Minutes likely still to come by each way of working; null while the suspects are too many to play through.</summary>
    public IReadOnlyDictionary<Strategy, double>? Forecast { get; init; }

    /// <summary>Where the machine behaves as no drawn part could, when that is suspected and readings lie on either side.</summary>
    public Stretch? OffStretch { get; init; }

    /// <summary>The readings fit no fault of the sheet: the machine is not as drawn.</summary>
    public bool NotAsDrawn => OffSheet >= Certainty.Enough;
}
