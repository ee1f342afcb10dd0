namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>A grid point of a suspect with the weight it stands for.</summary>
internal readonly record struct Representative(int Suspect, int Point, double Weight)
{
    /// <summary>The suspect it counts for, where that is another: a joint that comes and goes is open now and then.</summary>
    public int? StandsFor { get; init; }

    public int Counts => StandsFor ?? Suspect;

    /// <summary>How far off the supply is, as this suspect has the readings, relative.</summary>
    public double Supply { get; init; }

    /// <summary>How far off the mains are, relative.</summary>
    public double Mains { get; init; }

    /// <summary>The fine point when the value is pinned closer than the grid, else null.</summary>
    public int? FinePoint { get; init; }
}
