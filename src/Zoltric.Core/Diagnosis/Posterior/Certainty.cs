namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>How sure is sure.</summary>
public static class Certainty
{
    /// <summary>A group with this share is the answer, if no single reading carries it.</summary>
    public const double Enough = 0.95;
}
