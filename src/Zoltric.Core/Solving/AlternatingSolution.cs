using System.Numerics;
using Zoltric.Core.Solving.Linear;

namespace Zoltric.Core.Solving;

/// <summary>Phasors of one machine: the base state's, with its changes and its sources.</summary>
/// <param name="direct">The base state it is a change on.</param>
internal sealed class AlternatingSolution(
    Machine machine,
    Network network,
    FaultSet faults,
    BaseState direct,
    List<ChangedLink> changes,
    List<Modification> modifications,
    List<(int A, int B, double G)> joins,
    ToleranceDraw? vary
)
{
    public AlternatingPart Solve()
    {
        var baseState = direct.Alternating;
        if (modifications.Count == 0 && changes.Count == 0 && !SourceChanged() && !Reacts())
            return baseState.Part;
        var emf = new List<(int Branch, Complex Emf)>();
        for (var s = 0; s < machine.Sources.Length; s++)
        {
            var (_, source, branch) = machine.Sources[s];
            if (source.Ac == Complex.Zero || network.Removed[branch] || !direct.Drives(s))
                continue;
            var volts = baseState.Emf[branch];
            foreach (var change in faults.Changes)
                if (change.Branch == branch)
                    volts *= change.Change switch
                    {
                        BranchChange.Open => 0,
                        BranchChange.Scale => change.Value,
                        _ => 1,
                    };
            if (volts != baseState.Emf[branch])
                emf.Add((branch, volts));
        }
        // Behind a transformer an island hangs on its leak alone, and only the refined solution keeps its digits there.
        if (
            baseState.Couplings.Count == 0
            && machine.Reactances.Length == 0
            && modifications.Count == 1
            && ByUpdate(baseState, emf) is { } quick
        )
            return quick;
        if (!changes.Exists(c => baseState.IsWinding(c.Branch)))
        {
            INodalSolver<double>? solver = baseState.Solver;
            foreach (var m in modifications)
                if (solver is not null && m.Siemens != 0)
                    solver = UpdatedSolver<double>.TryMake(solver, network.Size, m.A, m.B, m.Siemens);
            if (solver is not null && baseState.Couplings.Count > 0)
            {
                var actual = ChangedLink.Over(baseState.G, changes);
                solver = new RefinedSolver(solver, network, actual, joins, baseState.Couplings);
            }
            if (solver is not null)
                return Phasors(baseState.G, solver, baseState.Couplings, emf);
        }
        var g = ChangedLink.Over(direct.G, changes);
        var couplings = machine.CouplingsOf(network, g);
        foreach (var c in couplings)
            (g[c.Primary], g[c.Secondary]) = (c.Magnetising, Network.IslandLeak);
        return Phasors(g, new RefinedSolver(network.AlternatingSolver(g, joins, couplings), network, g, joins, couplings), couplings, emf);
    }

    /// <summary>
    /// One change on the baseState phasors of a network without transformers; null where it would cancel or is more than one change.
    /// </summary>
    private AlternatingPart? ByUpdate(AlternatingBaseState baseState, List<(int Branch, Complex Emf)> emf)
    {
        var m = modifications[0];
        if (emf.Count > 1 || changes.Count > 1 || emf.Count == 1 && (changes.Count == 0 || emf[0].Branch != changes[0].Branch))
            return null;
        var z = baseState.Response(m.A, m.B);
        var zu = LowRankUpdate.Across(z, m);
        var denominator = 1 + m.Siemens * zu;
        if (Math.Abs(denominator) < UpdatedSolver<double>.Safe)
            return null;
        var factor = m.Siemens / denominator;
        var amps = Complex.Zero;
        var changed = new List<(int, double, Complex)>();
        if (changes.Count == 1)
        {
            var volts = emf.Count == 1 ? emf[0].Emf : baseState.Emf[changes[0].Branch];
            amps = changes[0].G * volts - baseState.G[changes[0].Branch] * baseState.Emf[changes[0].Branch];
            changed.Add((changes[0].Branch, changes[0].G, volts));
        }
        var across = (m.A < 0 ? 0 : baseState.Volts[m.A]) - (m.B < 0 ? 0 : baseState.Volts[m.B]);
        var scale = amps - factor * (across + amps * zu);
        var phasors = new Complex[z.Length];
        for (var i = 0; i < phasors.Length; i++)
            phasors[i] = baseState.Volts[i] + scale * z[i];
        return new AlternatingPart(
            network,
            phasors,
            baseState.G,
            baseState.Emf,
            UpdatedSolver<double>.Of(baseState.Solver, m.A, m.B, z, factor),
            baseState.Couplings,
            [],
            changed,
            joins
        )
        {
            Update = new AlternatingUpdate(m.A, m.B, factor, z),
        };
    }

    /// <summary>True for a fault of a winding or a capacitor that direct current does not meet.</summary>
    private bool Reacts() => faults.Changes.Exists(c => Array.Exists(machine.Reactances, r => r.Branch == c.Branch));

    private bool SourceChanged() =>
        faults.Changes.Exists(c =>
            c.Change is BranchChange.Scale or BranchChange.Open && Array.Exists(machine.Sources, s => s.Branch == c.Branch)
        );

    /// <summary>Phasors with the sources and conductances of this machine.</summary>
    /// <param name="g">Conductances, S; those of changed branches are taken from the change unless they are windings.</param>
    private AlternatingPart Phasors(
        double[] g,
        INodalSolver<double> solver,
        List<CoupledWindings> couplings,
        List<(int Branch, Complex Emf)> emf
    )
    {
        var baseState = direct.Alternating;
        var changed = changes
            .Where(c => !couplings.Exists(k => k.Primary == c.Branch || k.Secondary == c.Branch))
            .Select(c => (c.Branch, c.G, Emf: baseState.Emf[c.Branch]))
            .ToList();
        foreach (var (branch, volts) in emf)
        {
            var at = changed.FindIndex(c => c.Branch == branch);
            if (at < 0)
                changed.Add((branch, baseState.G[branch], volts));
            else
                changed[at] = (branch, changed[at].G, volts);
        }
        var injected = (Complex[])baseState.Injected.Clone();
        foreach (var (branch, now, volts) in changed)
        {
            var amps = now * volts - baseState.G[branch] * baseState.Emf[branch];
            if (network.A(branch) is >= 0 and var a)
                injected[a] += amps;
            if (network.B(branch) is >= 0 and var b)
                injected[b] -= amps;
        }
        return new AlternatingPart(
            network,
            AlternatingBaseState.Solve(solver, injected),
            g,
            baseState.Emf,
            solver,
            couplings,
            machine.ReactiveIn(network, direct.Switches, faults, vary),
            changed,
            joins
        );
    }
}
