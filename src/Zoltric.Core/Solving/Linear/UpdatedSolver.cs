using System.Numerics;

namespace Zoltric.Core.Solving.Linear;

/// <summary>
/// A standing factor with one conductance changed, by the Sherman–Morrison formula: (A + δ·u·uᵀ)⁻¹ with u = e_a − e_b.
/// Several changes are several of these, one on the other.
/// </summary>
public sealed class UpdatedSolver<T> : INodalSolver<T>
    where T : struct, INumberBase<T>
{
    /// <summary>Below this the update has lost half its digits and the caller must factor afresh.</summary>
    public const double Safe = 1e-8;

    private readonly INodalSolver<T> _inner;
    private readonly (int Node, T Weight)[] _u;
    private readonly T[] _z;
    private readonly T _factor;

    private UpdatedSolver(INodalSolver<T> inner, (int Node, T Weight)[] u, T[] z, T factor)
    {
        (_inner, _u, _z, _factor) = (inner, u, z, factor);
    }

    /// <summary>Null when the change would cancel: 1 + δ·z below <see cref="Safe"/>.</summary>
    /// <param name="a">Node, or -1 for the reference.</param>
    /// <param name="delta">Change of conductance, S.</param>
#pragma warning disable CA1000 // the number type is always written out here
    public static UpdatedSolver<T>? TryMake(INodalSolver<T> inner, int size, int a, int b, T delta) =>
        TryMake(inner, size, [(a, T.One), (b, -T.One)], delta);

    /// <summary>The same for any vector u: a coupling of windings is one conductance across v_primary − ratio · v_secondary.</summary>
    /// <param name="u">Node (or -1 for the reference) and weight.</param>
    public static UpdatedSolver<T>? TryMake(INodalSolver<T> inner, int size, IEnumerable<(int Node, T Weight)> u, T delta)
    {
        var free = u.Where(x => x.Node >= 0).ToArray();
        var z = new T[size];
        foreach (var (node, weight) in free)
            z[node] += weight;
        inner.Solve(z);
        var denominator = T.One + delta * Across(z, free);
        return double.CreateChecked(T.Abs(denominator)) < Safe ? null : new UpdatedSolver<T>(inner, free, z, delta / denominator);
    }
#pragma warning restore CA1000

    /// <summary>An update whose response is known already.</summary>
    /// <param name="z">Response of <paramref name="inner"/> to a unit current from a to b.</param>
    /// <param name="factor">δ / (1 + δ·(z_a − z_b)).</param>
    internal static UpdatedSolver<T> Of(INodalSolver<T> inner, int a, int b, T[] z, T factor) =>
        new(inner, [.. new (int Node, T Weight)[] { (a, T.One), (b, -T.One) }.Where(x => x.Node >= 0)], z, factor);

    /// <inheritdoc/>
    public void Solve(Span<T> b)
    {
        _inner.Solve(b);
        var s = _factor * Across(b, _u);
        for (var i = 0; i < b.Length; i++)
            b[i] -= s * _z[i];
    }

    private static T Across(ReadOnlySpan<T> x, (int Node, T Weight)[] u)
    {
        var sum = T.Zero;
        foreach (var (node, weight) in u)
            sum += weight * x[node];
        return sum;
    }
}
