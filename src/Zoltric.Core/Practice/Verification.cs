using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Practice;

public enum VerificationKind
{
    Reading,
    Drop,
    Function,
    Unloaded,
    Interlock,
    Codes,
    Leads,
}

/// <summary>One thing to be shown after the repair.</summary>
/// <param name="Name">Stable name under which the result is kept.</param>
/// <param name="Ask">What to do, as an order.</param>
/// <param name="Band">For a reading: what the healthy machine shows.</param>
public sealed record VerificationItem(string Name, VerificationKind Kind, string Ask, Test? Test, HealthyBand? Band)
{
    /// <summary>
    /// Whether what was seen passes: the reading lies in the healthy band, the function works, the interlock stops it, the leads are out.
    /// </summary>
    public bool Passes(Reading reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        return (reading.Result, Band) switch
        {
            (ReadingResult.Number n, { Low: { } low, High: { } high }) => n.Value >= low && n.Value <= high,
            (ReadingResult.Word w, _) => w.Answer
                == (Kind is VerificationKind.Interlock or VerificationKind.Unloaded ? Answer.Dead : Band?.Answer ?? Answer.Works),
            (ReadingResult.OverLimit, { } band) => band.Answer == Answer.OverLimit,
            _ => false,
        };
    }
}

/// <summary>
/// The list to go through before a job may close. The reading that was bad; the drop across what was mended while it carries; the function
/// from every station it is worked from. Every interlock of the sheet, first with the moving load disconnected, then chocked and clear.
/// Codes cleared and read again; everything that was fitted, lifted or unplugged put back.
/// </summary>
public static class Verification
{
    /// <param name="mended">What was mended, as written in the finding; null before one is recorded.</param>
    /// <param name="codes">True when codes were read before.</param>
    public static IReadOnlyList<VerificationItem> Items(
        Machine machine,
        IReadOnlyList<Verdict> verdicts,
        MachineFunction? function,
        string? mended = null,
        bool codes = false
    )
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(verdicts);
        var circuit = machine.Circuit;
        var items = new List<VerificationItem>();
        // Volts at a point tell of the machine at work; above extra-low voltage the dead reading that was bad is repeated instead.
        bool Repeatable(Verdict v) =>
            TestRules.IsDangerous(circuit, v.Reading.Test)
                ? v.Reading.Test.Probe is Probe.Ohms
                : v.Reading.Test.Setup.Interventions.Count == 0 && v.Reading.Test.Probe is Probe.Volts or Probe.Drop;
        if (verdicts.LastOrDefault(v => v.Judgement is Judgement.Low or Judgement.High && Repeatable(v)) is { } bad)
            items.Add(
                new VerificationItem(
                    $"reading {bad.Reading.Test}",
                    VerificationKind.Reading,
                    "Repeat the reading that was bad",
                    bad.Reading.Test,
                    HealthyBand.Of(machine, bad.Reading.Test)
                )
            );
        if (function is not null)
        {
            var stations = FunctionSetups.SetupsFor(circuit, function);
            if (
                mended is not null
                && stations.Count > 0
                && DropOf(circuit, stations[0], mended) is { } drop
                && !TestRules.IsDangerous(circuit, drop)
                && HealthyBand.Of(machine, drop) is { Low: not null } good
            )
                items.Add(
                    new VerificationItem(
                        $"drop {drop}",
                        VerificationKind.Drop,
                        "The drop across what was mended, while it carries",
                        drop,
                        good
                    )
                );
            foreach (var (setup, i) in stations.Select((s, i) => (s, i)))
            {
                var test = new Test(setup, new Probe.Sees(function.Name, true));
                var where = stations.Count > 1 ? $", station {i + 1} of {stations.Count}" : "";
                items.Add(
                    new VerificationItem(
                        $"function {function.Name}{(i > 0 ? $" {setup}" : "")}",
                        VerificationKind.Function,
                        $"Run it: {function.Name}{where}",
                        test,
                        HealthyBand.Of(machine, test)
                    )
                );
            }
        }
        foreach (var i in circuit.Interlocks)
        {
            if (circuit.FindFunction(i.Stops) is not { } stopped)
                continue;
            var tried = FunctionSetups.SetupAgainst(circuit, stopped, i.When) ?? Setup.Rest;
            var test = new Test(tried, new Probe.Sees(i.Stops, true));
            if (Moves(circuit, stopped))
                items.Add(
                    new VerificationItem(
                        $"unloaded {i.When} stops {i.Stops}",
                        VerificationKind.Unloaded,
                        $"With the load that moves disconnected: with {i.When}, what works “{i.Stops}” must stay out.",
                        test,
                        null
                    )
                );
            items.Add(
                new VerificationItem(
                    $"interlock {i.When} stops {i.Stops}",
                    VerificationKind.Interlock,
                    $"{(Moves(circuit, stopped) ? "Load back on, chocked and clear" : "Try the interlock")}: with {i.When}, "
                        + $"“{i.Stops}” must stay dead.",
                    test,
                    null
                )
            );
        }
        items.AddRange(GuardsPassed(machine, verdicts, function));
        if (codes)
            items.Add(
                new VerificationItem(
                    "codes",
                    VerificationKind.Codes,
                    "Clear the codes, run it as it failed, read again: none of them is back.",
                    null,
                    null
                )
            );
        if (verdicts.Any(v => v.Reading.Test.Setup.Interventions.Count > 0))
            items.Add(
                new VerificationItem(
                    "leads",
                    VerificationKind.Leads,
                    "Jumpers and feeds out, plugs in, lifted wires and pulled fuses back, locks off.",
                    null,
                    null
                )
            );
        return items;
    }

    /// <summary>
    /// Guards that leads of the job went past, each to be shown to stop the machine: those that no interlock of the sheet speaks of. Such a
    /// job may not close before.
    /// </summary>
    private static IEnumerable<VerificationItem> GuardsPassed(Machine machine, IReadOnlyList<Verdict> verdicts, MachineFunction? function)
    {
        var circuit = machine.Circuit;
        var watched = circuit
            .Interlocks.SelectMany(i => i.When.Leaves())
            .OfType<Condition.Position>()
            .Select(p => p.Control)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var guard in verdicts.SelectMany(v => Bridges.Guards(circuit, v.Reading.Test.Setup)).DistinctBy(g => g.Tag))
        {
            if (SafetyParts.ControlsOf(guard).Any(watched.Contains))
                continue;
            var test = function is null ? null : Opened(circuit, guard, function);
            yield return new VerificationItem(
                $"guard {guard.Tag}",
                VerificationKind.Interlock,
                test is null
                    ? $"A lead went past {guard.Spoken}: make it open and show that the machine stops."
                    : $"A lead went past {guard.Spoken}: with {test.Setup}, “{function!.Name}” must stay dead.",
                test,
                null
            );
        }
    }

    /// <summary>The function tried with a guard's own control where it opens; null where the sheet names none.</summary>
    private static Test? Opened(Circuit circuit, Part guard, MachineFunction function)
    {
        foreach (var name in SafetyParts.ControlsOf(guard))
        {
            if (circuit.FindControl(name) is not { } control)
                continue;
            foreach (var position in control.Positions)
            {
                bool Closed(ContactLine c) =>
                    c.Closed
                    == (
                        c.When?.Holds(
                            n =>
                                n.Equals(name, StringComparison.OrdinalIgnoreCase) ? position
                                : circuit.FindControl(n) is { } other ? other.Positions[other.Rest]
                                : "",
                            _ => true
                        )
                        ?? true
                    );
                if (guard.Contacts.Any(Closed))
                    continue;
                Condition opened = new Condition.Position(control.Name, position);
                if (FunctionSetups.SetupAgainst(circuit, function, opened) is { } setup)
                    return new Test(setup, new Probe.Sees(function.Name, true));
            }
        }
        return null;
    }

    /// <summary>Leads of the readings that went past a safety part or an interlock, as they were written.</summary>
    public static IReadOnlyList<string> PastGuards(Circuit circuit, IEnumerable<Reading> readings)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(readings);
        return
        [
            .. readings
                .Where(r => Bridges.Guards(circuit, r.Test.Setup).Count > 0)
                .SelectMany(r => r.Test.Setup.Interventions)
                .Where(i => i is Intervention.Jumper or Intervention.Feed or Intervention.Swap)
                .Select(i => i.ToString()!)
                .Distinct(),
        ];
    }

    /// <summary>
    /// The finding's first target as something whose drop can be read while the function runs; null for what carries nothing or has no two
    /// ends.
    /// </summary>
    private static Test? DropOf(Circuit circuit, Setup setup, string mended)
    {
        var target = mended.Split(' ', 2)[0];
        var line =
            circuit.FindWire(target) is not null
            || target.Contains(':', StringComparison.Ordinal)
            || circuit.FindPart(target) is { Model: { IsPoint: false, Load: null, Coil: null, Through: not null }, Kind.IsSource: false }
                ? $"{(setup.IsRest ? "" : setup.ToString())} : drop {target}"
                : null;
        return line is null ? null : Notation.ReadingReader.Read(circuit, line).Value?.Test;
    }

    /// <summary>Whether a function moves something: a motor, a starter, a coil that works a valve or brake.</summary>
    private static bool Moves(Circuit circuit, MachineFunction f) =>
        f.Test is FunctionTest.LoadWorks l
        && circuit.FindPart(l.Tag) is { } p
        && p.Kind
            is Circuits.Kinds.Motor
                or Circuits.Kinds.Motor3
                or Circuits.Kinds.Starter
                or Circuits.Kinds.Contactor
                or Circuits.Kinds.Coil;
}
