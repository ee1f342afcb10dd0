using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis;

public sealed record DiagnosisOptions
{
    public Strategy Strategy { get; init; } = Strategy.BestValue;
    public MeterClass Meter { get; init; } = MeterClass.Service;
    public Limits Limits { get; init; } = Limits.None;
    public SafetyFacts Facts { get; init; } = SafetyFacts.None;

    /// <summary>When the machine is said to fail.</summary>
    public Circumstances Circumstances { get; init; }

    /// <summary>The isolation as the job's record shows it for one person; null takes what the readings alone show.</summary>
    public IsolationState? Isolation { get; init; }

    /// <summary>How many tests to name beside the first.</summary>
    public int Alternatives { get; init; } = 3;

    /// <summary>True for the answers of what is advised, parted by what they tell.</summary>
    public bool Parted { get; init; }

    /// <summary>False leaves verdicts out, for loops that only follow the advice.</summary>
    public bool Verdicts { get; init; } = true;
}
