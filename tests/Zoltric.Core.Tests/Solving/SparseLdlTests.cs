using System.Numerics;
using CsCheck;
using MathNet.Numerics.LinearAlgebra;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Tests.Solving;

/// <summary>The factor against a general numerics library and against exact rational arithmetic.</summary>
public class SparseLdlTests
{
    private sealed record Net(int Size, (int A, int B, double G)[] Branches, double[] ToReference);

    private static readonly Gen<Net> Nets =
        from n in Gen.Int[2, 25]
        from branches in Gen.Select(Gen.Int[0, n - 1], Gen.Int[0, n - 1], Gen.Double[-3, 3]).Array[n, 3 * n]
        from grounded in Gen.Double[-3, 1].Array[n]
        select new Net(
            n,
            [.. branches.Where(b => b.Item1 != b.Item2).Select(b => (b.Item1, b.Item2, Math.Pow(10, b.Item3)))],
            [.. grounded.Select(g => Math.Pow(10, g))]
        );

    private static SparseLdl<T> Factor<T>(Net net, Func<double, T> of)
        where T : struct, INumberBase<T>
    {
        var pattern = new NodalPattern(net.Size, [.. net.Branches.Select(b => (b.A, b.B))]);
        var weights = new T[pattern.Entries];
        foreach (var (a, b, g) in net.Branches)
            weights[pattern.EntryOf(a, b)] += of(g);
        return new SparseLdl<T>(pattern, weights, net.ToReference.Select(of).ToArray());
    }

    private static double[,] Dense(Net net)
    {
        var m = new double[net.Size, net.Size];
        for (var i = 0; i < net.Size; i++)
            m[i, i] = net.ToReference[i];
        foreach (var (a, b, g) in net.Branches)
        {
            m[a, a] += g;
            m[b, b] += g;
            m[a, b] -= g;
            m[b, a] -= g;
        }
        return m;
    }

    [Fact]
    public void Solves_what_MathNet_solves() =>
        Nets.Sample(
            net =>
            {
                var right = Enumerable.Range(0, net.Size).Select(i => Math.Sin(i + 1)).ToArray();
                var expected = Matrix<double>
                    .Build.DenseOfArray(Dense(net))
                    .Solve(MathNet.Numerics.LinearAlgebra.Vector<double>.Build.DenseOfArray(right));
                var x = (double[])right.Clone();
                Factor(net, g => g).Solve(x);
                for (var i = 0; i < net.Size; i++)
                    x[i].ShouldBe(expected[i], 1e-7 * (1 + expected.AbsoluteMaximum()));
            },
            iter: 200
        );

    [Fact]
    public void A_changed_branch_by_update_equals_a_fresh_factor() =>
        Nets.Sample(
            net =>
            {
                var (a, b, g) = net.Branches.Length > 0 ? net.Branches[0] : (0, 1, 1.0);
                if (net.Branches.Length == 0)
                    return;
                var updated = UpdatedSolver<double>.TryMake(Factor(net, x => x), net.Size, a, b, -0.9 * g).ShouldNotBeNull();
                var fresh = Factor(net with { Branches = [(a, b, 0.1 * g), .. net.Branches.Skip(1)] }, x => x);
                var (p, q) = (new double[net.Size], new double[net.Size]);
                p[0] = q[0] = 1;
                updated.Solve(p);
                fresh.Solve(q);
                for (var i = 0; i < net.Size; i++)
                    p[i].ShouldBe(q[i], 1e-9 * (1 + q.Max(Math.Abs)));
            },
            iter: 200
        );

    [Fact]
    public void Many_right_sides_at_once_are_solved_as_one_by_one() =>
        Gen.Select(Nets, Gen.Int[1, 11])
            .Sample(
                (net, count) =>
                {
                    var factor = Factor(net, g => g);
                    var all = new double[net.Size * count];
                    for (var i = 0; i < all.Length; i++)
                        all[i] = i % 3 == 0 ? 0 : Math.Sin(i);
                    var each = Enumerable
                        .Range(0, count)
                        .Select(k => Enumerable.Range(0, net.Size).Select(n => all[n * count + k]).ToArray())
                        .ToList();
                    factor.SolveSideBySide(all, count);
                    for (var k = 0; k < count; k++)
                    {
                        factor.Solve(each[k]);
                        for (var n = 0; n < net.Size; n++)
                            all[n * count + k].ShouldBe(each[k][n], 1e-12 * (1 + each[k].Max(Math.Abs)));
                    }
                },
                iter: 200
            );

