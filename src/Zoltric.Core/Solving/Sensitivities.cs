using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>
/// How far readings on a settled machine stray from part to part. With unit current between the points of a reading and potentials y, its
/// sensitivity to the logarithm of a branch's conductance is g · Δv · Δy (adjoint method; Vlach and Singhal, from memory).
/// </summary>
internal sealed class Sensitivities(OperatingPoint op)
{
    /// <summary>
    /// Variance of direct volts between two nodes from part to part, V²: each branch's sensitivity d V / d ln g, from the potentials and
    /// the response of the reading, times its spread.
    /// </summary>
    public double VarianceFromTolerances(int p, int q)
    {
        if (p == q)
            return 0;
        if (
            op.Update is { } update
            && op.OwnVolts is null
            && !op.IsAtChangedEnd(p, q)
            && VarianceAlong(update, p, q) is var along
            && !double.IsNaN(along)
        )
            return along;
        var (y, volts, variance) = (op.Response(p, q), op.AllVolts(), 0.0);
        for (var i = 0; i < op.Branches; i++)
        {
            if (IsOther(i))
                continue;
            var (a, b) = (op.Network.A(i), op.Network.B(i));
            variance += Square(
                Moved(i, op.BaseState.G[i], op.BaseState.Emf[i], Potentials.Across(volts, a, b), Potentials.Across(y, a, b))
            );
        }
        foreach (var c in op.Changed)
        {
            // A fault's own value is weighed over its whole range, not spread about one guess.
            if (op.IsFaulted(c.Branch))
                continue;
            var (a, b) = (op.Network.A(c.Branch), op.Network.B(c.Branch));
            variance += Square(Moved(c.Branch, c.G, c.Emf, Potentials.Across(volts, a, b), Potentials.Across(y, a, b)));
        }
        return variance;
    }

    /// <summary>Loads stray by ± 10 %, even within it: as a standard deviation; estimate.</summary>
    private const double LoadSpread = 0.058;

    /// <summary>
    /// Variance of the amps through a branch from part to part, A²: what strays elsewhere moves its volts, and its own stray its volts and
    /// its conductance.
    /// </summary>
    private double AmpsVariance(int branch)
    {
        var (from, to) = (op.Network.A(branch), op.Network.B(branch));
        // Phasors are spread by the loads alone.
        if (op.Phasors is not null)
            return Square(LoadSpread * op.AllAmps(branch));
        if (from == to)
            return 0;
        var (y, volts, variance) = (op.Response(from, to), op.AllVolts(), 0.0);
        for (var i = 0; i < op.Branches; i++)
        {
            // A fault's own value is weighed over its whole range.
            if (op.IsFaulted(i))
                continue;
            var (a, b) = (op.Network.A(i), op.Network.B(i));
            var moved =
                op.Conductance(branch) * Moved(i, op.Conductance(i), op.Emf(i), Potentials.Across(volts, a, b), Potentials.Across(y, a, b));
            variance += Square(i == branch ? op.BranchAmps(branch) * op.Network.Spread[i] - moved : moved);
        }
        return variance;
    }

    /// <summary>Spread of the amps through a wire, A.</summary>
    public double WireAmpsSpread(string id) => Math.Sqrt(AmpsVariance(op.Network.Layout.WireBranches[op.Network.Layout.WireIndex(id)]));

    /// <summary>Spread of the amps through the ammeter that was joined in last, A.</summary>
    public double AmmeterSpread() =>
        Math.Sqrt(AmpsVariance(Enumerable.Range(0, op.Branches).Last(i => op.Network.Branches[i].Owner == BranchOwner.Lead)));

    /// <summary>Spread of the amps through one link of a part, A.</summary>
    public double LinkAmpsSpread(int part, int link) => Math.Sqrt(AmpsVariance(op.Network.Layout.LinkBranches[part][link]));

    private static double Square(double x) => x * x;

    /// <summary>By how much a branch that strays by its spread moves a reading, V.</summary>
    /// <param name="across">What a unit current of the reading makes across it, Ω.</param>
    private double Moved(int branch, double g, double emf, double drop, double across)
    {
        var change = g * (drop - emf) * across;
        // A supply in its limit gives its limit, whatever its inner resistance.
        var moved = change * (change != 0 && op.State.Mode(branch) == SourceMode.Limited ? LimitSpread : op.Network.Spread[branch]);
        // What a transistor keeps for itself is a matter of the part, and not of the current.
        return op.Network.StrayVolts[branch] is > 0 and var stray && g > 2 / Defaults.OpenOhms
            ? double.Hypot(moved, g * across * stray)
            : moved;
    }

