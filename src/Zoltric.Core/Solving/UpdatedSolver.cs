using System.Numerics;

namespace Zoltric.Core.Solving;

/// <summary>
/// A standing factor with one conductance changed, by the Sherman–Morrison formula: (A + δ·u·uᵀ)⁻¹ with u = e_a − e_b.
/// Several changes are several of these, one on the other.
/// </summary>
public sealed class UpdatedSolver<T> : INodalSolver<T> where T : struct, INumberBase<T>
{
    /// <summary>Below this the update has lost half its digits and the caller must factor afresh.</summary>
    public const double Safe = 1e-8;

    private readonly INodalSolver<T> _inner;
    private readonly int _a;
    private readonly int _b;
    private readonly T[] _z;
    private readonly T _factor;

    private UpdatedSolver(INodalSolver<T> inner, int a, int b, T[] z, T factor)
    {
        (_inner, _a, _b, _z, _factor) = (inner, a, b, z, factor);
    }

    /// <summary>Null when the change would cancel: 1 + δ·z below <see cref="Safe"/>.</summary>
    /// <param name="a">Node, or -1 for the reference.</param>
    /// <param name="delta">Change of conductance, S.</param>
#pragma warning disable CA1000 // the number type is always written out here
    public static UpdatedSolver<T>? TryMake(INodalSolver<T> inner, int size, int a, int b, T delta)
    {
        var z = new T[size];
        if (a >= 0) z[a] = T.One;
        if (b >= 0) z[b] = -T.One;
        inner.Solve(z);
        var denominator = T.One + delta * Across(z, a, b);
        return double.CreateChecked(T.Abs(denominator)) < Safe ? null : new UpdatedSolver<T>(inner, a, b, z, delta / denominator);
    }
#pragma warning restore CA1000

    /// <inheritdoc/>
    public void Solve(Span<T> b)
    {
        _inner.Solve(b);
        var s = _factor * Across(b, _a, _b);
        for (var i = 0; i < b.Length; i++) b[i] -= s * _z[i];
    }

    private static T Across(ReadOnlySpan<T> x, int a, int b) => (a >= 0 ? x[a] : T.Zero) - (b >= 0 ? x[b] : T.Zero);
}
