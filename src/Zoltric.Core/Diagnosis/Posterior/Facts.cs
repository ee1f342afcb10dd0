using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>What is known and is no reading: a part renewed, a code.</summary>
internal static class Facts
{
    /// <summary>
    /// A part that was renewed and did not help: its own faults become unlikely, not impossible (the new one may be bad too).
    /// </summary>
    public static void Replaced(FaultSpace space, string tag, int first, ValuePartition partition, double[] added)
    {
        for (var s = first; s < space.Suspects.Count; s++)
            if (space.Suspects[s].RepairUnit == tag)
                Fill(partition, s, added, Math.Log(0.1));
    }

    /// <summary>
    /// How likely a code is active when the fault upsets what it is about, and when it does not: a module may be told wrong by a low supply
    /// or a shared ground. Where nothing else is complained of the code is what has to be explained. A stored one may be old, an absent one
    /// not set yet. Estimates.
    /// </summary>
    private const double ActiveUpset = 0.8,
        ActiveElse = 0.12,
        OnlyActiveElse = 0.01,
        StoredUpset = 0.5,
        StoredElse = 0.38,
        AbsentUpset = 0.44;

    /// <summary>
    /// A code is weighed as a symptom: by whether the fault would upset what its line is about. So four codes with one feed in common point
    /// to the feed and not to one of its leads.
    /// </summary>
    /// <param name="only">True where no other trouble was said before it.</param>
    public static void Coded(
        FaultSpace space,
        Probe.Code code,
        Reading reading,
        bool only,
        int first,
        ValuePartition partition,
        double[] added
    )
    {
        if (reading.Result is not ReadingResult.Word { Answer: var word } || CodeOf(space.Circuit, code.Number) is not { } known)
            return;
        // A supply that sags sets many codes, its own among them: that one says little of where.
        var ofSupply = known.About.Any(a => space.Circuit.FindPart(a) is { Kind.IsSource: true });
        var (upset, otherwise) = word switch
        {
            Answer.Active when !ofSupply => (ActiveUpset, only ? OnlyActiveElse : ActiveElse),
            Answer.Active or Answer.Stored => (StoredUpset, StoredElse),
            Answer.Absent => (AbsentUpset, 1 - StoredElse),
            _ => (1, 1),
        };
        // What is active now is upset with the controls as they stand, whatever else is asked for.
        var moves = word == Answer.Active ? reading.Test.Setup.Steps.SelectMany(m => m).ToList() : [];
        IReadOnlyList<Setup> setups =
        [
            .. CommonCauses.SetupsOf(space.Circuit).Where(s => moves.TrueForAll(m => s.Steps.Any(step => step.Contains(m)))),
            .. moves.Count > 0 ? new[] { reading.Test.Setup } : [],
        ];
        List<int> tellers = word == Answer.Active ? TellersOf(space.Circuit, known) : [];
        var awake = setups.Where(s => tellers.Exists(space.Healthy(s).PulledIn)).ToList();
        WorkBudget.For(first, space.Suspects.Count, s =>
        {
            var unit = space.Suspects[s].RepairUnit;
            var isAbout = known.About.Contains(unit) || known.About.Contains(unit.Split(':')[0]);
            var upsets = isAbout || space.Suspects[s].Together.Count == 0 && CommonCauses.Upsets(space, s, known, setups);
            var silent = upsets && !isAbout && awake.Count > 0 && CommonCauses.Silences(space, s, tellers, awake) ? Untold : 1;
            Fill(partition, s, added, Math.Log((upsets ? upset : otherwise) * silent));
        });
    }

    /// <summary>
    /// How often a code is read as active though the fault leaves those modules without power that could tell it: read before, or held by
    /// one that is not drawn; estimate.
    /// </summary>
    private const double Untold = 0.1;

    /// <summary>
    /// Modules that could tell a code: those that drive or sense what it is about; where there are none, as for a module that does not
    /// answer, all but those that it is about.
    /// </summary>
    private static List<int> TellersOf(Circuit circuit, FaultCode code)
    {
        var nets = Nets.Of(circuit);
        var ends = code
            .About.SelectMany(about =>
                circuit.FindWire(about) is { } w ? [w.From, w.To]
                : circuit.FindPart(about.Split(':')[0]) is { Kind: not Circuits.Kinds.PinRow } part
                    ? part.Model.Terminals.Select(name => new Terminal(part.Tag, name))
                : Array.Empty<Terminal>()
            )
            .ToList();
        var others = circuit.Parts.Where(p => p.Kind is Circuits.Kinds.Module && !code.About.Contains(p.Tag)).ToList();
        var near = others.Where(p => PinsOf(p).Any(pin => ends.Exists(e => nets.SameNet(e, new Terminal(p.Tag, pin))))).ToList();
        return [.. (near.Count > 0 ? near : others).Select(p => circuit.IndexOf(p.Tag))];

        static IEnumerable<string> PinsOf(Part module) =>
            module
                .ModuleLines.OfType<ModuleLine.Output>()
                .Select(o => o.Pin)
                .Concat(module.ModuleLines.OfType<ModuleLine.Input>().Select(i => i.Pin));
    }

    /// <summary>The sheet's line for a code: its number, or the one line whose number it ends in; readers put a prefix before it.</summary>
    private static FaultCode? CodeOf(Circuit circuit, string number)
    {
        if (circuit.Codes.FirstOrDefault(c => c.Code == number) is { } exact)
            return exact;
        var ends = circuit.Codes.Where(c => number.EndsWith(c.Code, StringComparison.OrdinalIgnoreCase)).ToList();
        return ends.Count == 1 ? ends[0] : null;
    }

    private static void Fill(ValuePartition partition, int suspect, double[] added, double log) =>
        added.AsSpan(partition.From(suspect)..partition.To(suspect)).Fill(log);
}
