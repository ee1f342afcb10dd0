using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>A winding or capacitor as alternating current meets it on one machine: its branch and admittance, S.</summary>
internal readonly record struct ReactiveBranch(int Branch, Complex Siemens);

/// <summary>
/// What windings and capacitors add to a network of conductances: each is its direct conductance g and a correction y − g, complex. All of
/// them together are one small complex system over the real solver's responses, so that the network is factored as it is.
/// </summary>
/// <remarks>Source: the Woodbury identity, (A + U·D·Uᵀ)⁻¹ = A⁻¹ − Z·(D⁻¹ + Uᵀ·Z)⁻¹·Uᵀ·A⁻¹ with Z = A⁻¹·U.</remarks>
internal sealed class ReactiveBranches
{
    private readonly IReadOnlyList<ReactiveBranch> _branches;

    /// <summary>Ends and response to a unit current of each branch that differs from its conductance.</summary>
    private readonly List<(int A, int B, double[] Z)> _differ = [];

    /// <summary>D⁻¹ + Uᵀ·Z, by rows.</summary>
    private readonly Complex[][] _system = [];

    /// <summary>A difference from its conductance below this moves nothing, S.</summary>
    private const double Least = 1e-12;

    /// <param name="g">Conductance of a branch as the solver has it, S.</param>
    public ReactiveBranches(Network network, IReadOnlyList<ReactiveBranch> branches, Func<int, double> g, INodalSolver<double> solver)
    {
        _branches = branches;
        var delta = new List<Complex>();
        foreach (var (branch, siemens) in branches)
        {
            var (a, b) = (network.A(branch), network.B(branch));
            if (a == b || (siemens - g(branch)).Magnitude < Least)
                continue;
            delta.Add(siemens - g(branch));
            _differ.Add((a, b, KeptResponses.Solved(a, b, network.Size, solver)));
        }
        _system = new Complex[_differ.Count][];
        for (var i = 0; i < _system.Length; i++)
        {
            _system[i] = new Complex[_differ.Count];
            for (var j = 0; j < _system.Length; j++)
                _system[i][j] = Potentials.Across(_differ[j].Z, _differ[i].A, _differ[i].B) + (i == j ? 1 / delta[i] : 0);
        }
    }

    public bool Any => _differ.Count > 0;

    /// <summary>Admittance of a branch, S, or null where it is a plain conductance.</summary>
    public Complex? Siemens(int branch)
    {
        foreach (var r in _branches)
            if (r.Branch == branch)
                return r.Siemens;
        return null;
    }

    /// <summary>Turns potentials of the network without them into those with them.</summary>
    public void Correct(Complex[] volts)
    {
        if (!Any)
            return;
        var x = new Complex[_differ.Count];
        for (var i = 0; i < x.Length; i++)
            x[i] = At(volts, _differ[i].A) - At(volts, _differ[i].B);
        Solve([.. _system.Select(r => (Complex[])r.Clone())], x);
        for (var i = 0; i < x.Length; i++)
        {
            var z = _differ[i].Z;
            for (var n = 0; n < volts.Length; n++)
                volts[n] -= x[i] * z[n];
        }
    }

    private static Complex At(Complex[] volts, int node) => node < 0 ? 0 : volts[node];

    /// <summary>Gauss with the largest of each column as pivot; there are as many rows as windings and capacitors.</summary>
    private static void Solve(Complex[][] rows, Complex[] x)
    {
        var n = x.Length;
        for (var k = 0; k < n; k++)
        {
            var pivot = k;
            for (var i = k + 1; i < n; i++)
                if (rows[i][k].Magnitude > rows[pivot][k].Magnitude)
                    pivot = i;
            (rows[k], rows[pivot], x[k], x[pivot]) = (rows[pivot], rows[k], x[pivot], x[k]);
            for (var i = k + 1; i < n; i++)
            {
                var factor = rows[i][k] / rows[k][k];
                for (var j = k; j < n; j++)
                    rows[i][j] -= factor * rows[k][j];
                x[i] -= factor * x[k];
            }
        }
        for (var k = n - 1; k >= 0; k--)
        {
            for (var j = k + 1; j < n; j++)
                x[k] -= rows[k][j] * x[j];
            x[k] /= rows[k][k];
        }
    }

    /// <summary>Admittance of a winding or capacitor of a healthy part, S.</summary>
    /// <param name="turns">True while the part's mover holds.</param>
    public static Complex Healthy(Link.Reactance link, double hertz, bool turns) =>
        link.Microfarads is { } capacity ? Capacitive(capacity, hertz)
        : !turns && link.StandingSiemens is { } standing ? standing
        : link.Siemens;

    /// <summary>The same under a fault.</summary>
    public static Complex Under(Link.Reactance link, ChangedBranch change, Complex now, double hertz) =>
        change.Change switch
        {
            BranchChange.Open => 1 / Defaults.OpenOhms,
            BranchChange.Series => 1 / (1 / now + change.Value),
            BranchChange.SetMicrofarads => Capacitive(change.Value, hertz),
            // Turns that are lost take ohms and reactance alike.
            BranchChange.SetOhms => now * (link.Ohms / change.Value),
            _ => now,
        };

    private static Complex Capacitive(double microfarads, double hertz) =>
        new(1 / Defaults.OpenOhms, 2 * Math.PI * hertz * microfarads * 1e-6);
}
