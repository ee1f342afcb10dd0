using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>
/// The draw test, for a machine that takes current at rest: amps by clamp, round wires where the suspects would have it differ, and round
/// the feed with one fuse after another pulled, so that the draw that ends with a fuse lies behind it. Nothing is broken open and nothing
/// that sleeps is woken. Common practice, no source. Direct current only, and not above extra-low voltage.
/// </summary>
internal sealed class DrawTests(FaultSpace space, IReadOnlyList<Reading> readings)
{
    /// <summary>Wires and fuses tried at a time, those that tell most.</summary>
    private const int MostWires = 8,
        MostFuses = 8;

    /// <summary>Amps from which on a fuse is bolted down as a rule, and not to be drawn under load; common practice, no source.</summary>
    private const double MostPulled = 60;

    /// <summary>
    /// A wire suspected of touching something with more than this share is not clamped: on which side of the place the clamp sits is not
    /// known.
    /// </summary>
    private const double MostSuspected = 0.1;

    /// <summary>Share of the largest draw from which a wire counts as the feed.</summary>
    private const double Feed = 0.9;

    /// <summary>Share of the suspicion from which it matters whether a fuse carries the draw, and up to which.</summary>
    private const double LeastCarrying = 0.02;

    private readonly Circuit _circuit = space.Circuit;

    /// <summary>How the machine stands when it draws too much; null when that is not what is complained of.</summary>
    public Setup? Drawing() =>
        !TestRules.HasDangerousVolts(_circuit)
        && Nets.Of(_circuit).Sections.All(s => !s.HasAc)
        && readings.Any(r => r.Test.Probe is Probe.Sees { IsFunction: true } && r.Result is ReadingResult.Word { Answer: not Answer.Works })
        && Complaint.FunctionOf(_circuit, readings) is { Test: FunctionTest.Measured { Probe: Probe.Amps or Probe.Clamp } } f
            ? FunctionSetups.SetupFor(_circuit, f)
            : null;

    public IEnumerable<Test> All(Weights weights)
    {
        if (Drawing() is not { } setup)
            yield break;
        var points = weights.Representatives.Select(p => (p.Weight, Run: space.Run(setup, p))).ToList();
        var total = points.Sum(p => p.Weight);
        if (total <= 0)
            yield break;
        var wires = _circuit
            .Wires.Select(w => (Wire: w, Mean: Mean(op => Math.Abs(op.WireAmps(w.Id))), Spread: Spread(op => op.WireAmps(w.Id))))
            .ToList();
        var touching = Touching(weights);
        var free = wires.Where(w => touching.GetValueOrDefault(w.Wire.Id) < MostSuspected).ToList();
        foreach (var w in free.Where(w => w.Spread > 0).OrderByDescending(w => w.Spread).ThenBy(w => Reach(w.Wire)).Take(MostWires))
            yield return new Test(setup, new Probe.Clamp(w.Wire.Id));
        var most = free.Select(w => w.Mean).DefaultIfEmpty(0).Max();
        if (most < Outcomes.NoDraw)
            yield break;
        var feed = free.Where(w => w.Mean >= Feed * most).MinBy(w => Reach(w.Wire)).Wire;
        yield return new Test(setup, new Probe.Clamp(feed.Id));
        var fuses = _circuit
            .Parts.Where(p => p.Kind is Fuse && p.Value(Dimension.Ampere) is null or <= MostPulled)
            .Select(p => (p.Tag, Carrying: Mean(op => Math.Abs(op.LinkAmps(_circuit.IndexOf(p.Tag), 0)) > Outcomes.NoDraw ? 1 : 0)))
            .Where(f => f.Carrying is > LeastCarrying and < 1 - LeastCarrying);
        foreach (var (tag, _) in fuses.OrderBy(f => Math.Abs(f.Carrying - 0.5)).Take(MostFuses))
            yield return new Test(
                setup with
                {
                    Interventions = [.. setup.Interventions, new Intervention.Pull(tag)],
                },
                new Probe.Clamp(feed.Id)
            );

        double Mean(Func<OperatingPoint, double> of) => points.Sum(p => p.Weight * of(p.Run)) / total;

        // On a scale on which a clamp tells one step from the next.
        double Spread(Func<OperatingPoint, double> amps)
        {
            double Scale(OperatingPoint op) => Math.Log(1 + Math.Abs(amps(op)) / Outcomes.NoDraw);
            var mean = Mean(Scale);
            return Mean(op => Math.Pow(Scale(op) - mean, 2));
        }
    }

    /// <summary>By wire, the suspicion that it touches something.</summary>
    private Dictionary<string, double> Touching(Weights weights)
    {
        var by = new Dictionary<string, double>();
        for (var s = 0; s < space.Suspects.Count; s++)
            if (space.Suspects[s].Template is { Words: "grounded" or "to-supply" or "shorts" } f && _circuit.FindWire(f.Target) is not null)
                by[f.Target] = by.GetValueOrDefault(f.Target) + weights.Weight(s);
        return by;
    }

    private double Reach(Wire w) => _circuit.FindPart(Probe.Clamp.EndOf(_circuit, w).Tag)!.ReachMinutes;
}
