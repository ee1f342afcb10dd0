using System.Collections.Concurrent;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>
/// A circuit that can be run: put into a setup, with faults, it settles and gives an operating point. Safe for use by several
/// requests at a time. Networks are kept per set of interventions.
/// </summary>
public sealed class Machine
{
    private const int MostNetworks = 64;

    private readonly Layout _layout;
    private readonly FaultEffects _effects;
    private readonly ConcurrentDictionary<string, Network> _networks = new();
    private readonly StateIndex _index;

    internal (int Part, Link.Source Source, int Branch)[] Sources { get; }
    internal (int Part, Link.Diode Diode, int Branch)[] Diodes { get; }
    internal (int Part, Link.Fuse Fuse, int Branch)[] Fuses { get; }

    /// <summary>Devices that trip by residual current: part, rule, branches of the poles.</summary>
    internal (int Part, ResidualRule Rule, int[] Branches)[] Residuals { get; }
    internal (Link.Resistance Filament, int Branch)[] Filaments { get; }
    internal (int Part, BusRule Bus, int High, int Low)[] Buses { get; }

    internal (int Part, Link.Reactance Reactance, int Branch)[] Reactances { get; }

    /// <summary>Module outputs that pulse.</summary>
    internal (int Part, Link.Contact Contact, int Branch)[] Pulsed { get; }

    /// <summary>Factors anew for every solution and keeps nothing: the other method that the bench compares with.</summary>
    internal bool FactorsEachTime { get; init; }

    /// <summary>What is kept of responses, over all base states of this machine.</summary>
    internal ResponseBound Responses { get; } = new();

    /// <summary>True where something alternates.</summary>
    public bool IsAlternating { get; }
    private readonly (int Primary, int Secondary, double Ratio, double MagnetisingOhms)[] _couplings;

    public Machine(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        Circuit = circuit;
        _layout = new Layout(circuit);
        _effects = new FaultEffects(_layout);
        _index = new StateIndex(_layout);
        var links = circuit
            .Parts.SelectMany((p, i) => p.Model.Links.Select((l, k) => (Part: i, Link: l, Branch: _layout.LinkBranches[i][k])))
            .ToList();
        Sources = links.Where(l => l.Link is Link.Source).Select(l => (l.Part, (Link.Source)l.Link, l.Branch)).ToArray();
        IsAlternating = _layout.Alternating.Length > 0;
        _couplings = circuit
            .Parts.Select((p, i) => (Part: i, p.Model.Coupling))
            .Where(c => c.Coupling is not null)
            .Select(c =>
                (
                    _layout.LinkBranches[c.Part][c.Coupling!.Primary],
                    _layout.LinkBranches[c.Part][c.Coupling.Secondary],
                    c.Coupling.Ratio,
                    c.Coupling.MagnetisingOhms
                )
            )
            .ToArray();
        Diodes = links.Where(l => l.Link is Link.Diode).Select(l => (l.Part, (Link.Diode)l.Link, l.Branch)).ToArray();
        Fuses = links.Where(l => l.Link is Link.Fuse).Select(l => (l.Part, (Link.Fuse)l.Link, l.Branch)).ToArray();
        Residuals = circuit
            .Parts.Select((p, i) => (Part: i, p.Model.Residual))
            .Where(r => r.Residual is not null)
            .Select(r => (r.Part, r.Residual!, r.Residual!.Links.Select(l => _layout.LinkBranches[r.Part][l]).ToArray()))
            .ToArray();
        Buses = circuit
            .Parts.Select((p, i) => (Part: i, p.Model.Bus))
            .Where(b => b.Bus is not null)
            .Select(b => (b.Part, b.Bus!, _layout.LinkBranches[b.Part][b.Bus!.High], _layout.LinkBranches[b.Part][b.Bus.Low]))
            .ToArray();
        Reactances = links.Where(l => l.Link is Link.Reactance).Select(l => (l.Part, (Link.Reactance)l.Link, l.Branch)).ToArray();
        Pulsed = links
            .Where(l => l.Link is Link.Contact { PulsedShare: not null })
            .Select(l => (l.Part, (Link.Contact)l.Link, l.Branch))
            .ToArray();
        Filaments = links
            .Where(l => l.Link is Link.Resistance { ColdOhms: not null })
            .Select(l => ((Link.Resistance)l.Link, l.Branch))
            .ToArray();
        _brakes = new Brakes(this);
    }

    public Circuit Circuit { get; }

