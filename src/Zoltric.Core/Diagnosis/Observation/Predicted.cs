using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>What one test shows on one faulty machine.</summary>
/// <param name="Mean">V, A or Ω; meaningless for words.</param>
/// <param name="Spread">Standard deviation from part tolerances, same unit.</param>
/// <param name="Word">Set for words, OL and refusals.</param>
/// <param name="Share">For a function or load: share of its rated current or volts, so that the border between words is soft.</param>
/// <param name="State">Switching state it was computed in: values of two points are only joined by a curve within one state.</param>
/// <param name="Ghost">True where a point hangs on leakage: what it shows depends on damp and dirt, not on the sheet.</param>
/// <param name="Joints">For an aged string: by how much each of its joints moves the reading when it strays by itself, same unit.</param>
/// <param name="Fixed">What of the mean does not grow with the supply, same unit.</param>
/// <param name="Measured">True where the share tells, in standard deviations, how far a measured function lies inside its limits.</param>
/// <param name="Winding">One more than the index of the motor whose windings are read; 0 for none.</param>
/// <param name="OfMains">True for what goes with the mains, and not with a battery or a supply behind them.</param>
/// <param name="OfRatio">How much of it goes with what a transformer makes of the mains, 0 to 1.</param>
/// <param name="AtWill">
/// How widely ohms through electronics or damp stray, as a standard deviation of the logarithm; 0 for what does not.
/// </param>
/// <param name="OwnInstrument">True where the spread is that of an instrument of its own, and the meter's adds nothing.</param>
/// <param name="EitherWay">True where the sign of what was read tells nothing.</param>
/// <param name="Often">How many times the mean such a reading of a motor often is; 0 for none.</param>
/// <param name="Swing">On a machine that chatters: how far the figure goes to either side of the mean, same unit.</param>
/// <param name="OtherEnd">On a machine that chatters: what is seen at the other end of its round; null elsewhere.</param>
/// <param name="Beat">How far the figure goes below and above the mean while outputs pulse, same unit; zeroes where none does.</param>
/// <param name="OftenLogSpread">How widely that strays, as a standard deviation of the logarithm.</param>
/// <param name="SoundShare">Share that the sound machine has there, where it is known; else 0.</param>
internal readonly record struct Predicted(
    double Mean,
    double Spread,
    bool FollowsSupply,
    Answer? Word,
    double Share,
    int State,
    bool Ghost = false,
    bool Measured = false,
    double[]? Joints = null,
    double Fixed = 0,
    int Winding = 0,
    double Often = 0,
    double OftenLogSpread = 0,
    bool OfMains = false,
    double OfRatio = 0,
    double AtWill = 0,
    bool OwnInstrument = false,
    bool EitherWay = false,
    double Swing = 0,
    (Answer Word, double Share)? OtherEnd = null,
    (double Below, double Above) Beat = default,
    double SoundShare = 0
)
{
    /// <summary>How far the reading moves when the supply is off by its whole volts, same unit.</summary>
    public double Gain => FollowsSupply ? Mean - Fixed : 0;

    public const double MayHaveClicked = -1;

    /// <summary>Share of a coil that holds on so little that it may let go and be pulled in again.</summary>
    public const double BarelyHolds = -2;

    /// <summary>
    /// Below so many times its pull-in volts it barely holds: what it switches takes several times its rated current for an instant
    /// (common practice, no source).
    /// </summary>
    public const double HoldsBelow = 1.25;

    /// <summary>Share of what a lever or flag shows plainly.</summary>
    public const double ShownByLever = 1;

    /// <summary>Share of a look at a fuse, whose element can be seen.</summary>
    public const double ShownByElement = 2;
}