    /// <summary>
    /// The same where this machine is a few changes on its base state: of all branches only those that the reading's current takes
    /// there, or is sent through by a change. NaN where it is sent through insulation.
    /// </summary>
    private double VarianceAlong(LowRankUpdate update, int p, int q)
    {
        var (y, z, count) = (op.BaseState.Response(p, q), update.WriteOut(), update.Count);
        Span<double> along = stackalloc double[count],
            through = stackalloc double[count];
        for (var k = 0; k < count; k++)
            (along[k], through[k]) = (update.Along(y, k), update.Through(k));
        var seen = Seen.Of(op.Branches);
        var variance = Sum(op.BaseState.Carriers(p, q), along, through);
        for (var k = 0; k < count; k++)
        {
            if (Math.Abs(along[k]) < LeastAlong)
                continue;
            if (op.BaseState.Carriers(update.Change(k)) is not { } carriers)
                return double.NaN;
            variance += Sum(carriers, along, through);
        }
        foreach (var c in op.Changed)
            if (!op.IsFaulted(c.Branch))
                variance += Of(c.Branch, c.G, c.Emf, along, through);
        return variance;

        double Sum(int[] branches, ReadOnlySpan<double> along, ReadOnlySpan<double> through)
        {
            var sum = 0.0;
            foreach (var i in branches)
                if (seen.IsNew(i) && !IsOther(i))
                    sum += Of(i, op.BaseState.G[i], op.BaseState.Emf[i], along, through);
            return sum;
        }

        double Of(int branch, double g, double emf, ReadOnlySpan<double> along, ReadOnlySpan<double> through)
        {
            var (a, b) = (op.Network.A(branch), op.Network.B(branch));
            var (across, drop) = (Potentials.Across(y, a, b), Potentials.Across(op.BaseState.Volts, a, b));
            for (var k = 0; k < along.Length; k++)
            {
                var own = Potentials.Across(z[k], a, b);
                across -= along[k] * own;
                drop -= through[k] * own;
            }
            return Square(Moved(branch, g, emf, drop, across));
        }
    }

    /// <summary>Less than this of a reading's current sent another way spreads it no further.</summary>
    private const double LeastAlong = 1e-4;

    /// <summary>Branches that were met, one set per thread, emptied by asking for it.</summary>
    private sealed class Seen
    {
        [ThreadStatic]
        private static Seen? _mine;

        private int[] _at = [];
        private int _now;

        public static Seen Of(int branches)
        {
            var mine = _mine ??= new Seen();
            if (mine._at.Length < branches)
                (mine._at, mine._now) = (new int[branches], 0);
            mine._now++;
            return mine;
        }

        public bool IsNew(int branch)
        {
            if (_at[branch] == _now)
                return false;
            _at[branch] = _now;
            return true;
        }
    }

    /// <summary>True for a branch that is not as in the base state.</summary>
    private bool IsOther(int branch)
    {
        foreach (var c in op.Changed)
            if (c.Branch == branch)
                return true;
        return op.IsFaulted(branch);
    }

    /// <summary>
    /// By how much each branch with added resistance moves a reading when the logarithm of its ohms strays by so much: d V / d ln R is the
    /// branch's current times what the reading's response has across it; with ohms, its conductance times the square of that.
    /// </summary>
    /// <param name="stray">Of ln R.</param>
    public double[] MovedByJoints(int p, int q, double stray, bool ohms = false)
    {
        var y = p == q ? null : op.Response(p, q, alternating: !ohms && op.Phasors is not null);
        var along =
            ohms || op.Phasors is null || op.AcVolts(p, q) is var reading && reading == Complex.Zero
                ? Complex.Zero
                : Complex.Conjugate(reading / reading.Magnitude);
        return
        [
            .. op
                .Faults.Changes.Where(c => c.Change == BranchChange.Series)
                .Select(c =>
                {
                    if (y is null)
                        return 0;
                    var across = Potentials.Across(y, op.Network.A(c.Branch), op.Network.B(c.Branch));
                    return stray
                        * (
                            ohms ? op.Conductance(c.Branch) * across * across
                            : op.Phasors is null ? op.BranchAmps(c.Branch) * across
                            : (op.Phasors.Amps(c.Branch) * along).Real * across
                        );
                }),
        ];
    }

    /// <summary>How far a current limit strays; common practice, no source.</summary>
    private const double LimitSpread = 0.02;

    /// <summary>
    /// The same for an alternating reading. What strays along its own phase counts in full, what strays across it by what it adds to the
    /// length: next to nothing where much is left, all of it where two phasors nearly cancel.
    /// </summary>
    public double AlternatingVariance(Complex[] y, Complex reading)
    {
        if (op.Phasors is null || reading == Complex.Zero)
            return 0;
        var along = Complex.Conjugate(reading / reading.Magnitude);
        var (inPhase, acrossIt) = (0.0, 0.0);
        for (var i = 0; i < op.Branches; i++)
        {
            var (a, b) = (op.Network.A(i), op.Network.B(i));
            var across = Potentials.Across(y, a, b);
            if (across == 0 || op.IsFaulted(i))
                continue;
            var change = op.Phasors.Amps(i) * along * across * op.Network.Spread[i];
            if (change.Magnitude < 1e-10)
                continue;
            inPhase += change.Real * change.Real;
            acrossIt += change.Imaginary * change.Imaginary;
        }
        // The length of (m, x) is longer than m by about x² / 2m, and by x where m is nothing.
        return inPhase + acrossIt * acrossIt / (acrossIt + 4 * reading.Magnitude * reading.Magnitude);
    }

