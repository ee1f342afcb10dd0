using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Practice;

public enum VerificationKind { Reading, Function, Interlock, Leads }

/// <summary>One thing to be shown after the repair.</summary>
/// <param name="Name">Stable name under which the result is kept.</param>
/// <param name="Ask">What to do, as an order.</param>
/// <param name="Band">For a reading: what the healthy machine shows.</param>
public sealed record VerificationItem(string Name, VerificationKind Kind, string Ask, Test? Test, HealthyBand? Band)
{
    /// <summary>Whether what was seen passes: the reading lies in the healthy band, the function works, the interlock stops it, the leads are out.</summary>
    public bool Passes(Reading reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        return (reading.Result, Band) switch
        {
            (ReadingResult.Number n, { Low: { } low, High: { } high }) => n.Value >= low && n.Value <= high,
            (ReadingResult.Word w, _) => w.Text == (Kind == VerificationKind.Interlock ? "dead" : Band?.Text ?? "works"),
            (ReadingResult.OverLimit, { } band) => band.Text == "OL",
            _ => false,
        };
    }
}

/// <summary>
/// The list to go through before a job may close: the reading that was bad, the function complained of, every interlock of the sheet, and
/// everything that was fitted, lifted or unplugged put back.
/// </summary>
public static class Verification
{
    public static IReadOnlyList<VerificationItem> Of(Machine machine, IReadOnlyList<Verdict> verdicts, MachineFunction? function)
    {
        ArgumentNullException.ThrowIfNull(machine);
        ArgumentNullException.ThrowIfNull(verdicts);
        var circuit = machine.Circuit;
        var items = new List<VerificationItem>();
        if (verdicts.LastOrDefault(v => v.Judgement is Judgement.Low or Judgement.High && v.Reading.Test.Setup.Interventions.Count == 0
            && v.Reading.Test.Probe is Probe.Volts or Probe.Drop) is { } bad)
            items.Add(new VerificationItem($"reading {bad.Reading.Test}", VerificationKind.Reading, "Repeat the reading that was bad", bad.Reading.Test, HealthyBand.Of(machine, bad.Reading.Test)));
        if (function is not null && FunctionState.SetupFor(circuit, function) is { } setup)
        {
            var test = new Test(setup, new Probe.Sees(function.Name, true));
            items.Add(new VerificationItem($"function {function.Name}", VerificationKind.Function, $"Run it: {function.Name}", test, HealthyBand.Of(machine, test)));
        }
        foreach (var i in circuit.Interlocks)
        {
            if (circuit.FindFunction(i.Stops) is not { } stopped) continue;
            var when = stopped.When is null ? i.When : Joined(stopped.When, i.When);
            var tried = FunctionState.SetupFor(circuit, when) ?? FunctionState.SetupFor(circuit, i.When) ?? Setup.Rest;
            items.Add(new VerificationItem($"interlock {i.When} stops {i.Stops}", VerificationKind.Interlock,
                $"Try the interlock: with {i.When}, “{i.Stops}” must stay dead. First with the moving load disconnected, then chocked and clear.",
                new Test(tried, new Probe.Sees(i.Stops, true)), null));
        }
        if (verdicts.Any(v => v.Reading.Test.Setup.Interventions.Count > 0))
            items.Add(new VerificationItem("leads", VerificationKind.Leads, "Jumpers and feeds out, plugs in, lifted wires and pulled fuses back, locks off.", null, null));
        return items;
    }

    /// <summary>The function's condition with the interlock's position in the place of its own.</summary>
    private static Condition Joined(Condition when, Condition by)
    {
        var watched = by.Leaves().OfType<Condition.Position>().Select(p => p.Control).ToHashSet(StringComparer.OrdinalIgnoreCase);
        Condition? kept = null;
        foreach (var leaf in when.Leaves().OfType<Condition.Position>().Where(p => !watched.Contains(p.Control)))
            kept = kept is null ? leaf : new Condition.And(kept, leaf);
        return kept is null ? by : new Condition.And(kept, by);
    }
}
