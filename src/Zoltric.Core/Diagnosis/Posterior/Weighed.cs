using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>A reading, how much it counts, and what it added to the logarithm of every weight.</summary>
/// <param name="Added">By entry of <paramref name="Partition"/>.</param>
/// <param name="OffSheet">The same for "not on the sheet".</param>
/// <param name="Unlike">The same for a machine of which nothing is known; NaN for what is no reading.</param>
/// <param name="Sound">The same for a sound machine.</param>
/// <param name="Remembered">How likely it was where both its points are as each was read before; NaN where they were not.</param>
internal sealed record Weighed(
    Reading Reading,
    double Power,
    ValuePartition Partition,
    double[] Added,
    double OffSheet,
    double Unlike,
    double Sound,
    double Remembered
)
{
    /// <summary>True where the same test has been read otherwise before.</summary>
    public bool Otherwise { get; init; }

    /// <summary>Number of parts put in before it.</summary>
    public int Period { get; init; }

    /// <summary>Tags of the parts put in before it.</summary>
    public IReadOnlySet<string> Renewed { get; init; } = new HashSet<string>();

    /// <summary>For a part put in: true where the machine was tried after it.</summary>
    public bool Followed { get; init; }

    /// <summary>What the machine was seen to do in its setup.</summary>
    public Meanwhile Meanwhile { get; init; }

    /// <summary>What it added to a suspect's fine point.</summary>
    public double At(int suspect, int fine) => Added[Partition.At(suspect, fine)];
}
