using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>Conductance of a healthy branch in a switching state, S.</summary>
internal static class Conductances
{
    public static double Siemens(
        Circuit circuit,
        BranchSpec spec,
        int branch,
        MachineState state,
        IReadOnlyList<(int P, int Q, double Ohms)> leads
    )
    {
        switch (spec.Owner)
        {
            case BranchOwner.Wire:
                return 1 / circuit.Wires[spec.Index].Ohms;
            case BranchOwner.Lug:
                return 1 / Defaults.StudOhms;
            case BranchOwner.Lead:
                return 1 / leads[spec.Index].Ohms;
        }
        var link = circuit.Parts[spec.Part].Model.Links[spec.Index];
        return link switch
        {
            Link.Resistance { ColdOhms: { } cold } when !state.Flag(branch) => 1 / cold,
            // A node without power leaves the bus alone (ISO 11898-2): only its receiver is left, between the two wires.
            Link.Resistance
                when circuit.Parts[spec.Part].Model.Bus is { } bus
                    && (spec.Index == bus.High || spec.Index == bus.Low)
                    && !state.PulledIn(spec.Part) => 1 / Defaults.OpenOhms,
            Link.Reactance r => 1 / r.Ohms,
            Link.Resistance r => 1 / (state.Waited >= r.SleepAfter ? r.SleepOhms : r.Ohms),
            // A pulsed output counts in the mean over time alone.
            Link.Contact { PulsedShare: not null } => 1 / Defaults.OpenOhms,
            Link.Contact c => Closed(c.Rule, spec.Part, state) ? 1 / c.ClosedOhms : 1 / Defaults.OpenOhms,
            Link.Fuse f => !state.Flag(branch) && (f.Rule is null || Closed(f.Rule, spec.Part, state)) ? 1 / f.Ohms : 1 / Defaults.OpenOhms,
            Link.Diode d => state.Mode(branch) switch
            {
                SourceMode.Conducting => 1 / d.Ohms,
                SourceMode.Foot => 1 / Defaults.DiodeFootOhms,
                _ => 1 / Defaults.OpenOhms,
            },
            Link.Source { When: { } when } when !state.Holds(when) => 1 / Defaults.OpenOhms,
            Link.Source s => state.Mode(branch) switch
            {
                SourceMode.Taking => 1 / s.TakingOhms,
                SourceMode.Limited => 1 / Defaults.OpenOhms,
                _ => 1 / s.Ohms,
            },
            _ => throw new InvalidOperationException($"no model for {link}"),
        };
    }

    /// <summary>Whether a contact's rule holds in a state.</summary>
    public static bool Closed(ClosedRule rule, int part, MachineState state) =>
        rule switch
        {
            ClosedRule.ByCoil c => state.PulledIn(part) == c.PulledIn,
            ClosedRule.ByControls c => Any(c.Closed, state) && !Any(c.Open, state),
            _ => true,
        };

    private static bool Any(IReadOnlyList<Condition?> conditions, MachineState state)
    {
        for (var i = 0; i < conditions.Count; i++)
            if (state.Holds(conditions[i]))
                return true;
        return false;
    }

    /// <summary>The same branch under a fault.</summary>
    /// <param name="now">Its healthy conductance, S.</param>
    public static double Under(Circuit circuit, BranchSpec spec, ChangedBranch change, double now)
    {
        var conducts = now > 2 / Defaults.OpenOhms;
        return change.Change switch
        {
            BranchChange.Open => 1 / Defaults.OpenOhms,
            BranchChange.Series => conducts ? 1 / (1 / now + change.Value) : now,
            BranchChange.SetOhms => conducts ? 1 / change.Value : now,
            // What keeps it awake is there before the others fall asleep as well.
            BranchChange.Awake => Math.Max(now, 1 / change.Value),
            BranchChange.Closed => 1
                / (circuit.Parts[spec.Part].Model.Links[spec.Index] is var link && link is Link.Contact c ? c.ClosedOhms : link.Ohms),
            _ => now,
        };
    }
}