    /// <summary>Numbers that a base state holds for each of its branches: conductances, factor, potentials; estimate.</summary>
    private const int NumbersByBranch = 12;

    /// <summary>Bytes that its networks, their base states and the responses of those hold.</summary>
    public long HeldBytes =>
        Responses.HeldBytes + _networks.Values.Sum(n => (long)n.States * n.Branches.Count * NumbersByBranch * sizeof(double));

    /// <summary>Throws <see cref="FaultException"/> when the circuit cannot take the fault as worded.</summary>
    public void Check(IEnumerable<Fault> faults) => _effects.Apply(faults);

    /// <summary>The lug branch's wire that parts when a stud is said to be open, or null.</summary>
    public string? SourceSideWire(string stud) =>
        _effects.SourceSideLug(stud) is { } branch ? _layout.Lugs(stud).First(l => l.Branch == branch).Wire : null;

    /// <summary>Runs the setup from rest: interventions first, then each step of controls, settling between.</summary>
    /// <param name="faults">What is wrong with this machine.</param>
    /// <param name="lead">A lamp or ammeter held between two points for the probe, Ω.</param>
    /// <param name="leadFromStart">True when the lead is there before the controls move (a series ammeter).</param>
    /// <param name="vary">Multiplies each branch's conductance and each emf: part-to-part spread of a particular machine.</param>
    public OperatingPoint Run(
        Setup setup,
        IReadOnlyList<Fault>? faults = null,
        (Terminal P, Terminal Q, double Ohms)? lead = null,
        bool leadFromStart = false,
        ToleranceDraw? vary = null
    )
    {
        ArgumentNullException.ThrowIfNull(setup);
        var run = RunUnbraked(setup, faults, lead, leadFromStart, vary);
        if (_brakes.None || _brakes.Held(run, faults ?? []) is not { Count: > 0 } held)
            return run;
        return RunUnbraked(setup, [.. faults ?? [], .. held], lead, leadFromStart, vary);
    }

    private readonly Brakes _brakes;

    /// <summary>The same as if no brake held a motor.</summary>
    internal OperatingPoint RunUnbraked(
        Setup setup,
        IReadOnlyList<Fault>? faults = null,
        (Terminal P, Terminal Q, double Ohms)? lead = null,
        bool leadFromStart = false,
        ToleranceDraw? vary = null
    )
    {
        var set = FaultsIn(setup, faults);
        var plain = Leads(setup);
        var withLead = lead is { } l ? [.. plain, (_layout.PointOf(l.P), _layout.PointOf(l.Q), l.Ohms)] : plain;
        var run = new Settling(
            this,
            NetworkFor(setup, leadFromStart ? withLead : plain, leadFromStart && lead is not null),
            set,
            new MachineState(_index),
            leadFromStart ? withLead : plain,
            vary
        );
        run.Settle();
        foreach (var step in setup.Steps)
        {
            foreach (var move in step)
                run.Move(move);
            run.Settle();
        }
        if (setup.AfterSeconds > 0)
            run.Wait(setup.AfterSeconds);
        if (lead is not null && !leadFromStart)
        {
            run = new Settling(this, NetworkFor(setup, withLead, true), set, run.State, withLead, vary);
            run.Settle();
        }
        return run.Result();
    }

    /// <summary>The machine settled in a setup, ready to go on from instant to instant.</summary>
    internal (Transient Transient, Network Network) Begin(Setup setup, IReadOnlyList<Fault> faults, bool bounces)
    {
        var (set, leads) = (FaultsIn(setup, faults), Leads(setup));
        var network = NetworkFor(setup, leads, false);
        var run = new Settling(this, network, set, new MachineState(_index), leads, null);
        run.Settle();
        foreach (var step in setup.Steps)
        {
            foreach (var move in step)
                run.Move(move);
            run.Settle();
        }
        return (new Transient(this, network, set, run.State, leads) { Bounces = bounces }, network);
    }

