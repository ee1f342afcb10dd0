using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;

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
    public static ProbeOrder Of(Circuit circuit, Test test)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        var off = test.Setup.Interventions.Any(i => i is Intervention.Off);
        var apart = test.Setup.Interventions.Where(i => i is Intervention.Unplug or Intervention.Pull or Intervention.Lift).Select(i => i.ToString()!).ToList();
        var how = (off, apart.Count) switch
        {
            (true, 0) => "sources off, all plugged",
            (true, _) => $"sources off, {string.Join(", ", apart)}",
            (false, 0) => "plugged, back-probe",
            _ => string.Join(", ", apart),
        };
        return test.Probe switch
        {
            Probe.Volts v => new ProbeOrder("Red on", v.P.ToString(), v.Q is { } q ? q.ToString() : SayReference(circuit), PlaceOf(circuit, v.P.Tag), WireAt(circuit, v.P), how),
            Probe.Drop d => new ProbeOrder("Volts across", d.X.Text, $"red on {d.X.P}, black on {d.X.Q}", PlaceOf(circuit, d.X.P.Terminal.Tag), null, how),
            Probe.Ohms o => new ProbeOrder("Ohms across", o.X.Text, $"tips on {o.X.P} and {o.X.Q}", PlaceOf(circuit, o.X.P.Terminal.Tag), null, how),
            Probe.Clamp c when circuit.FindWire(c.Wire) is { } w && DrawTests.ClampEnd(circuit, w) is var at =>
                new ProbeOrder("Clamp round", Say(w), null, PlaceOf(circuit, at.Tag), null, $"near {at}, arrow {(at == w.To ? "towards it" : "away from it")}; {(apart.Count == 0 ? "nothing taken apart" : how)}"),
            Probe.Hears h => new ProbeOrder("Feel and listen at", circuit.FindPart(h.Tag)!.Spoken, null, PlaceOf(circuit, h.Tag), null, "by touch: two relays sound alike"),
            Probe.Sees s => new ProbeOrder("Look:", s.IsFunction ? s.What : circuit.FindPart(s.What)?.Spoken ?? s.What, null, "from where you stand", null, "does it do it?"),
            Probe.Looks l => new ProbeOrder("Look at", circuit.FindPart(l.Tag)!.Spoken, null, PlaceOf(circuit, l.Tag), null, how),
            _ => new ProbeOrder("Measure", test.Probe.ToString()!, null, "", null, how),
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
        if (wires.Count == 0) return null;
        return string.Join(", ", wires.Take(3).Select(Say));
    }

    /// <summary>Colour and number.</summary>
    private static string Say(Wire w) => w.Colour is null ? w.Id : $"{w.Colour} {w.Id}";
}
