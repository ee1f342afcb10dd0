using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Routes;
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
/// <param name="Functions">What of the machine its current works.</param>
public sealed record PinLine(
    Terminal Pin,
    IReadOnlyList<string> Wires,
    IReadOnlyList<string> Ends,
    MeterReading Plugged,
    HealthyBand Band,
    HealthyBand? Unplugged,
    MeterReading? Dead,
    bool Dangerous,
    IReadOnlyList<string> Functions
)
{
    /// <summary>True where the pin's name, a wire, a colour, a far end or a function holds the words.</summary>
    public bool Answers(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        words = words.Trim();
        return Pin.Name.Equals(words, StringComparison.OrdinalIgnoreCase)
            || PinTable.Number(Pin.Name).Equals(words, StringComparison.OrdinalIgnoreCase)
            || Wires.SelectMany(w => w.Split(' ')).Contains(words, StringComparer.OrdinalIgnoreCase)
            || words.Length > 2 && Ends.Concat(Functions).Any(t => t.Contains(words, StringComparison.OrdinalIgnoreCase));
    }
}

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

    /// <summary>A pin of a plug without its half: 4 of 4a.</summary>
    public static string Number(string pin)
    {
        ArgumentNullException.ThrowIfNull(pin);
        return pin.Length > 1 && pin[^1] is 'a' or 'b' && char.IsAsciiDigit(pin[^2]) ? pin[..^1] : pin;
    }

    /// <summary>
    /// Every pin that the body has, in the order it is counted: those of a plug by its size, of a module from 1 to its last one.
    /// </summary>
    public static IReadOnlyList<string> Body(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        var named = part.Model.Terminals.Select(t => part.Kind is PinRow ? Number(t) : t).Distinct(StringComparer.Ordinal).ToList();
        if (!named.All(n => int.TryParse(n, out _)))
            return [.. named.OrderBy(n => n.Length).ThenBy(n => n, StringComparer.Ordinal)];
        var last = Math.Max(part.Pins, named.Select(n => int.Parse(n, null)).DefaultIfEmpty(0).Max());
        return [.. Enumerable.Range(1, Math.Min(last, PinFace.MostPins)).Select(n => $"{n}")];
    }

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
        // Which function's current passes a pin: by the lanes of each.
        var passes = circuit
            .Functions.SelectMany(f => LaneFinder.Find(machine, f).SelectMany(l => l.Stations).Select(x => (At: x.Terminal.Bare, f.Name)))
            .Where(x => x.At.Tag == part.Tag)
            .ToLookup(x => x.At, x => x.Name);
        return
        [
            .. UsedOf(circuit, part)
                .OrderBy(t => int.TryParse(Number(t.Name), out var n) ? n : int.MaxValue)
                .ThenBy(t => t.Name.Length)
                .ThenBy(t => t.Name, StringComparer.Ordinal)
                .Select(Line),
        ];

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
                parts ? HealthyBand.Of(Meter.Read(machine, new Test(apart, volts with { P = loom })), MeterClass.Service) : null,
                parts && loom.Bare != back.Bare
                    ? Meter.Read(
                        machine,
                        new Test(dead, new Probe.Ohms(new Across($"{loom} {back}", new ProbePoint(loom), new ProbePoint(back))))
                    )
                    : null,
                SafetyLimits.IsDangerous(nets.At(pin)),
                [.. passes[pin.Bare].Distinct()]
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
