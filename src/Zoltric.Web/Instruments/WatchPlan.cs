using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Safety;
using Zoltric.Web.Jobs;

namespace Zoltric.Web.Instruments;

/// <summary>What is watched for long, and how the meter shows it.</summary>
/// <param name="Test">The probe, and how the machine stands while it is watched.</param>
/// <param name="Per">Units for one that the meter shows: 10 for a clamp of 100 mV an ampere, 1 for the figure itself.</param>
/// <param name="ShownIn">Unit that the meter shows.</param>
public sealed record WatchPlan(Test Test, double Per, string ShownIn)
{
    public string On => Test.Probe.ToString()!;
    public string Unit => Units.Short(Test.Probe.Dimension);

    /// <summary>True for the dial it is read on: continuity and alternating volts show other figures of the same unit.</summary>
    public bool IsReadOn(MeterFunction dial) => dial == Dial;

    /// <summary>The dial that it is asked to be read on.</summary>
    public MeterFunction Dial =>
        ShownIn == "V" ? MeterFunction.DcVolts
        : Test.Probe.Dimension == Dimension.Ampere ? MeterFunction.DcAmps
        : MeterFunction.Ohms;

    /// <summary>
    /// Blade fuses that the tips may go across one after another, as probes, with the ohms of each element cold: a fuse in its place is a
    /// small shunt. None where something else is watched.
    /// </summary>
    public IReadOnlyDictionary<string, double> Shunts { get; private init; } = new Dictionary<string, double>();

    /// <summary>A draw at rest, in amps or as millivolts across fuses.</summary>
    public bool IsDraw => Test.Probe.Dimension == Dimension.Ampere || Shunts.Count > 0;

    /// <summary>Amps that flow through a fuse with these volts across it; null where what is watched is none.</summary>
    /// <param name="on">The fuse as a probe; null for the one that was watched first.</param>
    public double? Amps(double volts, string? on) => Shunts.TryGetValue(on ?? On, out var ohms) ? Math.Abs(volts) / ohms : null;

    private static Dictionary<string, double> ShuntsOf(Circuit circuit) =>
        circuit
            .Parts.Where(p => p.Kind is Core.Circuits.Kinds.Fuse && p.Has("blade") && p.Value(Dimension.Ampere) is not null)
            .ToDictionary(p => $"drop {p.Tag}", p => Defaults.FuseElementOhms(p.Value(Dimension.Ampere)!.Value), StringComparer.Ordinal);

    private static Dictionary<string, double> ShuntsOf(Circuit circuit, Probe probe) =>
        ShuntsOf(circuit) is var all && all.ContainsKey(probe.ToString()!) ? all : [];

    /// <summary>What is watched, in words.</summary>
    public string Says(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        if (Test.Probe is Probe.Amps a && circuit.FindPart(a.Tag) is { } part)
            return $"Amps through {part.Spoken}";
        if (Test.Probe is Probe.Clamp c && circuit.FindWire(c.Wire) is { } wire)
            return $"Amps in {PointNames.Wire(wire)}";
        if (Shunts.Count > 0)
            return "Millivolts across one fuse after another, a tip on each end";
        var order = ProbeOrder.Of(circuit, Test);
        if (Test.Probe is Probe.Drop { X: var x })
            return $"{order.Do} {circuit.FindPart(x.Text)?.Spoken ?? x.Text}: red on {x.P}, black on {x.Q}";
        return order.Black is { } black ? $"{order.Do} {order.On}, black on {black}" : $"{order.Do} {order.On}";
    }

    /// <summary>Each battery is let lose so much at rest where the sheet does not say, A; common practice, no source.</summary>
    private const double UsuallyAllowed = 0.05;

    /// <summary>Batteries side by side: those in a row share one current.</summary>
    private static int SideBySide(Circuit circuit)
    {
        var volts = circuit
            .Parts.Where(p => p.Kind is Core.Circuits.Kinds.Battery)
            .Sum(p => p.Value(Dimension.Volt) ?? circuit.NominalVolts);
        return Math.Max(1, (int)Math.Round(volts / circuit.NominalVolts));
    }

    /// <summary>What may be drawn at rest, and who says so.</summary>
    public (double Amps, string By) Allowed { get; private init; }

    private static (double Amps, string By) AllowedBy(Circuit circuit, Probe probe)
    {
        foreach (var f in circuit.Functions)
            if (
                f.Test is FunctionTest.Measured { Probe: Probe.Amps { Tag: var tag }, High: var high and < 5 }
                && (probe is Probe.Clamp || probe is Probe.Amps a && a.Tag == tag)
            )
                return (high, "the sheet allows");
        var batteries = SideBySide(circuit);
        return (batteries * UsuallyAllowed, batteries == 1 ? "usual are at most" : $"usual are, for {batteries} batteries, at most");
    }

    /// <summary>What can be watched on a sheet: the draw of its supply, and the order's own probe.</summary>
    public static IReadOnlyList<(string On, string Says)> Offered(JobView view)
    {
        ArgumentNullException.ThrowIfNull(view);
        var offered = new List<(string, string)>();
        if (!view.Sheet.Machine.IsAlternating && view.Circuit.Sources.FirstOrDefault() is { } source)
        {
            offered.Add(($"A {source.Tag}", $"draw of {source.Spoken}, meter in series"));
            if (
                view.Circuit.Wires.FirstOrDefault(w => w.From == new Terminal(source.Tag, "+") || w.To == new Terminal(source.Tag, "+")) is
                { } w
            )
                offered.Add(($"clamp {w.Id}", $"draw of {source.Spoken}, clamp on {PointNames.Wire(w)}"));
        }
        if (!view.Sheet.Machine.IsAlternating && ShuntsOf(view.Circuit).Keys.FirstOrDefault() is { } fuse)
            offered.Add((fuse, "millivolts across one fuse after another, none pulled, as amps"));
        if (view.Next is { Test.Probe: Probe.Volts or Probe.Ohms or Probe.Drop } next)
            offered.Add((next.Test.Probe.ToString()!, "the order's own probe"));
        return offered;
    }

