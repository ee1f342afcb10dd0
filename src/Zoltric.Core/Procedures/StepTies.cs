using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;

namespace Zoltric.Core.Procedures;

/// <summary>Ties a step in words to a reading of the machine's sheet, where it plainly speaks of a point, a fuse or a part of it.</summary>
public static partial class StepTies
{
    /// <summary>The step with its reading; as it was where it speaks of nothing that is on the sheet, or of several things.</summary>
    public static ProcedureStep Tie(ProcedureStep step, Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(circuit);
        if (step.Reading.Length > 0)
            return step;
        if (step.Pins.Count > 0)
            return step with { Pins = [.. step.Pins.Select(p => Tie(p, $"{step.Question} {step.Set} {step.Where}", circuit))] };
        var text = $"{step.Question} {step.Where}";
        var points = PointIn().Matches(text).Select(m => Point(circuit, m)).OfType<Terminal>().Distinct().ToList();
        var reading =
            Ohms().IsMatch(text) && points.Count == 2 ? $"{string.Join(", ", circuit.SourcesOff)} : ohm {points[0]} {points[1]}"
            : points.Count == 1 ? $"{SetupOf(text, circuit)} : {Volts(circuit, points[0])}"
            : points.Count == 0 && Fuses(text, circuit) is [var fuse] ? $" : drop {fuse.Tag}"
            : "";
        return step with { Reading = reading.Trim() };
    }

    /// <summary>A pin whose name is a point of the sheet and that is judged by volts becomes their reading.</summary>
    private static StepPin Tie(StepPin pin, string said, Circuit circuit) =>
        pin is { Reading.Length: 0, Good: { Word: null, Dimension: Dimension.Volt } }
        && PointIn().Matches(pin.Name).Select(m => Point(circuit, m)).OfType<Terminal>().Distinct().ToList() is [var point]
            ? pin with
            {
                Reading = $"{SetupOf(said, circuit)} : {Volts(circuit, point)}".Trim(),
            }
            : pin;

    /// <summary>What it shows on the sound machine; null where the step is tied to nothing.</summary>
    public static string? Expected(ProcedureStep step, Solving.Machine machine)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(machine);
        return
            step.Reading.Length > 0
            && Notation.ReadingReader.Read(machine.Circuit, step.Reading).Value is { Test.Probe: not Probe.Replaced } reading
            ? HealthyBand.Of(Meter.Read(machine, reading.Test), MeterClass.Service).Text
            : null;
    }

    private static Terminal? Point(Circuit circuit, Match m)
    {
        if (circuit.FindPart(m.Groups[1].Value) is not { } part)
            return null;
        var pin = m.Groups[2].Value;
        var name = part.Model.Terminals.FirstOrDefault(t => t.Equals(pin, StringComparison.OrdinalIgnoreCase))
            ?? (part.Kind is PinRow ? part.Model.Terminals.FirstOrDefault(t => t == $"{pin}a") : null);
        return name is null ? null : new Terminal(part.Tag, name, part.Kind is PinRow);
    }

    private static string Volts(Circuit circuit, Terminal at)
    {
        var nets = Nets.Of(circuit);
        return new Probe.Volts(at, nets.CommonOf(at), nets.FunctionAt(at)).ToString();
    }

    /// <summary>Controls that the step speaks of: "key to START", "with the key at RUN".</summary>
    private static string SetupOf(string text, Circuit circuit) =>
        string.Join(
            " ",
            circuit
                .Controls.Select(c =>
                    (
                        c.Name,
                        At: c.Positions.FirstOrDefault(p =>
                            Regex.IsMatch(
                                text,
                                $@"\b{Regex.Escape(c.Name)}\b\W+(?:\w+\W+){{0,2}}{Regex.Escape(p)}\b",
                                RegexOptions.IgnoreCase
                            )
                        )
                    )
                )
                .Where(c => c.At is not null)
                .Select(c => $"{c.Name}={c.At}")
        );

    private static List<Part> Fuses(string text, Circuit circuit) =>
        [.. ProcedureCheck.TagsIn(text).Select(circuit.FindPart).OfType<Part>().Where(p => p.Kind is Fuse).Distinct()];

    [GeneratedRegex(@"\b([A-Z]{1,3}\d{1,3})(?:[.:]|,?\s+(?:pin|terminal)\s+)([A-Za-z]?\d{0,3}[A-Za-z+\-]?)(?!\w)")]
    private static partial Regex PointIn();

    [GeneratedRegex(@"\b(?:ohms?|continuity|resistance)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Ohms();
}
