using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>What changes contacts in its own time: a coil, a module's supply (input -1) or one of its inputs.</summary>
internal sealed record Mover(int Part, int Input, CoilRule Coil, int[] Branches, bool Inverted)
{
    /// <summary>Branch of a pull-in winding, or -1.</summary>
    public int Pull { get; init; } = -1;

    /// <summary>Branch of a reset coil, or -1.</summary>
    public int Reset { get; init; } = -1;

    /// <summary>True for a motor's rotor, which stands where it is stuck.</summary>
    public bool Turns { get; init; }

    /// <summary>Time of the flux up to pull-in at the volts its operate time is stated for, in time constants.</summary>
    public double RatedRise { get; } = Rise(Coil.TimedAtVolts, Coil.PullInVolts);

    /// <summary>
    /// Time until the flux 1 − exp(−t/τ) of a coil reaches pull-in, in time constants: ln(V / (V − Vpull-in)), ten at most.
    /// </summary>
    public double Rise(double volts) => Rise(volts, Coil.PullInVolts);

    private static double Rise(double volts, double pullIn) => volts > pullIn * 1.0001 ? Math.Log(volts / (volts - pullIn)) : 10;

    /// <summary>True where a fault has opened the winding that has to pull, or hold.</summary>
    public bool IsOpen(FaultSet faults, bool held) =>
        faults.IsOpen(Pull >= 0 && !held ? Pull : Branches[0]) || Coil.Weakest && Array.Exists(Branches, faults.IsOpen);
}

/// <summary>
/// Where in a <see cref="MachineState"/> each thing that remembers has its place: controls, movers, branches with a mode, parts that sleep.
/// </summary>
internal sealed class StateIndex
{
    public Circuit Circuit { get; }
    public Mover[] Movers { get; }

    /// <summary>Mover of each part's coil, or -1.</summary>
    public int[] MoverOfPart { get; }

    /// <summary>Place of each layout branch that has a mode (source, diode, fuse, filament), or -1.</summary>
    public int[] ModeOfBranch { get; }

    public int FirstMover { get; }
    public int FirstMode { get; }
    public int FirstSleeper { get; }

    /// <summary>Place of each part that falls asleep, or -1.</summary>
    public int[] SleeperOfPart { get; }
    public int Length { get; }

    private readonly Dictionary<string, int> _controls = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, int> _active = new(StringComparer.Ordinal);

    public StateIndex(Layout layout)
    {
        var circuit = Circuit = layout.Circuit;
        for (var i = 0; i < circuit.Controls.Count; i++)
            _controls[circuit.Controls[i].Name] = i;
        var coils = circuit
            .Parts.Select((p, i) => (Part: i, p.Model.Coil))
            .Where(c => c.Coil is not null)
            .Select(c => new Mover(c.Part, -1, c.Coil!, [.. c.Coil!.Links.Select(l => layout.LinkBranches[c.Part][l])], false)
            {
                Pull = c.Coil.PullLink is { } pull ? layout.LinkBranches[c.Part][pull] : -1,
                Reset = c.Coil.ResetLink is { } reset ? layout.LinkBranches[c.Part][reset] : -1,
                Turns = circuit.Parts[c.Part].Model.Load is { OnlyWhileHeld: true },
            });
        var inputs = circuit.Parts.SelectMany(
            (p, i) =>
                p.Model.Inputs.Select(
                    (input, k) =>
                        new Mover(
                            i,
                            k,
                            new CoilRule(input.Link, input.Volts, input.Volts, input.Volts, 1, 1),
                            [layout.LinkBranches[i][input.Link]],
                            !input.Above
                        )
                )
        );
        Movers = [.. coils, .. inputs];
        MoverOfPart = new int[circuit.Parts.Count];
        Array.Fill(MoverOfPart, -1);
        for (var m = 0; m < Movers.Length; m++)
        {
            var part = circuit.Parts[Movers[m].Part];
            if (Movers[m].Input < 0)
            {
                MoverOfPart[Movers[m].Part] = m;
                _active[part.Tag] = m;
            }
            else
                _active[$"{part.Tag}.in{part.Model.Inputs[Movers[m].Input].Pin}"] = m;
        }
        FirstMover = circuit.Controls.Count;
        FirstMode = FirstMover + Movers.Length;
        ModeOfBranch = new int[layout.Branches.Count];
        var place = FirstMode;
        for (var b = 0; b < ModeOfBranch.Length; b++)
        {
            var spec = layout.Branches[b];
            ModeOfBranch[b] =
                spec.Owner == BranchOwner.Link
                && circuit.Parts[spec.Part].Model.Links[spec.Index]
                    is Link.Source
                        or Link.Diode
                        or Link.Fuse
                        or Link.Resistance { ColdOhms: not null }
                    ? place++
                    : -1;
        }
        FirstSleeper = place;
        SleeperOfPart =
        [
            .. circuit.Parts.Select(p =>
                p.Model.Bus is not null || p.Model.Links.Any(l => l is Link.Resistance { SleepAfter: < double.PositiveInfinity })
                    ? place++
                    : -1
            ),
        ];
        Length = place;
        var branches = new List<int>[Length];
        for (var i = 0; i < Length; i++)
            branches[i] = [];
        for (var b = 0; b < layout.Branches.Count; b++)
            if (layout.Branches[b] is { Owner: BranchOwner.Link } spec)
                Depend(circuit.Parts[spec.Part], spec.Part, circuit.Parts[spec.Part].Model.Links[spec.Index], b, branches);
        _branches = Array.ConvertAll(branches, b => b.ToArray());
        _plain = [.. Enumerable.Range(0, Length).Select(i => Plain(layout, i))];
    }

