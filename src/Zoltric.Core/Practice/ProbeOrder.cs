using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Planning;
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
                    .Select(t => new Tip(t.ToString(), SayPoint(circuit, t), PlaceOf(circuit, t.Tag), WireAt(circuit, t))),
            ],
            Needs = [.. NeedsOf(circuit, test.Setup)],
        };
    }

    private static IEnumerable<Terminal> Points(Circuit circuit, Test test) =>
        test.Probe is Probe.Volts { Q: null } v ? [v.P, circuit.ReferencePoint]
        : test.Probe is Probe.Lamp { Q: null } l ? [l.P, circuit.ReferencePoint]
        : TestRules.Tips(test);

    /// <summary>A point by the name of its part, then its terminal.</summary>
    public static string SayPoint(Circuit circuit, Terminal t)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        if (t.Name == "PE")
            return "earth (bare metal of the frame)";
        if (circuit.FindPart(t.Tag) is not { } part)
            return t.ToString();
        var name = part.Label is { Length: > 0 } label ? $"{label} {t.Tag}" : part.Spoken;
        return t.Name.Length == 0 ? name
            : t.IsPin ? $"{name}, pin {t.Name[..^1]}"
            : $"{name}, {(t.Name is "+" or "-" ? t.Name.Replace('-', '−') : "terminal " + t.Name)}";
    }

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
                    yield return $"the wires at {SayPoint(circuit, l.P)} taken off and insulated";
                    break;
                case Intervention.Support s:
                    yield return FormattableString.Invariant($"a charger on {circuit.FindPart(s.Tag)!.Spoken}, {s.Volts:0.#} V");
                    break;
                case Intervention.Jumper j:
                    yield return $"a fused lead from {SayPoint(circuit, j.P)} to {SayPoint(circuit, j.Q)}";
                    break;
                case Intervention.Feed f:
                    yield return $"a fused lead from the supply to {SayPoint(circuit, f.P)}";
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
        return test.Probe switch
        {
            Probe.Volts v => new ProbeOrder(
                "Red on",
                v.P.ToString(),
                v.Q is { } q ? (q.Name == "PE" ? SayPoint(circuit, q) : q.ToString()) : SayReference(circuit),
                PlaceOf(circuit, v.P.Tag),
                WireAt(circuit, v.P),
                how
            )
            {
                Meter = meter,
            },
            Probe.Drop d => new ProbeOrder(
                "Volts across",
                d.X.Text,
                $"red on {d.X.P}, black on {d.X.Q}",
                PlaceOf(circuit, d.X.P.Terminal.Tag),
                null,
                how
            )
            {
                Meter = meter,
            },
            Probe.Ohms o => new ProbeOrder(
                "Ohms across",
                o.X.Text,
                $"tips on {o.X.P} and {o.X.Q}",
                PlaceOf(circuit, o.X.P.Terminal.Tag),
                null,
                how
            )
            {
                Meter = meter,
            },
            Probe.Clamp c when circuit.FindWire(c.Wire) is { } w && DrawTests.ClampEnd(circuit, w) is var at => new ProbeOrder(
                "Clamp round",
                Say(w),
                null,
                PlaceOf(circuit, at.Tag),
                null,
                $"near {at}, arrow {(at == w.To ? "towards it" : "away from it")}; {(apart.Count == 0 ? "nothing taken apart" : how)}"
            )
            {
                Meter = meter,
            },
            Probe.Hears h => new ProbeOrder(
                "Feel and listen at",
                circuit.FindPart(h.Tag)!.Spoken,
                null,
                PlaceOf(circuit, h.Tag),
                null,
                "by touch: two relays sound alike"
            )
            {
                Meter = meter,
            },
            Probe.Sees s => new ProbeOrder(
                "Look:",
                s.IsFunction ? s.What : circuit.FindPart(s.What)?.Spoken ?? s.What,
                null,
                "from where you stand",
                null,
                "does it do it?"
            )
            {
                Meter = meter,
            },
            Probe.Looks l => new ProbeOrder("Look at", circuit.FindPart(l.Tag)!.Spoken, null, PlaceOf(circuit, l.Tag), null, how)
            {
                Meter = meter,
            },
            _ => new ProbeOrder("Measure", test.Probe.ToString()!, null, "", null, how) { Meter = meter },
        };
    }

    private static string SayReference(Circuit circuit)
    {
        var r = circuit.ReferencePoint;
        return circuit.FindPart(r.Tag) is { } p ? $"{p.Spoken} {(r.Name == "-" ? "−" : r.Name)}" : r.ToString();
    }

    private static string PlaceOf(Circuit circuit, string tag) => circuit.FindPart(tag)?.Place ?? "place not on the sheet";

    private static string? WireAt(Circuit circuit, Terminal t)
    {
        var wires = circuit.Wires.Where(w => w.From == t || w.To == t).ToList();
        if (wires.Count == 0)
            return null;
        return string.Join(", ", wires.Take(3).Select(Say));
    }

    /// <summary>Colour and number.</summary>
    private static string Say(Wire w) => w.Colour is null ? w.Id : $"{w.Colour} {w.Id}";
}

/// <summary>A point that a tip touches.</summary>
/// <param name="Point">As the notation writes it.</param>
/// <param name="Name">Part by name, then terminal.</param>
/// <param name="Wire">Colour and number of the wire there, or null.</param>
public sealed record Tip(string Point, string Name, string Place, string? Wire);
