using Zoltric.Core.Circuits;

namespace Zoltric.Core.Safety;

/// <summary>
/// Every limit that a rule of safety hangs on, each once. Figures written from memory say so; local codes come first.
/// </summary>
public static class SafetyLimits
{
    /// <summary>
    /// Above these a point is dangerous to touch: live work is gated, and lamp, feed and jumper are forbidden. V effective and V. HD
    /// 60364-4-41, 414.4.5: no basic protection is asked for up to 25 V AC or 60 V DC in the dry (from memory). They lie below the limits
    /// of extra-low voltage, 50 V AC and 120 V DC (IEC 61140).
    /// </summary>
    public const double DryAcVolts = 25,
        DryDcVolts = 60;

    /// <summary>The same where the job says wet: 12 V AC, 30 V DC (HD 60364-4-41, 414.4.5, from memory).</summary>
    public const double WetAcVolts = 12,
        WetDcVolts = 30;

    /// <summary>
    /// A point is dead under this, V, by a low-impedance two-pole tester (EN 61243-3). Common practice, no source for the figure.
    /// </summary>
    public const double DeadVolts = 1;

    /// <summary>
    /// Most that a two-pole tester is made for, V AC and V DC (EN 61243-3, from memory). Points that can exceed it are never measured.
    /// </summary>
    public const double TesterAcVolts = 1000,
        TesterDcVolts = 1500;

    /// <summary>True where the volts are dangerous to touch.</summary>
    public static bool IsDangerous(Exposure e, bool wet = false) =>
        e.AcVolts > (wet ? WetAcVolts : DryAcVolts) || e.DcVolts > (wet ? WetDcVolts : DryDcVolts);

    /// <summary>True where the volts are more than a tester is made for.</summary>
    public static bool IsBeyondTester(Exposure e) => e.AcVolts > TesterAcVolts || e.DcVolts > TesterDcVolts;

    /// <summary>True for a reading that counts as dead.</summary>
    public static bool IsDead(double volts) => Math.Abs(volts) < DeadVolts;
}