    /// <summary>Reads what was typed, or says what is wrong with it.</summary>
    /// <param name="per">Millivolts for an ampere of a clamp; empty for a figure as it is shown.</param>
    public static (WatchPlan? Plan, string? Why) Read(JobView view, string me, string? on, string? setup, string? per)
    {
        ArgumentNullException.ThrowIfNull(view);
        (on, setup) = (on?.Trim() ?? "", setup?.Trim() ?? "");
        if (on.Length == 0)
            return (null, "Say what is watched: A and the battery, clamp and a wire, V or ohm and points.");
        Reading? reading = null;
        foreach (var unit in (string[])["A", "V", "ohm"])
            reading ??= ReadingReader.Read(view.Circuit, $"{setup} : {on} = 0{unit}").Value;
        if (
            reading
            is not {
                Test: { Probe: Probe.Amps or Probe.Clamp or Probe.Volts { Function: VoltsFunction.Dc } or Probe.Ohms or Probe.Drop } test
            }
        )
            return (
                null,
                $"“{(setup.Length > 0 ? setup + " : " : "")}{on}” is nothing that is watched: "
                    + "A and the battery, clamp and a wire, V or ohm and points."
            );
        if (test.Probe.Statistic != Statistic.None)
            return (null, "Least, most and mean come of themselves: leave that word away.");
        if (TestRules.IsDangerous(view.Circuit, test, view.Options.Facts.Wet))
            return (null, "Dangerous volts can stand there. What is watched by itself is extra-low voltage only.");
        if (Core.Metering.Meter.Read(view.Sheet.Machine, test) is { Refused: true } refused)
            return (null, refused.Text);
        if (test.Probe is Probe.Ohms && !view.SafetyFor(me).State.IsProvedDead)
            return (null, "Ohms come only where the machine is proved dead.");
        if (string.IsNullOrWhiteSpace(per))
            return (
                new WatchPlan(test, 1, Units.Short(test.Probe.Dimension))
                {
                    Allowed = AllowedBy(view.Circuit, test.Probe),
                    Shunts = ShuntsOf(view.Circuit, test.Probe),
                },
                null
            );
        return
            double.TryParse(per.Trim().Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var millivolts)
            && millivolts > 0
            && double.IsFinite(millivolts)
            ? test.Probe is Probe.Clamp
                ? (new WatchPlan(test, 1000 / millivolts, "V") { Allowed = AllowedBy(view.Circuit, test.Probe) }, null)
                : (null, "Only a clamp gives volts for amps. Leave the factor empty.")
            : (null, $"“{per}” is no factor: write 100 for a clamp of 100 mV an ampere.");
    }

    /// <summary>
    /// What was seen as reading lines: what it came to in the end, and after each thing that was done. Minutes since something last woke
    /// stand with it where a module of the sheet sleeps.
    /// </summary>
    public IEnumerable<string> Lines(Circuit circuit, IReadOnlyList<Zoltric.Instruments.Watching.WatchStretch> stretches)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(stretches);
        var awake = 0.0;
        var sleeps = circuit.Parts.Any(p => p.ModuleLines.OfType<ModuleLine.Sleeps>().Any());
        var done = Test.Setup;
        foreach (var s in stretches)
        {
            if (s.Mark is { Wakes: true })
                (awake, done) = (s.From, s.Mark.PutsBack ? Test.Setup : done);
            // A fuse stays out when the next one goes: put back it would wake what sleeps.
            if (s.Mark is { Wakes: false, Setup: { Length: > 0 } words })
                done = With(circuit, done, words) ?? done;
            if (double.IsNaN(s.Level) || s.Mark is { Setup.Length: 0, Wakes: false, On: null })
                continue;
            var minutes = Math.Floor((s.From + s.Length - awake) / 60);
            var at = sleeps && IsDraw && minutes >= 1 ? done with { AfterSeconds = minutes * 60 } : done;
            var jumped = !IsDraw && ReadingResult.IsJump(s.Least, s.Most, Test.Probe.Dimension, circuit.NominalVolts);
            var result =
                jumped ? $"{Figure(s.Least)}..{(double.IsInfinity(s.Most) ? "OL" : Figure(s.Most) + Unit)}"
                : double.IsInfinity(s.Level) ? "OL"
                : Figure(s.Level) + Unit;
            if (ReadingReader.Read(circuit, $"{at} : {s.Mark?.On ?? On} = {result}").Value is { } line)
                yield return line.ToString();
        }
    }

    /// <summary>How the machine stands with this done to it as well; null where the words are none of a setup.</summary>
    public Setup? With(Circuit circuit, Setup stood, string words)
    {
        ArgumentNullException.ThrowIfNull(stood);
        if (words.StartsWith("move ", StringComparison.Ordinal))
            stood = Test.Setup;
        var both = stood.IsRest ? words : $"{stood}, {words}";
        return ReadingReader.Read(circuit, $"{both} : {On} = 0{Unit}").Value?.Test.Setup;
    }

    private static string Figure(double v) => Math.Round(v, 5).ToString("0.#####", CultureInfo.InvariantCulture);
}
