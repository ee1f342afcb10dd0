using System.Runtime.InteropServices;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>What one test shows on one faulty machine.</summary>
/// <remarks>Some thousands are kept for each test, so what few of them have lies apart.</remarks>
/// <param name="Mean">V, A or Ω; meaningless for words.</param>
/// <param name="Spread">Standard deviation from part tolerances, same unit.</param>
/// <param name="Word">Set for words, OL and refusals.</param>
/// <param name="Share">For a function or load: share of its rated current or volts, so that the border between words is soft.</param>
/// <param name="State">Switching state it was computed in: values of two points are only joined by a curve within one state.</param>
/// <param name="Ghost">True where a point hangs on leakage: what it shows depends on damp and dirt, not on the sheet.</param>
/// <param name="Measured">True where the share tells, in standard deviations, how far a measured function lies inside its limits.</param>
/// <param name="Fixed">What of the mean does not grow with the supply, same unit.</param>
/// <param name="OfMains">True for what goes with the mains, and not with a battery or a supply behind them.</param>
/// <param name="OwnInstrument">True where the spread is that of an instrument of its own, and the meter's adds nothing.</param>
/// <param name="EitherWay">True where the sign of what was read tells nothing.</param>
/// <param name="SoundShare">Share that the sound machine has there, where it is known; else 0.</param>
[StructLayout(LayoutKind.Auto)]
internal readonly record struct Predicted(
    double Mean,
    double Spread,
    bool FollowsSupply,
    Answer? Word,
    double Share,
    int State,
    bool Ghost = false,
    bool Measured = false,
    double Fixed = 0,
    bool OfMains = false,
    bool OwnInstrument = false,
    bool EitherWay = false,
    double SoundShare = 0
)
{
    private sealed record Rare
    {
        public static readonly Rare None = new();
        public double[]? Joints;
        public int Winding;
        public double Often,
            OftenLogSpread,
            OfRatio,
            AtWill,
            Swing,
            OnTheBrink;
        public (Answer Word, double Share)? OtherEnd;
        public (double Below, double Above) Beat;
    }

    private readonly Rare? _rare;

    private Rare Apart => _rare ?? Rare.None;

    /// <summary>For an aged string: by how much each of its joints moves the reading when it strays by itself, same unit.</summary>
    public double[]? Joints
    {
        get => _rare?.Joints;
        init => _rare = value == Joints ? _rare : Apart with { Joints = value };
    }

    /// <summary>One more than the index of the motor whose windings are read; 0 for none.</summary>
    public int Winding
    {
        get => Apart.Winding;
        init => _rare = value == Winding ? _rare : Apart with { Winding = value };
    }

    /// <summary>How many times the mean such a reading of a motor often is; 0 for none.</summary>
    public double Often
    {
        get => Apart.Often;
        init => _rare = value == Often ? _rare : Apart with { Often = value };
    }

    /// <summary>How widely that strays, as a standard deviation of the logarithm.</summary>
    public double OftenLogSpread
    {
        get => Apart.OftenLogSpread;
        init => _rare = value == OftenLogSpread ? _rare : Apart with { OftenLogSpread = value };
    }

    /// <summary>How much of it goes with what a transformer makes of the mains, 0 to 1.</summary>
    public double OfRatio
    {
        get => Apart.OfRatio;
        init => _rare = value == OfRatio ? _rare : Apart with { OfRatio = value };
    }

    /// <summary>
    /// How widely ohms through electronics or damp stray, as a standard deviation of the logarithm; 0 for what does not.
    /// </summary>
    public double AtWill
    {
        get => Apart.AtWill;
        init => _rare = value == AtWill ? _rare : Apart with { AtWill = value };
    }

    /// <summary>
    /// Chance that a coil with too few volts acts otherwise than computed: of a function or load, that one which just pulls in does not; of
    /// a coil that does not pull in, that it buzzes.
    /// </summary>
    public double OnTheBrink
    {
        get => Apart.OnTheBrink;
        init => _rare = value == OnTheBrink ? _rare : Apart with { OnTheBrink = value };
    }

    /// <summary>On a machine that chatters: how far the figure goes to either side of the mean, same unit.</summary>
    public double Swing
    {
        get => Apart.Swing;
        init => _rare = value == Swing ? _rare : Apart with { Swing = value };
    }

    /// <summary>On a machine that chatters: what is seen at the other end of its round; null elsewhere.</summary>
    public (Answer Word, double Share)? OtherEnd
    {
        get => Apart.OtherEnd;
        init => _rare = value == OtherEnd ? _rare : Apart with { OtherEnd = value };
    }

    /// <summary>How far the figure goes below and above the mean while outputs pulse, same unit; zeroes where none does.</summary>
    public (double Below, double Above) Beat
    {
        get => Apart.Beat;
        init => _rare = value == Beat ? _rare : Apart with { Beat = value };
    }

    /// <summary>How far the reading moves when the supply is off by its whole volts, same unit.</summary>
    public double Gain => FollowsSupply ? Mean - Fixed : 0;

    public const double MayHaveClicked = -1;

    /// <summary>Share of a valve that is fed and stuck: its armature may be heard where what it should move stays.</summary>
    public const double MovesInside = -3;

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
