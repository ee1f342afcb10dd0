using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Notation;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>
/// A relay near the starter, drawn into its sheet: the string that worked the solenoid works the relay's coil, and a fused lead from the
/// starter's own plus post feeds the solenoid through its contact. Refused where a safety part is in the string.
/// </summary>
internal static partial class NearRelay
{
    private const string Does = "a relay near the starter, worked by the string";

    /// <summary>Ohms of a small relay's coil by its volts; common practice, no source.</summary>
    private const double CoilOhmsAt12 = 85;

    public static FigureDraft? Draw(Circuit circuit, Part starter, string sheet)
    {
        var solenoid = new Terminal(starter.Tag, "S");
        if (starter.Kind is not Starter || !circuit.Sources.Any(s => s.Kind is Battery))
            return null;
        if (GuardOf(circuit, starter) is { } safety)
            return new FigureDraft(
                Does,
                null,
                $"{safety.Spoken} is a safety part of this string: its contact has to carry what it stops. Renew the joints instead."
            );
        var wires = circuit.Wires.Where(w => w.Numbered && (w.From == solenoid || w.To == solenoid)).ToList();
        if (wires.Count != 1 || Cut(sheet, wires[0].Id, starter.Tag) is not { } cut)
            return new FigureDraft(Does, null, $"The wire to {solenoid} is not numbered once on the sheet: draw it by hand.");
        var (relay, fuse, volts) = (Free(circuit, "K"), Free(circuit, "F"), circuit.NominalVolts);
        var id = FreeWires(circuit);
        var ohms = CoilOhmsAt12 * (volts / 12) * (volts / 12);
        var text = cut.Replace(Coil, relay, StringComparison.Ordinal)
            .Replace(HomeWire, id[3], StringComparison.Ordinal)
            .Insert(
                FirstPath().Match(cut).Index,
                $"""
                part {relay} relay {volts:0.##}V {ohms:0}ohm "relay near the starter" at "{starter.PlaceOrTag}"
                part {fuse} fuse 30A blade "its fuse" at "{starter.PlaceOrTag}"


                """.ReplaceLineEndings("\n")
            );
        text = InsertAfterPaths(
            text,
            $"path {starter.Tag}.B -[{id[0]} RD 4mm2 0.3m]- {fuse} -[{id[1]} RD 4mm2 0.3m]- {relay}.30>87 -[{id[2]} RD 4mm2 0.3m]- "
                + $"{solenoid}\n"
        );
        if (SheetReader.Read(text).Value is not { } with)
            return new FigureDraft(Does, null, "The changed sheet does not read: draw it by hand.");
        return new FigureDraft(Does, text, Says(new Machine(circuit), new Machine(with), starter, relay));
    }

    /// <summary>A safety part that stands in the string which works the solenoid; null for none.</summary>
    public static Part? GuardOf(Circuit circuit, Part starter) =>
        circuit.Sources.FirstOrDefault(s => s.Kind is Battery) is { } feed
            ? new Bypass(circuit)
                .Between(new Terminal(feed.Tag, "+"), new Terminal(starter.Tag, "S"))
                .FirstOrDefault(p => SafetyParts.IsSafety(circuit, p))
            : null;

    /// <summary>Volts of the solenoid before and after, and what stops it in each case, also with the new contact welded.</summary>
    private static string Says(Machine before, Machine after, Part starter, string relay)
    {
        var function = before.Circuit.Functions.FirstOrDefault(f => f.Test is FunctionTest.LoadWorks l && l.Tag == starter.Tag);
        if (function is null || FunctionSetups.SetupFor(before.Circuit, function) is not { } cranks)
            return "";
        var volts = (Machine m) => FigureCircuit.Read(m, $"{cranks} : V {starter.Tag}.S {starter.Tag}.G").Text;
        var says = $"The solenoid then has {volts(after)}; by the sheet it has {volts(before)} now.";
        var locks = before.Circuit.Interlocks.Where(i => i.Stops == function.Name).Select(i => i.When).ToList();
        if (locks.Count == 0)
            return says;
        var (holding, welded) = (0, 0);
        foreach (var when in locks)
        {
            var asked = Against(cranks, when);
            holding += Cranks(asked) ? 0 : 1;
            welded += Cranks(asked, $"{relay} welded 30-87") ? 1 : 0;
        }
        return $"{says} Still stopped by {holding} of {locks.Count} interlocks ({string.Join(", ", locks)})."
            + (welded > 0 ? $" With its new contact welded {welded} of them no longer stop it: try each after the repair." : "");

        bool Cranks(string setup, params string[] faults) =>
            FigureCircuit.Read(after, $"{setup} : V {starter.Tag}.S {starter.Tag}.G", faults).Value >= starter.Model.Coil!.PullInVolts;
    }

    /// <summary>What is done to crank, with what the interlock watches set against it first.</summary>
    private static string Against(Setup cranks, Condition when)
    {
        var watched = when.Leaves().OfType<Condition.Position>().ToList();
        return string.Join(
            ", ",
            watched
                .Select(w => $"{w.Control}={w.At}")
                .Concat(cranks.Steps.SelectMany(s => s).Where(c => watched.All(w => w.Control != c.Control)).Select(c => $"{c}"))
        );
    }

    /// <summary>Stand for the new relay's tag and its way home until they are chosen.</summary>
    private const string Coil = "NEWRELAY",
        HomeWire = "NEWWIRE";

    /// <summary>The sheet with the wire to S going to the new coil; null where the wire is not found once beside S.</summary>
    private static string? Cut(string sheet, string wire, string starter)
    {
        var join = $@"-\[\s*{Regex.Escape(wire)}\b[^\]]*\]-";
        var ahead = Regex.Matches(sheet, $@"({join})\s*{Regex.Escape(starter)}\.S\b(?!\w)");
        var back = Regex.Matches(sheet, $@"\b{Regex.Escape(starter)}\.S\s*({join})");
        if (ahead.Count + back.Count != 1)
            return null;
        var m = ahead.Count == 1 ? ahead[0] : back[0];
        var with =
            ahead.Count == 1
                ? $"{m.Groups[1].Value} {Coil}.86>85 -[{HomeWire} BK 1mm2 0.3m]- {starter}.G"
                : $"{starter}.G -[{HomeWire} BK 1mm2 0.3m]- {Coil}.85>86 {m.Groups[1].Value}";
        return sheet[..m.Index] + with + sheet[(m.Index + m.Length)..];
    }

    private static string InsertAfterPaths(string sheet, string line)
    {
        var last = AnyPath().Matches(sheet)[^1];
        var end = sheet.IndexOf('\n', last.Index);
        return end < 0 ? sheet + "\n" + line : sheet.Insert(end + 1, line);
    }

    /// <summary>Four wire numbers that the sheet does not use.</summary>
    private static string[] FreeWires(Circuit circuit) =>
        [.. Enumerable.Range(1, 9999).Select(n => $"w{n}").Where(w => circuit.FindWire(w) is null).Take(4)];

    private static string Free(Circuit circuit, string letter) =>
        Enumerable.Range(1, 999).Select(n => $"{letter}{n}").First(t => circuit.FindPart(t) is null);

    [GeneratedRegex(@"^path\s", RegexOptions.Multiline)]
    private static partial Regex FirstPath();

    [GeneratedRegex(@"^path\s.*$", RegexOptions.Multiline)]
    private static partial Regex AnyPath();
}
