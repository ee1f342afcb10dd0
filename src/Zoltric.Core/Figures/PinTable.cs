using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>One pin of a plug or module: what is wired to it and what it should show.</summary>
/// <param name="Wires">Each wire at it with colour and size, as the sheet has them.</param>
/// <param name="Ends">Where those wires end.</param>
/// <param name="Plugged">Volts in the setup, plugged.</param>
/// <param name="Band">What a sound machine may show there.</param>
/// <param name="Unplugged">Volts on the loom's side with the plug out; null for what does not come apart.</param>
/// <param name="Dead">Ohms from the loom's side to the return, everything off and the plug out; null likewise.</param>
/// <param name="Dangerous">True where its volts can hurt.</param>
public sealed record PinLine(
    Terminal Pin,
    IReadOnlyList<string> Wires,
    IReadOnlyList<string> Ends,
    MeterReading Plugged,
    HealthyBand Band,
    MeterReading? Unplugged,
    MeterReading? Dead,
    bool Dangerous
);

/// <summary>Pin by pin what a plug or module should show, by the solver.</summary>
public static class PinTable
{
    /// <summary>Parts that are worth a table: plugs, strips, modules, and whatever has four terminals or more in use.</summary>
    public static bool IsFor(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind is PinRow or Module || UsedOf(circuit, part).Count() >= FewestPins;
    }

    private const int FewestPins = 4;

    private static IEnumerable<Terminal> UsedOf(Circuit circuit, Part part)
    {
        var edges = Nets.Of(circuit).Connectivity;
        return part.Model.Terminals.Select(t => Connectivity.At(part, t)).Where(t => edges.From(t).Any(e => e.Part is null));
    }

    /// <param name="setup">The state of the machine, nothing taken apart.</param>
    public static IReadOnlyList<PinLine> Of(Machine machine, Part part, Setup setup)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(part);
        ArgumentNullException.ThrowIfNull(setup);
        var circuit = machine.Circuit;
        var nets = Nets.Of(circuit);
        var parts = part.Kind.Unplugs && part.Kind is not PinRow { ComesApart: false } && !part.Kind.IsSource;
        var apart = setup with { Interventions = [.. setup.Interventions, new Intervention.Unplug(part.Tag)] };
        var dead = new Setup([.. circuit.SourcesOff, new Intervention.Unplug(part.Tag)], []);
        return [.. UsedOf(circuit, part).Select(Line)];

        PinLine Line(Terminal pin)
        {
            var wires = circuit.Wires.Where(w => w.From == pin || w.To == pin).ToList();
            var common = nets.CommonOf(pin);
            var volts = new Probe.Volts(pin, common, nets.FunctionAt(pin));
            var plugged = Meter.Read(machine, new Test(setup, volts));
            // A plug's two halves are read by themselves; a module's or a part's pin on the loom's side.
            var loom = part.Kind is PinRow ? pin : pin with { Side = TerminalSide.Loom };
            var back = common ?? circuit.ReferencePoint;
            return new PinLine(
                pin,
                [.. wires.Select(Described)],
                [.. wires.Select(w => PointNames.Point(circuit, w.From == pin ? w.To : w.From))],
                plugged,
                HealthyBand.Of(plugged, MeterClass.Service),
                parts ? Meter.Read(machine, new Test(apart, volts with { P = loom })) : null,
                parts && loom.Bare != back.Bare
                    ? Meter.Read(
                        machine,
                        new Test(dead, new Probe.Ohms(new Across($"{loom} {back}", new ProbePoint(loom), new ProbePoint(back))))
                    )
                    : null,
                SafetyLimits.IsDangerous(nets.At(pin))
            );
        }
    }

    private static string Described(Wire w) =>
        string.Join(
            ' ',
            new[]
            {
                w.Numbered ? w.Id : null,
                w.Colour,
                w.Size is { } size ? $"{size.Value:0.##} {(size.Dimension == Dimension.WireGauge ? "awg" : "mm²")}" : null,
            }.Where(x => x is not null)
        );
}
