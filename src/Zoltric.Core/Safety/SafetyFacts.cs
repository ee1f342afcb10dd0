namespace Zoltric.Core.Safety;

/// <summary>What the job says of the place and the machine, as far as rules of safety hang on it.</summary>
/// <param name="Wet">The work is done in the wet: lower limits hold.</param>
/// <param name="Denied">Tags that a person has said, by name and with a reason, are no safety parts.</param>
public sealed record SafetyFacts(bool Wet, IReadOnlySet<string> Denied)
{
    public static SafetyFacts None { get; } = new(false, new HashSet<string>());
}