    private readonly int[][] _branches;
    private readonly bool[] _plain;

    /// <summary>
    /// True for a place that changes conductances of contacts, fuses and filaments and nothing else: no source, no diode, no module that
    /// drives a bus.
    /// </summary>
    public bool IsPlain(int place) => _plain[place];

    private bool Plain(Layout layout, int place)
    {
        var mover = place - FirstMover;
        if (mover >= 0 && mover < Movers.Length && Circuit.Parts[Movers[mover].Part].Model.Bus is not null)
            return false;
        return place < FirstSleeper
            && Array.TrueForAll(_branches[place], b =>
                Circuit.Parts[layout.Branches[b].Part].Model.Links[layout.Branches[b].Index] is Link.Contact or Link.Fuse or Link.Resistance
            );
    }

    /// <summary>Branches whose conductance depends on one place of the state.</summary>
    public int[] BranchesOf(int place) => _branches[place];

    private void Depend(Part part, int index, Link link, int branch, List<int>[] branches)
    {
        if (ModeOfBranch[branch] >= 0)
            branches[ModeOfBranch[branch]].Add(branch);
        if (link is Link.Resistance { SleepAfter: < double.PositiveInfinity })
            branches[SleeperOfPart[index]].Add(branch);
        if (
            part.Model.Bus is { } bus
            && (ReferenceEquals(link, part.Model.Links[bus.High]) || ReferenceEquals(link, part.Model.Links[bus.Low]))
        )
            branches[FirstMover + MoverOfPart[index]].Add(branch);
        var rule = link is Link.Contact c ? c.Rule : (link as Link.Fuse)?.Rule;
        if (rule is ClosedRule.ByCoil || link is Link.Reactance { StandingSiemens: not null })
            branches[FirstMover + MoverOfPart[index]].Add(branch);
        IEnumerable<Condition?> conditions =
            rule is ClosedRule.ByControls by ? by.Closed.Concat(by.Open)
            : link is Link.Source s ? [s.When]
            : [];
        foreach (var leaf in conditions.OfType<Condition>().SelectMany(x => x.Leaves()).Distinct())
        {
            var place = leaf switch
            {
                Condition.Position p => Control(p.Control),
                Condition.Active a when Active(a.Tag) >= 0 => FirstMover + Active(a.Tag),
                _ => -1,
            };
            if (place >= 0 && !branches[place].Contains(branch))
                branches[place].Add(branch);
        }
    }

    public int Control(string name) => _controls.GetValueOrDefault(name, -1);

    /// <summary>Mover behind <c>K1</c>, a module's tag or <c>TAG.inN</c>; -1 when there is none.</summary>
    public int Active(string name) => _active.GetValueOrDefault(name, -1);
}
