using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>Something that was noticed: a function seen dead or weak, an active code.</summary>
public sealed record Symptom(string Name, MachineFunction? Function, FaultCode? Code);

/// <summary>One thing whose failing would make several symptoms at once.</summary>
/// <param name="Unit">Wire, pin, part or stud that would be mended.</param>
/// <param name="How">Fault words of its likeliest way to fail.</param>
/// <param name="Explains">By symptom, in their order.</param>
/// <param name="WouldStop">Functions seen working that it would stop too: what speaks against it.</param>
public sealed record SharedCause(string Unit, string How, IReadOnlyList<bool> Explains, IReadOnlyList<string> WouldStop, double Odds)
{
    public int Count => Explains.Count(e => e);
}

/// <summary>
/// What dead functions and active codes have in common, by running every single fault in the setups of the machine's functions: a function
/// is explained when it would not work, a code when what its line is about would not have its volts, its current or its state.
/// </summary>
public static class CommonCauses
{
    private const int MostSetups = 8;

    /// <summary>
    /// Volts, as a share of nominal, and current, as a share of its own, from which on a code's part is taken to be upset; estimates.
    /// </summary>
    private const double VoltsOff = 0.12,
        AmpsOff = 0.4;
    private const double LeastAmps = 0.005;

    /// <summary>
    /// Ways to fail, those that explain most and stop least first, one for each thing that would be mended. Empty without symptoms.
    /// </summary>
    public static IReadOnlyList<SharedCause> Find(
        FaultSpace space,
        IReadOnlyList<Symptom> symptoms,
        IReadOnlyList<MachineFunction> working,
        int most = 8
    )
    {
        ArgumentNullException.ThrowIfNull(space);
        ArgumentNullException.ThrowIfNull(symptoms);
        ArgumentNullException.ThrowIfNull(working);
        if (symptoms.Count == 0)
            return [];
        var circuit = space.Circuit;
        var setups = SetupsOf(circuit);
        var own = new Dictionary<MachineFunction, Setup>();
        foreach (var f in symptoms.Select(s => s.Function).OfType<MachineFunction>().Concat(working))
            if (FunctionSetups.SetupFor(circuit, f) is { } s)
                own[f] = s;
        var causes = new SharedCause?[space.Suspects.Count];
        WorkBudget.For(0, causes.Length, s =>
        {
            var suspect = space.Suspects[s];
            if (suspect.Together.Count > 0)
                return;
            var point = space.WorstPoint(s);
            bool Works(MachineFunction f) =>
                !own.TryGetValue(f, out var setup) || FunctionState.Judge(space.Run(setup, s, point), f) == Answer.Works;
            var explains = symptoms
                .Select(x =>
                    x.Function is { } f
                        ? !Works(f)
                        : x.Code is { } c && setups.Any(setup => Upset(circuit, c, space.Healthy(setup), space.Run(setup, s, point)))
                )
                .ToList();
            if (!explains.Contains(true))
                return;
            causes[s] = new SharedCause(
                suspect.RepairUnit,
                suspect.Template.Words,
                explains,
                [.. working.Where(f => !Works(f)).Select(f => f.Name)],
                suspect.Odds
            );
        });
        return
        [
            .. causes
                .OfType<SharedCause>()
                .GroupBy(c => c.Unit)
                .Select(g =>
                    g.OrderByDescending(c => c.Count).ThenBy(c => c.WouldStop.Count).ThenByDescending(c => c.Odds).First() with
                    {
                        Odds = g.Sum(c => c.Odds),
                    }
                )
                .OrderByDescending(c => c.Count - c.WouldStop.Count)
                .ThenByDescending(c => c.Count)
                .ThenByDescending(c => c.Odds)
                .Take(most),
        ];
    }

    /// <summary>
    /// Whether a fault would upset what a code of the sheet is about, in the setup of some function or at rest: codes that share a feed
    /// speak for the feed together.
    /// </summary>
    internal static bool Upsets(FaultSpace space, int suspect, FaultCode code, IReadOnlyList<Setup> setups)
    {
        var at = space.ForGood(suspect) ?? suspect;
        var point = space.WorstPoint(at);
        return setups.Any(s => Upset(space.Circuit, code, space.Healthy(s), space.Run(s, at, point)))
            || BusUpset(space.Circuit, code, space.Healthy(Setup.Rest), space.Run(Setup.Rest, at, point));
    }

    /// <summary>
    /// Whether a fault leaves all of these modules without power in every one of some setups.
    /// </summary>
    /// <param name="modules">By their index in the circuit.</param>
    /// <param name="awake">Setups in which one of them has power on the sound machine.</param>
    internal static bool Silences(FaultSpace space, int suspect, IReadOnlyList<int> modules, IReadOnlyList<Setup> awake)
    {
        var at = space.ForGood(suspect) ?? suspect;
        var point = space.WorstPoint(at);
        return awake.All(s => !modules.Any(space.Run(s, at, point).PulledIn));
    }

