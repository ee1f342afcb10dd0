using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Practice;

/// <summary>A test on the part alone, taken out or unplugged.</summary>
/// <param name="Line">Reading line without its result, or null where it is no reading of the sheet's notation.</param>
/// <param name="Good">What a sound part shows.</param>
public sealed record BenchTest(string Name, string? Line, string Good, HealthyBand? Band);

/// <summary>
/// Proof before parts are bought: relay, switch in every position, coil against its range and to ground, fuse. What a sound part shows
/// comes from the sheet (its ohms, or the maker's range) by the solver.
/// </summary>
public static class BenchTests
{
    /// <summary>Tests for what would be mended: a tag, a pin or a wire. Empty for what cannot be tested apart.</summary>
    public static IReadOnlyList<BenchTest> For(Machine machine, string unit)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(unit);
        var circuit = machine.Circuit;
        var off = string.Join(", ", circuit.Sources.Select(s => $"off {s.Tag}"));
        var all = new List<BenchTest>();
        if (circuit.FindWire(unit) is { } wire)
        {
            Ohms("end to end, both ends off", $"{off} : ohm {wire.Id}");
            return all;
        }
        if (circuit.FindPart(unit.Split(':', '/')[0]) is not { } part || part.Kind.IsSource)
            return all;
        if (part.Kind is PinRow && unit.Contains(':', StringComparison.Ordinal))
        {
            Ohms("through the pin, plug seated", $"{off} : ohm {unit}");
            return all;
        }
        if (part.Model.IsPoint || part.Kind is PinRow)
            return all;
        if (part.Model.Links is [Link.Fuse])
        {
            Ohms("out of circuit; a good look proves nothing", $"{off}, pull {part.Tag} : ohm {part.Tag}");
            return all;
        }
        // Ohms into electronics mean nothing: a module is proved by its supplies, grounds and commands.
        if (part.Kind is Module)
            return all;
        var nets = Nets.Of(circuit);
        bool Wired(string terminal) => nets.Connectivity.From(new Terminal(part.Tag, terminal)).Any(e => e.Part is null);
        foreach (var link in part.Model.Links)
        {
            if (!part.Model.Terminals.Contains(link.A) || !part.Model.Terminals.Contains(link.B))
                continue;
            // Spare contacts are no concern of this machine.
            if (link is Link.Contact && !(Wired(link.A) && Wired(link.B)))
                continue;
            var apart = $"{off}, unplug {part.Tag}";
            switch (link)
            {
                case Link.Contact { Rule: ClosedRule.ByCoil }:
                    Ohms($"contact {link.A}–{link.B} at rest", $"{apart} : ohm {part.Tag}.{link.A} {part.Tag}.{link.B}");
                    break;
                case Link.Contact:
                    foreach (var (words, control) in Positions(circuit, part))
                        Ohms(
                            $"contact {link.A}–{link.B}, {words}",
                            $"{apart}{(control.Length > 0 ? ", " + control : "")} : ohm {part.Tag}.{link.A} {part.Tag}.{link.B}"
                        );
                    break;
                case Link.Reactance { Microfarads: not null }:
                    Ohms("capacity, discharged first", $"{apart} : cap {part.Tag}");
                    break;
                case Link.Resistance or Link.Reactance:
                    Ohms(
                        link is Link.Resistance && part.Model.Coil is not null ? "coil" : "winding or element",
                        $"{apart} : ohm {part.Tag}.{link.A} {part.Tag}.{link.B}"
                    );
                    break;
            }
        }
        if (
            part.Model.Coil is { } coil
            && part.Model.Links.Any(l => l is Link.Contact { Rule: ClosedRule.ByCoil } && Wired(l.A) && Wired(l.B))
        )
        {
            var ac = nets.FunctionAt(new Terminal(part.Tag, part.Model.Links[coil.Link].A)) == VoltsFunction.Ac;
            var volts = new Exposure(ac ? coil.RatedVolts : 0, ac ? 0 : coil.RatedVolts);
            all.Add(
                SafetyLimits.IsDangerous(volts)
                    ? new BenchTest(
                        $"by hand, out of the machine: its armature moves freely. Its coil ({Bridges.Said(volts)}) is not "
                            + $"energised on the bench",
                        null,
                        "moves freely",
                        null
                    )
                    : new BenchTest(
                        $"with {Bridges.Said(volts)} on the coil: it clicks and its contact reads under 0.2 Ω",
                        null,
                        "clicks, under 0.2 Ω",
                        null
                    )
            );
        }
        if (part.Model.Coil is not null || part.Model.Load is not null)
            all.Add(
                new BenchTest(
                    $"from {part.Model.Links[part.Model.Coil?.Link ?? part.Model.Load!.Link].A} to its metal case",
                    null,
                    "over 1 MΩ",
                    null
                )
            );
        return all;

        void Ohms(string name, string line)
        {
            if (ReadingReader.Read(circuit, line).Value is not { } reading)
                return;
            var shown = Meter.Read(machine, reading.Test);
            if (shown.Refused)
                return;
            // The maker's range decides where the sheet gives one.
            var band = circuit.FindPart(unit.Split(':', '/')[0]) is { GoodOhms: { } good, Model.Through: not null }
                ? new HealthyBand(good.Low, (good.Low + good.High) / 2, good.High, Dimension.Ohm, "")
                : HealthyBand.Of(shown, MeterClass.Service);
            all.Add(
                new BenchTest(
                    name,
                    reading.Test.ToString(),
                    band is { Low: { } low, High: { } high }
                        ? $"{MeterReading.Format(low, shown.Dimension)} to {MeterReading.Format(Math.Max(high, 0.3), shown.Dimension)}"
                        : band.Text,
                    band
                )
            );
        }
    }

    /// <summary>Every position of the controls that a part's contacts hang on, one control at a time.</summary>
    private static IEnumerable<(string Words, string Line)> Positions(Circuit circuit, Part part)
    {
        var names = part
            .Contacts.SelectMany(c => c.When?.Leaves() ?? [])
            .OfType<Condition.Position>()
            .Select(p => p.Control)
            .Distinct(StringComparer.OrdinalIgnoreCase);
        var any = false;
        foreach (var c in names.Select(circuit.FindControl).OfType<Control>())
        foreach (var (position, i) in c.Positions.Select((p, i) => (p, i)))
        {
            any = true;
            yield return ($"{c.Name} {position}", i == c.Rest ? "" : $"{c.Name}={position}");
        }
        if (!any)
            yield return ("at rest", "");
    }
}
