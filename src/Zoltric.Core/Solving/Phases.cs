using System.Numerics;

namespace Zoltric.Core.Solving;

/// <summary>Order of three phases.</summary>
public static class Phases
{
    /// <summary>True where the second line volts follow the first by a third of a turn, as L2–L3 follows L1–L2.</summary>
    /// <param name="first">Phasor from the first phase to the second, V.</param>
    /// <param name="second">Phasor from the second phase to the third, V.</param>
    public static bool TurnRight(Complex first, Complex second) => (first * Complex.Conjugate(second)).Imaginary > 0;
}