    /// <summary>How much of an alternating reading goes with the volts that transformers give, 0 to 1.</summary>
    /// <param name="y">Potentials with unit current between the points, Ω.</param>
    public double OfRatio(Complex[] y, Complex reading)
    {
        if (op.Phasors is null || reading == Complex.Zero)
            return 0;
        var moved = Complex.Zero;
        for (var part = 0; part < op.Circuit.Parts.Count; part++)
            if (op.Circuit.Parts[part].Model.Coupling is { } c)
            {
                var (first, second) = (op.Network.Layout.LinkBranches[part][c.Primary], op.Network.Layout.LinkBranches[part][c.Secondary]);
                var induced =
                    (op.AcVolts(op.Network.A(first), op.Network.B(first)) - op.Phasors.Amps(first) / op.Conductance(first)) / c.Ratio;
                moved += induced * op.Conductance(second) * Potentials.Across(y, op.Network.A(second), op.Network.B(second));
            }
        return Math.Clamp((moved / reading).Magnitude, 0, 1);
    }

    /// <summary>Share of an ohms reading from which on it is said to be of a motor's windings or a filament; estimate.</summary>
    private const double MostlyWinding = 0.3;

    /// <summary>
    /// The motor or lamp, by index, that makes up a good part of an ohms reading, by the share of the power lost in it, and has far less to
    /// an ohmmeter than at work: how much less. -1 for none.
    /// </summary>
    /// <param name="y">Potentials with unit current between the points, Ω.</param>
    /// <param name="ohms">The reading, Ω.</param>
    public (int Part, double Share, double LogSpread) WindingOf(double[] y, double ohms)
    {
        var circuit = op.Circuit;
        for (var part = 0; part < circuit.Parts.Count; part++)
        {
            var links = circuit.Parts[part].Model.Links;
            var (lost, share, strays) = (0.0, 1.0, 0.0);
            for (var l = 0; l < links.Count; l++)
                if (links[l] is Link.Resistance { RestShare: { } rest } winding && op.Network.Layout.LinkBranches[part][l] is var b)
                {
                    (share, strays) = (rest, winding.RestLogSpread);
                    var across = Potentials.Across(y, op.Network.A(b), op.Network.B(b));
                    lost += op.G(b) * across * across;
                }
            if (lost > MostlyWinding * ohms)
                return (part, share, strays);
        }
        return (-1, 0, 0);
    }

    /// <summary>True where a good part of the impedance between two points lies in a part, by the share of the power lost there.</summary>
    /// <param name="y">Phasors with unit current between the points, Ω.</param>
    /// <param name="impedance">Between the points, Ω.</param>
    public bool IsThrough(int part, Complex[] y, Complex impedance)
    {
        var lost = 0.0;
        foreach (var b in op.Network.Layout.LinkBranches[part])
        {
            var across = Potentials.Across(y, op.Network.A(b), op.Network.B(b)).Magnitude;
            lost += op.G(b) * across * across;
        }
        return lost > MostlyWinding * impedance.Magnitude;
    }

    /// <summary>True where a good part of an ohms reading goes through electronics, by the share of the power lost there.</summary>
    /// <param name="y">Potentials with unit current between the points, Ω.</param>
    /// <param name="ohms">The reading, Ω.</param>
    public bool IsThroughElectronics(double[] y, double ohms)
    {
        var lost = 0.0;
        for (var part = 0; part < op.Circuit.Parts.Count; part++)
            if (op.Circuit.Parts[part].Kind.IsElectronic)
                foreach (var b in op.Network.Layout.LinkBranches[part])
                {
                    var across = Potentials.Across(y, op.Network.A(b), op.Network.B(b));
                    lost += op.G(b) * across * across;
                }
        return lost > MostlyWinding * ohms;
    }

    /// <summary>
    /// Variance of an ohms reading from part to part, Ω²: with unit current between the points and potentials y, the reading's sensitivity
    /// to ln g of a branch is g · (Δy)², the share of the power lost in it.
    /// </summary>
    public double OhmsVariance(double[] y)
    {
        var variance = 0.0;
        for (var i = 0; i < op.Branches; i++)
        {
            var (a, b) = (op.Network.A(i), op.Network.B(i));
            var across = Potentials.Across(y, a, b);
            var change = op.BaseState.G[i] * across * across;
            if (change < 1e-9 || IsOther(i))
                continue;
            variance += change * change * op.Network.Spread[i] * op.Network.Spread[i];
        }
        foreach (var c in op.Changed)
        {
            if (op.IsFaulted(c.Branch))
                continue;
            var across = Potentials.Across(y, op.Network.A(c.Branch), op.Network.B(c.Branch));
            var change = c.G * across * across;
            variance += change * change * op.Network.Spread[c.Branch] * op.Network.Spread[c.Branch];
        }
        return variance;
    }
}
