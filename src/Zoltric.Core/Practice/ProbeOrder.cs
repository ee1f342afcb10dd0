using Zoltric.Core.Circuits;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Practice;

/// <summary>A test as an order that a colleague would shout across the yard.</summary>
/// <param name="Do">What the hand does: "Red on", "Volts across", "Listen at".</param>
/// <param name="On">The point or part, the thing to find.</param>
/// <param name="Black">Where the other tip goes, or null.</param>
/// <param name="Where">Place of the point.</param>
/// <param name="Wire">Colour and number of the wire that is there, or null.</param>
/// <param name="How">Plugged or not, dead or live.</param>
public sealed record ProbeOrder(string Do, string On, string? Black, string Where, string? Wire, string How)
{
    /// <summary>How the meter is set.</summary>
    public required MeterSetting Meter { get; init; }

    /// <summary>Where each tip goes.</summary>
    public IReadOnlyList<Tip> Tips { get; init; } = [];

    /// <summary>What the machine must be set to, and what is done to it, in words.</summary>
    public IReadOnlyList<string> Needs { get; init; } = [];

    /// <summary>The order with its dial, its tips and what it needs.</summary>
    /// <param name="expected">What may be read at most, in base units: it picks the range.</param>
    public static ProbeOrder Of(Circuit circuit, Test test, double? expected = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        return Said(circuit, test, MeterSetting.Of(circuit, test, expected)) with
        {
            Tips =
            [
                .. Points(circuit, test)
                    .Select(t => new Tip(t.ToString(), PointNames.Point(circuit, t), PlaceOf(circuit, t.Tag), WireAt(circuit, t))),
            ],
            Needs = [.. NeedsOf(circuit, test.Setup)],
        };
    }

    private static IEnumerable<Terminal> Points(Circuit circuit, Test test) =>
        test.Probe.BlackAtReference ? [.. test.Probe.Tips, circuit.ReferencePoint] : test.Probe.Tips;

    /// <summary>Controls to set and things to do, in words.</summary>
    private static IEnumerable<string> NeedsOf(Circuit circuit, Setup setup)
    {
        var plan = IsolationPlan.Of(circuit);
        if (plan.IsOff(setup))
            yield return "every source off";
        foreach (var i in setup.Interventions)
            switch (i)
            {
                case Intervention.Off o when !plan.IsOff(setup):
                    yield return $"{circuit.FindPart(o.Tag)!.Spoken} off";
                    break;
                case Intervention.Unplug u:
                    yield return $"{circuit.FindPart(u.Tag)!.Spoken} unplugged";
                    break;
                case Intervention.Pull p:
                    yield return $"{circuit.FindPart(p.Tag)!.Spoken} pulled";
                    break;
                case Intervention.Lift l:
                    yield return $"the wires at {PointNames.Point(circuit, l.P)} taken off and insulated";
                    break;
                case Intervention.Support s:
                    yield return FormattableString.Invariant($"a charger on {circuit.FindPart(s.Tag)!.Spoken}, {s.Volts:0.#} V");
                    break;
                case Intervention.Jumper j:
                    yield return $"a fused lead from {PointNames.Point(circuit, j.P)} to {PointNames.Point(circuit, j.Q)}";
                    break;
                case Intervention.Feed f:
                    yield return $"a fused lead from the supply to {PointNames.Point(circuit, f.P)}";
                    break;
                case Intervention.Swap s:
                    yield return $"{s.Tag} and {s.With} swapped";
                    break;
            }
        foreach (var move in setup.Steps.SelectMany(s => s))
            yield return $"{move.Control} {(circuit.FindControl(move.Control) is { Given: true } ? "is" : "to")} "
                + $"{move.Position}{(circuit.FindControl(move.Control) is { } c && c.Held.Contains(move.Position) ? ", held" : "")}";
        if (setup.AfterSeconds > 0)
            yield return FormattableString.Invariant($"wait {setup.AfterSeconds / 60:0.#} min");
        foreach (var place in setup.Moved)
            yield return $"move it at {place}";
    }

    private static ProbeOrder Said(Circuit circuit, Test test, MeterSetting meter)
    {
        var off = test.Setup.Interventions.Any(i => i is Intervention.Off);
        var apart = test
            .Setup.Interventions.Where(i => i is Intervention.Unplug or Intervention.Pull or Intervention.Lift)
            .Select(i => i.ToString()!)
            .ToList();
        var how = (off, apart.Count) switch
        {
            (true, 0) => "sources off, all plugged",
            (true, _) => $"sources off, {string.Join(", ", apart)}",
            (false, 0) => "plugged, back-probe",
            _ => string.Join(", ", apart),
        };
        var order = test.Probe.OrderOn(circuit);
        if (order.Near is { } near)
            how = $"{near}; {(apart.Count == 0 ? "nothing taken apart" : how)}";
        return new ProbeOrder(
            order.Do,
            order.On,
            order.Black,
            order.At is { } tag ? PlaceOf(circuit, tag) : order.Where,
            order.WiresAt is { } at ? WireAt(circuit, at) : null,
            order.How ?? how
        )
        {
            Meter = meter,
        };
    }

    private static string PlaceOf(Circuit circuit, string tag) => circuit.FindPart(tag)?.Place ?? "place not said";

    private static string? WireAt(Circuit circuit, Terminal t)
    {
        var wires = circuit.Wires.Where(w => w.From == t || w.To == t).ToList();
        if (wires.Count == 0)
            return null;
        return string.Join(", ", wires.Take(3).Select(PointNames.Wire));
    }
}

/// <summary>A point that a tip touches.</summary>
/// <param name="Point">As the notation writes it.</param>
/// <param name="Name">Part by name, then terminal.</param>
/// <param name="Wire">Colour and number of the wire there, or null.</param>
public sealed record Tip(string Point, string Name, string Place, string? Wire);
