using System.Numerics;

namespace Zoltric.Core.Solving;

/// <summary>A current: its direct part in A and the phasor of its alternating part in A effective.</summary>
public readonly record struct Flow(double Direct, Complex Alternating)
{
    /// <summary>Signed where only direct current flows, else the effective value of both, A.</summary>
    public double Amps => Alternating == Complex.Zero ? Direct : Math.Sqrt(Direct * Direct + Alternating.Magnitude * Alternating.Magnitude);

    public static Flow operator +(Flow a, Flow b) => new(a.Direct + b.Direct, a.Alternating + b.Alternating);

    public static Flow operator -(Flow a) => new(-a.Direct, -a.Alternating);
}