    /// <summary>Ohms between the two wires of a bus that are other by so much are an end lost, or a wire that touches; estimate.</summary>
    private const double OhmsOff = 0.25;

    /// <summary>A bus that a code is about keeps its volts with a wire open; its ohms tell, at a module of the code or on its
    /// wires.</summary>
    private static bool BusUpset(Circuit circuit, FaultCode code, OperatingPoint healthy, OperatingPoint faulty)
    {
        var nets = Nets.Of(circuit);
        foreach (var part in circuit.Parts.Where(p => p.Model.Bus is not null))
        {
            var (high, low) = (part.Model.Links[part.Model.Bus!.High].A, part.Model.Links[part.Model.Bus.Low].A);
            var (h, l) = (new Terminal(part.Tag, high), new Terminal(part.Tag, low));
            var isMeant =
                code.About.Contains(part.Tag)
                || code.About.Select(circuit.FindWire).Any(w => w is not null && (nets.SameNet(w.From, h) || nets.SameNet(w.From, l)));
            // A module that has come up drives the bus: then its ohms are another matter.
            if (!isMeant || healthy.PulledIn(circuit.IndexOf(part.Tag)) != faulty.PulledIn(circuit.IndexOf(part.Tag)))
                continue;
            var (sound, now) = (healthy.Ohms(healthy.Node(h), healthy.Node(l)), faulty.Ohms(faulty.Node(h), faulty.Node(l)));
            if (Math.Abs(now - sound) > OhmsOff * sound)
                return true;
        }
        return false;
    }

    /// <summary>Setups in which a code is tried: where the functions are due, and at rest.</summary>
    internal static IReadOnlyList<Setup> SetupsOf(Circuit circuit) =>
        [
            .. circuit
                .Functions.Where(f => f.Test is FunctionTest.LoadWorks)
                .Select(f => FunctionSetups.SetupFor(circuit, f))
                .OfType<Setup>()
                .Append(Setup.Rest)
                .Distinct()
                .Take(MostSetups),
        ];

    /// <summary>Pins that a module needs to answer: supply, ground and bus. What it senses and drives are other circuits.</summary>
    private static IReadOnlyList<string> LivesBy(Part module)
    {
        List<string> pins =
        [
            .. module.ModuleLines.OfType<ModuleLine.Supply>().SelectMany(s => s.Pins.Concat(s.Grounds)),
            .. module.ModuleLines.OfType<ModuleLine.Bus>().SelectMany(b => new[] { b.HighPin, b.LowPin }),
            .. module.ModuleLines.OfType<ModuleLine.SingleWire>().Select(s => s.Pin),
        ];
        return pins.Count > 0 ? pins : module.Model.Terminals;
    }

    private static bool Upset(Circuit circuit, FaultCode code, OperatingPoint healthy, OperatingPoint faulty)
    {
        var most = VoltsOff * circuit.NominalVolts;
        double Volts(OperatingPoint op, Terminal t) => circuit.Alternating ? op.AcVolts(op.Node(t), -1).Magnitude : op.Volts(t);
        // What a module's feed carries goes with what it drives; that it has its volts is what counts.
        var ofModule = code.About.Any(a => circuit.FindPart(a) is { Kind: Circuits.Kinds.Module });
        foreach (var about in code.About)
        {
            if (circuit.FindWire(about) is { } w)
            {
                if (!ofModule && Off(Math.Abs(healthy.WireAmps(about)), Math.Abs(faulty.WireAmps(about))))
                    return true;
                if (new[] { w.From, w.To }.Any(t => Math.Abs(Volts(healthy, t) - Volts(faulty, t)) > most))
                    return true;
            }
            else if (circuit.FindPart(about.Split(':')[0]) is { } part)
            {
                var index = circuit.IndexOf(part.Tag);
                if (part.Model.Coil is not null && healthy.PulledIn(index) != faulty.PulledIn(index))
                    return true;
                // Of a plug only the pin that the code speaks of: it carries other circuits as well.
                var pin = about.Split(':') is [_, var said] ? said : null;
                var meant = pin is null && part.Kind is Circuits.Kinds.Module ? LivesBy(part) : part.Model.Terminals;
                foreach (var name in meant.Where(n => pin is null || n == pin || n == $"{pin}a" || n == $"{pin}b"))
                    if (
                        new Terminal(part.Tag, name, part.Kind is Circuits.Kinds.PinRow) is var t
                        && circuit.Wires.Any(x => x.From == t || x.To == t)
                        && Math.Abs(Volts(healthy, t) - Volts(faulty, t)) > most
                    )
                        return true;
            }
        }
        return false;

        static bool Off(double a, double b) => Math.Abs(a - b) > AmpsOff * Math.Max(a, b) && Math.Max(a, b) > LeastAmps;
    }
}