    /// <summary>
    /// Coils and module inputs whose state in this setup depends on what went before: settled from rest and settled from everything pulled
    /// in, they end differently. Empty where the machine has one state, or where the second start is none the machine could survive. What
    /// latches starts let go in both: that it remembers is what it is for.
    /// </summary>
    public IReadOnlyList<string> DependsOnHistory(Setup setup, IReadOnlyList<Fault>? faults = null)
    {
        ArgumentNullException.ThrowIfNull(setup);
        var set = FaultsIn(setup, faults);
        var leads = Leads(setup);
        var network = NetworkFor(setup, leads, false);
        var from = Run(setup, faults);
        var start = new MachineState(_index);
        for (var m = 0; m < _index.Movers.Length; m++)
            start.Hold(m, _index.Movers[m].Coil.DropOutVolts > CoilRule.NeverLetsGo);
        var run = new Settling(this, network, set, start, leads, null);
        foreach (var move in setup.Steps.SelectMany(s => s))
            run.Move(move);
        run.Settle();
        if (run.State.BlownAt.Count > from.State.BlownAt.Count || from.Chattering.Count > 0 || Array.Exists(run.State.Chatters, c => c))
            return [];
        return Circuit.Parts.Where((_, i) => run.State.PulledIn(i) != from.State.PulledIn(i)).Select(p => p.Tag).ToList();
    }

    /// <summary>What faults change where nothing is done to the machine and nothing moved.</summary>
    internal FaultSet Changed(IReadOnlyList<Fault> faults) => FaultsIn(Setup.Rest, faults);

    private FaultSet FaultsIn(Setup setup, IReadOnlyList<Fault>? faults)
    {
        if (faults is null or [])
            return FaultSet.None;
        faults = Shaken(setup, faults);
        if (setup.Interventions.Count == 0)
            return _effects.Apply(faults);
        var set = _effects.Apply(Swapped(setup, Seated(setup, faults)));
        var held = setup
            .Interventions.OfType<Intervention.Support>()
            .Select(s => _layout.LinkBranches[_layout.PartIndex(s.Tag)][0])
            .ToList();
        return held.Count == 0 ? set : set.Without(held);
    }

    /// <summary>What comes and goes shows only while one of its places is moved.</summary>
    private IReadOnlyList<Fault> Shaken(Setup setup, IReadOnlyList<Fault> faults)
    {
        var any = false;
        for (var i = 0; i < faults.Count; i++)
            any |= faults[i].ComesAndGoes;
        if (!any)
            return faults;
        return faults
            .Where(f => !f.ComesAndGoes || PlacesOf(f.Target).Any(p => setup.Moved.Contains(p, StringComparer.OrdinalIgnoreCase)))
            .ToList();
    }

    /// <summary>
    /// What is wrong with a holder is not read on the part that was taken out of it, and a source that was isolated leaks no more.
    /// </summary>
    private IReadOnlyList<Fault> Seated(Setup setup, IReadOnlyList<Fault> faults)
    {
        for (var k = 0; k < faults.Count; k++)
        for (var i = 0; i < setup.Interventions.Count; i++)
            if (Ends(setup.Interventions[i], faults[k]))
                return [.. faults.Where(f => !setup.Interventions.Any(i => Ends(i, f)))];
        return faults;

        bool Ends(Intervention i, Fault f) =>
            i switch
            {
                Intervention.Off o => o.Tag == f.Target && f.Kind == FaultKind.Leaks,
                Intervention.Pull p => p.Tag == f.Target && IsOfHolder(f),
                Intervention.Unplug u => u.Tag == f.Target && IsOfHolder(f),
                _ => false,
            };

        bool IsOfHolder(Fault f) =>
            Circuit.FindPart(f.Target)?.Model.Faults.FirstOrDefault(m => m.Words == f.Words)?.Effect is FaultEffect.Holder;
    }

    private IEnumerable<string> PlacesOf(string target)
    {
        IEnumerable<string> tags = Circuit.FindWire(target) is { } w ? [w.From.Tag, w.To.Tag] : [target.Split(':', '/')[0]];
        return tags.Select(t => Circuit.FindPart(t)?.Place ?? t);
    }

    /// <summary>A swapped part takes its own faults to the other place.</summary>
    private static IReadOnlyList<Fault> Swapped(Setup setup, IReadOnlyList<Fault> faults)
    {
        foreach (var swap in setup.Interventions.OfType<Intervention.Swap>())
            faults = faults
                .Select(f =>
                    f.Target == swap.Tag ? f with { Target = swap.With }
                    : f.Target == swap.With ? f with { Target = swap.Tag }
                    : f
                )
                .ToList();
        return faults;
    }

    private List<(int P, int Q, double Ohms)> Leads(Setup setup)
    {
        var leads = new List<(int, int, double)>();
        foreach (var i in setup.Interventions)
            switch (i)
            {
                case Intervention.Jumper j:
                    leads.Add((_layout.PointOf(j.P), _layout.PointOf(j.Q), Defaults.JumperOhms));
                    break;
                case Intervention.Feed f:
                    leads.Add((_layout.LoomPoint(FaultEffects.SupplyPositive(Circuit, f.P)), _layout.PointOf(f.P), Defaults.FeedOhms));
                    break;
            }
        return leads;
    }

