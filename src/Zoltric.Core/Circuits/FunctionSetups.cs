namespace Zoltric.Core.Circuits;

/// <summary>The setups in which the functions of a sheet are expected to work.</summary>
public static class FunctionSetups
{
    /// <summary>
    /// The setup in which a function is expected: its own <c>after</c> sequence, else the fewest controls moved from rest that make its
    /// condition hold. Null when no setting of the controls does.
    /// </summary>
    public static Setup? SetupFor(Circuit circuit, MachineFunction f)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(f);
        var when = f.When is null ? Setup.Rest : SetupFor(circuit, f.When);
        if (f.After is not { } after || when is null)
            return when;
        // First the controls its condition wants, then what is done: the timer is set before the button is pressed.
        var named = after.Steps.SelectMany(s => s).Select(m => m.Control).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var before = when
            .Steps.Select(s => (IReadOnlyList<ControlMove>)s.Where(m => !named.Contains(m.Control)).ToList())
            .Where(s => s.Count > 0);
        return after with { Steps = [.. before, .. after.Steps] };
    }

    /// <summary>
    /// The setups of a function, one for each way its condition offers (<c>or</c>): the stations it is worked from. The first is that of
    /// <see cref="SetupFor(Circuit, MachineFunction)"/> where the condition has one way only.
    /// </summary>
    public static IReadOnlyList<Setup> SetupsFor(Circuit circuit, MachineFunction f)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(f);
        if (f.When is null || f.After is not null)
            return SetupFor(circuit, f) is { } only ? [only] : [];
        return [.. Ways(f.When).Take(MostWays).Select(w => SetupFor(circuit, w)).OfType<Setup>().Distinct()];
    }

    /// <summary>
    /// The setup that asks for a function against a condition: what its own wants, but for the controls that the condition speaks of. Null
    /// when no setting makes the condition hold.
    /// </summary>
    public static Setup? SetupAgainst(Circuit circuit, MachineFunction f, Condition against)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(f);
        ArgumentNullException.ThrowIfNull(against);
        var spoken = against.Leaves().OfType<Condition.Position>().Select(p => p.Control).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var kept = (f.When?.Leaves() ?? []).OfType<Condition.Position>().Where(p => !spoken.Contains(p.Control));
        return SetupFor(circuit, kept.Reverse().Aggregate(against, (all, one) => new Condition.And(one, all)))
            ?? SetupFor(circuit, against);
    }

    private const int MostWays = 16;

    /// <summary>A condition as the ways in which it can hold: its <c>or</c>s brought to the front.</summary>
    private static IEnumerable<Condition> Ways(Condition c) =>
        c switch
        {
            Condition.Or o => Ways(o.Left).Concat(Ways(o.Right)),
            Condition.And a => Ways(a.Left)
                .Take(MostWays)
                .SelectMany(l => Ways(a.Right).Take(MostWays).Select(r => (Condition)new Condition.And(l, r))),
            _ => [c],
        };

    /// <summary>Fewest controls moved from rest that make a condition on controls hold.</summary>
    public static Setup? SetupFor(Circuit circuit, Condition when)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(when);
        var names = when.Leaves().OfType<Condition.Position>().Select(p => p.Control).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        var controls = circuit.Controls.Where(c => names.Contains(c.Name, StringComparer.OrdinalIgnoreCase)).ToList();
        List<ControlMove>? best = null;
        var positions = new int[controls.Count];
        void Try(int i, int moved)
        {
            if (best is not null && moved >= best.Count)
                return;
            if (i == controls.Count)
            {
                string At(string name)
                {
                    var k = controls.FindIndex(c => c.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
                    return k < 0 ? "" : controls[k].Positions[positions[k]];
                }

                // Pulled-in parts follow from the circuit, so they are taken as they come.
                if (when.Holds(At, _ => true))
                    best = controls
                        .Select((c, k) => (c, k))
                        .Where(x => positions[x.k] != x.c.Rest)
                        .Select(x => new ControlMove(x.c.Name, x.c.Positions[positions[x.k]]))
                        .ToList();
                return;
            }
            positions[i] = controls[i].Rest;
            Try(i + 1, moved);
            for (var p = 0; p < controls[i].Positions.Count; p++)
            {
                if (p == controls[i].Rest)
                    continue;
                positions[i] = p;
                Try(i + 1, moved + 1);
            }
            positions[i] = controls[i].Rest;
        }

        if (controls.Count > 12)
            return null;
        Try(0, 0);
        return best is null ? null
            : best.Count == 0 ? Setup.Rest
            : new Setup([], [best]);
    }
}
