using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Routes;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;
using Zoltric.Drawing.Schematic;

namespace Zoltric.Web.Sheets;

/// <summary>What the circuit screen was asked: how the machine stands, where the tips are, what is wrong with it.</summary>
public sealed record CircuitQuestion
{
    /// <summary>Control moves in the order they were made, as in a reading line.</summary>
    public string? Steps { get; init; }

    /// <summary>What was unplugged, pulled, lifted, jumpered, fed; one each.</summary>
    public IReadOnlyList<string> Done { get; init; } = [];
    public IReadOnlyList<string> Faults { get; init; } = [];

    /// <summary>Meter function: the word of a probe.</summary>
    public string Meter { get; init; } = "V";
    public string? Red { get; init; }
    public string? Black { get; init; }

    /// <summary>Function whose conditions are asked for.</summary>
    public string? Stops { get; init; }
}

/// <summary>The answers of the circuit screen: the machine as it is now, and as it would be with nothing wrong.</summary>
public sealed class CircuitState
{
    /// <summary>More moves than these and the first are forgotten: the screen is asked to start from rest.</summary>
    private const int MostSteps = 60,
        MostFaults = 6;

    /// <summary>Probes that take two points, one point or none, with what the dial says.</summary>
    public static IReadOnlyList<(string Word, string Label, int Points)> Meters { get; } =
    [
        ("V", "DC volts", 2),
        ("VAC", "AC volts", 2),
        ("loz", "Volts, low impedance", 2),
        ("ohm", "Ohms", 2),
        ("beep", "Continuity", 2),
        ("lamp", "Test lamp", 2),
        ("insul", "Insulation", 2),
        ("clamp", "Clamp on a wire", 1),
        ("A", "Series amps where pulled", 1),
    ];

    public ReadySheet Sheet { get; }
    public CircuitQuestion Asked { get; }
    public Setup Setup { get; }
    public IReadOnlyList<Fault> Faults { get; }
    public OperatingPoint Now { get; }
    public OperatingPoint Healthy { get; }

    /// <summary>What could not be understood or must not be done, in plain words.</summary>
    public IReadOnlyList<string> Refused { get; }

    /// <summary>What a number alone would not tell: fuses gone, chatter, races, what depends on history.</summary>
    public string? Note { get; }
    public MeterReading? Reading { get; }
    public MeterReading? HealthyReading { get; }

    /// <summary>The reading line that stands for the meter as it is held, or null.</summary>
    public string? Line { get; }
    public IReadOnlyList<FunctionCondition> Conditions { get; } = [];

    public CircuitState(ReadySheet sheet, CircuitQuestion asked)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        ArgumentNullException.ThrowIfNull(asked);
        (Sheet, Asked) = (sheet, asked);
        var refused = new List<string>();
        var (circuit, machine) = (sheet.Circuit, sheet.Machine);
        var done = asked.Done.Where(d => d.Length > 0).ToList();
        Setup? setup = null;
        while (setup is null)
        {
            var text = string.Join(", ", done.Append(asked.Steps ?? "").Where(t => t.Trim().Length > 0));
            var parsed = ReadingReader.ReadSetup(circuit, text);
            setup = parsed.Value;
            if (setup is null && done.Count == 0)
            {
                refused.Add(parsed.Problems[0].Message);
                setup = Setup.Rest;
            }
            else if (setup is null)
            {
                refused.Add($"{done[^1]}: {parsed.Problems[0].Message}");
                done.RemoveAt(done.Count - 1);
            }
            else if (Bridges.Forbidden(machine, setup) is { } bridge && done.Count > 0)
            {
                refused.Add($"{done[^1]}: {bridge.Why}");
                done.RemoveAt(done.Count - 1);
                setup = null;
            }
        }
        if (setup.Steps.Count > MostSteps)
        {
            refused.Add($"More than {MostSteps} moves: start again from rest.");
            setup = setup with { Steps = [.. setup.Steps.Skip(setup.Steps.Count - MostSteps)] };
        }
        var (faults, kept) = (new List<Fault>(), new List<string>());
        foreach (var text in asked.Faults.Where(f => f.Trim().Length > 0).Take(MostFaults))
        {
            var parsed = FaultReader.Read(circuit, text);
            if (parsed.Value is not { } read)
            {
                refused.Add($"{text}: {parsed.Problems[0].Message}");
                continue;
            }
            try
            {
                machine.Check([.. faults, .. read]);
            }
            catch (FaultException e)
            {
                refused.Add($"{text}: {e.Message}");
                continue;
            }
            faults.AddRange(read);
            kept.Add(text.Trim());
        }
        (Setup, Faults) = (setup, faults);
        Asked = asked with { Done = done, Faults = kept, Steps = string.Join(", ", setup.Steps.Select(s => string.Join(' ', s))) };
        Healthy = machine.Run(setup);
        Now = faults.Count == 0 ? Healthy : machine.Run(setup, faults);
        Note = StateNotes.Note(machine, Now, setup, faults);
        if (
            Meters.FirstOrDefault(m => m.Word == asked.Meter) is { Word: { } word, Points: var points }
            && asked.Red is { Length: > 0 } red
            && (points == 1 || word is "V" or "VAC" or "loz" or "lamp" || asked.Black is { Length: > 0 })
        )
        {
            Line = $"{setup} : {word} {red}{(points == 2 && asked.Black is { Length: > 0 } black ? " " + black : "")}".TrimStart();
            var parsed = ReadingReader.Read(circuit, Line);
            if (parsed.Value is { } reading)
            {
                Reading = Meter.Read(machine, reading.Test, faults);
                if (faults.Count > 0)
                    HealthyReading = Meter.Read(machine, reading.Test);
            }
            else
            {
                refused.Add(parsed.Problems[0].Message);
                Line = null;
            }
        }
        if (asked.Stops is { Length: > 0 } stops && circuit.FindFunction(stops) is { } function)
            Conditions = FunctionConditions.For(machine, function, Now);
        Refused = refused;
    }

    /// <summary>The same question after one more move of a control: to the position given, or to the next one.</summary>
    public static string Moved(Circuit circuit, OperatingPoint now, string? steps, string move)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(now);
        var (name, at) = (move ?? "").Split('=', 2) is [var n, var p] ? (n, p) : (move ?? "", "");
        if (circuit.FindControl(name) is not { } control)
            return steps ?? "";
        var position = control.IndexOf(at) is >= 0 and var i
            ? control.Positions[i]
            : control.Positions[(control.IndexOf(now.Position(control.Name)) + 1) % control.Positions.Count];
        return string.IsNullOrWhiteSpace(steps) ? $"{control.Name}={position}" : $"{steps}, {control.Name}={position}";
    }

    public string Drawing(PageOptions options) => PageSvg.Write(Sheet.Page, options);

    public PageOptions Options(OperatingPoint op, string symbols, string id) =>
        new()
        {
            Id = id,
            Symbols = symbols == "ieee" ? Zoltric.Drawing.Symbols.SymbolSet.Ieee : Zoltric.Drawing.Symbols.SymbolSet.Iec,
            Ink = new Ink(Sheet.Page, op),
            Operable = true,
            Red = TerminalOf(Asked.Red),
            Black = TerminalOf(Asked.Black),
            Faulted = ReferenceEquals(op, Now) ? Faults.Select(f => f.Target.Split(':')[0]).ToHashSet() : [],
        };

    private Terminal? TerminalOf(string? text) =>
        text is { Length: > 0 } && ReadingReader.Read(Sheet.Circuit, $": V {text}").Value?.Test.Probe is Probe.Volts v ? v.P : null;
}