    /// <summary>Windings as they are coupled: conductance of each pair across primary volts less ratio times secondary volts.</summary>
    internal List<CoupledWindings> CouplingsOf(Network network, double[] g) =>
        _couplings
            .Where(c => !network.Removed[c.Primary] && !network.Removed[c.Secondary])
            .Select(c =>
                // A primary that is open magnetises nothing, and what leaks through it moves nothing behind it.
                g[c.Primary] > 2 / Defaults.OpenOhms
                    ? new CoupledWindings(
                        c.Primary,
                        c.Secondary,
                        c.Ratio,
                        1 / (1 / g[c.Primary] + c.Ratio * c.Ratio / g[c.Secondary]),
                        1 / c.MagnetisingOhms
                    )
                    : new CoupledWindings(c.Primary, c.Secondary, c.Ratio, Network.IslandLeak, Network.IslandLeak)
            )
            .ToList();

    /// <summary>Windings and capacitors as they are in a switching state, by branch of the network.</summary>
    internal IReadOnlyList<ReactiveBranch> ReactiveIn(Network network, byte[] switches, FaultSet faults, ToleranceDraw? vary)
    {
        if (Reactances.Length == 0)
            return [];
        var hertz = Circuit.Hertz;
        var all = new List<ReactiveBranch>(Reactances.Length);
        foreach (var (part, link, branch) in Reactances)
        {
            if (network.Removed[branch])
                continue;
            var mover = _index.MoverOfPart[part];
            var turns = mover >= 0 && switches[_index.FirstMover + mover] != 0;
            var siemens = ReactiveBranches.Healthy(link, hertz, turns) * (vary?.Factor(network.Branches[branch].Owner, branch) ?? 1);
            foreach (var change in faults.Changes)
                if (change.Branch == branch)
                    siemens = ReactiveBranches.Under(link, change, siemens, hertz);
            all.Add(new ReactiveBranch(branch, siemens));
        }
        return all;
    }

    private Network NetworkFor(Setup setup, List<(int P, int Q, double Ohms)> leads, bool probing)
    {
        var key = probing ? $"{setup.InterventionsText} | {leads[^1].P} {leads[^1].Q}" : setup.InterventionsText;
        if (_networks.TryGetValue(key, out var known))
            return known;
        if (_networks.Count >= MostNetworks)
        {
            _networks.Clear();
            Responses.ForgetRows();
        }
        return _networks[key] = new Network(_layout, setup, leads.Select(l => (l.P, l.Q)).ToList());
    }
}

/// <summary>
/// Two windings as alternating current meets them: branches, ratio, conductance of both coppers seen from the primary, and of the iron, S.
/// </summary>
internal readonly record struct CoupledWindings(int Primary, int Secondary, double Ratio, double G, double Magnetising);

/// <summary>How one particular machine strays from its sheet; used to try the diagnosis on machines it does not know.</summary>
/// <param name="Emf">Factor on every source's volts.</param>
/// <param name="ByBranch">Factor on the conductance of each branch of the layout; branches beyond its end keep theirs.</param>
/// <param name="Thresholds">Factor on pull-in and drop-out volts, by part.</param>
public sealed record ToleranceDraw(double Emf, IReadOnlyList<double> ByBranch, IReadOnlyList<double> Thresholds)
{
    internal double Factor(BranchOwner owner, int branch) => owner != BranchOwner.Lead && branch < ByBranch.Count ? ByBranch[branch] : 1;

    internal double Threshold(int part) => Thresholds[part];

    /// <summary>Draws a machine: every part within its tolerance, the sources within the given range.</summary>
    public static ToleranceDraw Draw(Machine machine, Random random, double lowestEmf, double highestEmf)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(random);
        var layout = new Layout(machine.Circuit);
        var factors = layout.Branches.Select(b => Math.Exp(layout.SpreadOf(b) * Math.Sqrt(3) * (2 * random.NextDouble() - 1))).ToList();
        return new ToleranceDraw(
            lowestEmf + (highestEmf - lowestEmf) * random.NextDouble(),
            factors,
            machine.Circuit.Parts.Select(_ => 1 + 0.04 * (2 * random.NextDouble() - 1)).ToList()
        );
    }
}