    [Fact]
    public void The_way_to_the_root_tells_one_difference_as_the_whole_solution_does() =>
        Gen.Select(Nets, Gen.Int[-1, 24], Gen.Int[-1, 24], Gen.Int[-1, 24], Gen.Int[-1, 24])
            .Sample(
                (net, a, b, p, q) =>
                {
                    (a, b, p, q) = (
                        Math.Min(a, net.Size - 1),
                        Math.Min(b, net.Size - 1),
                        Math.Min(p, net.Size - 1),
                        Math.Min(q, net.Size - 1)
                    );
                    var factor = Factor(net, g => g);
                    var x = new double[net.Size];
                    if (a >= 0)
                        x[a] += 1;
                    if (b >= 0)
                        x[b] -= 1;
                    factor.Solve(x);
                    factor.Between(a, b, p, q).ShouldBe((p < 0 ? 0 : x[p]) - (q < 0 ? 0 : x[q]), 1e-12 * (1 + x.Max(Math.Abs)));
                },
                iter: 300
            );

    [Fact]
    public void Columns_laid_over_a_factor_equal_a_fresh_one() =>
        Nets.Sample(
            net =>
            {
                if (net.Branches.Length == 0)
                    return;
                var (a, b, _) = net.Branches[0];
                var pattern = new NodalPattern(net.Size, [.. net.Branches.Select(x => (x.A, x.B))]);
                var weights = new double[pattern.Entries];
                foreach (var (p, q, g) in net.Branches)
                    weights[pattern.EntryOf(p, q)] += g;
                var under = new SparseLdl<double>(pattern, (double[])weights.Clone(), net.ToReference);
                // Opened as far as insulation, where an update would cancel.
                var entry = pattern.EntryOf(a, b);
                var left = net.Branches.Skip(1).Where(x => (x.A, x.B) == (a, b) || (x.A, x.B) == (b, a)).Sum(x => x.G) + 1e-12;
                var laid = under.Refactored(weights, net.ToReference, [(entry, left)], [(0, 2.5)], [a, b, 0]);
                weights[entry] = left;
                var fresh = new SparseLdl<double>(pattern, weights, [2.5, .. net.ToReference.Skip(1)]);
                var (x, y) = (new double[net.Size], new double[net.Size]);
                x[^1] = y[^1] = 1;
                laid.Solve(x);
                fresh.Solve(y);
                for (var i = 0; i < net.Size; i++)
                    x[i].ShouldBe(y[i], 1e-12 * y.Max(Math.Abs));
            },
            iter: 200
        );

    [Fact]
    public void Complex_phasors_go_through_the_same_factor()
    {
        // 1 Ω in series with 1 + j Ω to the reference, 1 A in: the textbook divider, V1 = 2 + j, V2 = 1 + j.
        var pattern = new NodalPattern(2, [(0, 1)]);
        var weights = new Complex[pattern.Entries];
        weights[pattern.EntryOf(0, 1)] = Complex.One;
        var factor = new SparseLdl<Complex>(pattern, weights, [Complex.Zero, 1 / new Complex(1, 1)]);
        Complex[] b = [Complex.One, Complex.Zero];
        factor.Solve(b);
        (b[0] - new Complex(2, 1)).Magnitude.ShouldBeLessThan(1e-12);
        (b[1] - new Complex(1, 1)).Magnitude.ShouldBeLessThan(1e-12);
    }

    /// <summary>
    /// A chain of milliohm joints, one of them a gigaohm, with a gigaohm tail to the reference; solved in fractions of whole numbers.
    /// </summary>
    [Theory]
    [InlineData(6, 3)]
    [InlineData(20, 1)]
    [InlineData(40, 39)]
    [InlineData(40, -1)]
    public void Millivolts_survive_beside_gigaohms(int joints, int opened)
    {
        // 12 V behind 10 mΩ at node 0, joints of 1 mΩ between nodes, 10 MΩ (the meter) and 1 GΩ at the far end.
        var ohms = Enumerable.Range(0, joints).Select(i => i == opened ? 1e9 : 1e-3).ToArray();
        var net = new Net(
            joints + 1,
            [.. ohms.Select((r, i) => (i, i + 1, 1 / r))],
            [1 / 0.01, .. new double[joints - 1], 1 / 1e9 + 1 / 1e7]
        );
        var x = new double[joints + 1];
        x[0] = 12 / 0.01;
        Factor(net, g => g).Solve(x);
        // Exact: one current through everything, in units of 1/1000 Ω.
        var milliohms = ohms.Select(r => (BigInteger)(r * 1000)).ToArray();
        // The tail: 1 GΩ beside 10 MΩ is 1e9/101 Ω.
        var (tailTop, tailBottom) = (BigInteger.Pow(10, 12), (BigInteger)101);
        var sum = 10 + milliohms.Aggregate(BigInteger.Zero, (a, b) => a + b);
        var wholeTop = sum * tailBottom + tailTop;
        for (var node = 0; node <= joints; node++)
        {
            var before = 10 + milliohms.Take(node).Aggregate(BigInteger.Zero, (a, b) => a + b);
            // V = 12 · (1 − before / whole), whole = wholeTop / tailBottom.
            var top = 12 * (wholeTop - before * tailBottom);
            var exact = Math.Exp(BigInteger.Log(top) - BigInteger.Log(wholeTop));
            x[node].ShouldBe(exact, 1e-9 * exact);
        }
    }
}
