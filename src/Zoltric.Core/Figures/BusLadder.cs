using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>Something of a bus that is taken off: one part, or a module with the end inside it.</summary>
/// <param name="Tags">All that comes off with it.</param>
internal sealed record BusStep(string Name, IReadOnlyList<string> Tags);

/// <summary>
/// What the ohms across a two-wire bus become as ends, modules and plugs are taken off one at a time, in each state that it may be in.
/// </summary>
internal static class BusLadder
{
    /// <summary>Readings that differ by less than this share say the same.</summary>
    private const double SameWithin = 0.15;

    /// <summary>Most things that are listed: the rest is reached by halving.</summary>
    private const int MostSteps = 16;

    private const string TellsNothing = "Tells nothing that was not known.";

    /// <param name="at">The two points read, as a reading line has them.</param>
    /// <param name="states">Name of each state and what is wrong in it; the sound one first.</param>
    public static FigureTable Of(
        Machine machine,
        string at,
        string place,
        IReadOnlyList<BusStep> steps,
        IReadOnlyList<(string Name, string[] Faults)> states
    )
    {
        var whole = Shown([]);
        List<FigureRow> rows = [new("nothing off", [.. whole.Select(s => s.Text)], "Start here.") { Sound = true }];
        var off = steps
            .Take(MostSteps)
            .Select(step => (step.Name, Shown: Shown([.. step.Tags.Select(t => $"unplug {t}")])))
            .Select(x => new FigureRow($"{x.Name} off", [.. x.Shown.Select(s => s.Text)], Follows(x.Shown, whole)))
            .ToList();
        // What tells something comes first, by reach; the least is taken apart so.
        rows.AddRange(off.OrderBy(r => r.Follows == TellsNothing ? 1 : 0));
        return new FigureTable($"Ohms at {place}, one thing off at a time", "Taken off", [.. states.Select(s => s.Name)], rows)
        {
            Says =
                "Supply off. Easiest to reach first, each put back before the next; stop at the first that leaves one column only. "
                + "Then read into the loom at the plug of what you took off, towards where you read before: the same figures hold there.",
        };

        List<(string Text, double Ohms)> Shown(IReadOnlyList<string> off) =>
            [
                .. states
                    .Select(s => FigureCircuit.Read(machine, $"{FigureCircuit.Dead(machine.Circuit, [.. off])} : ohm {at}", s.Faults))
                    .Select(r => (r.Text, FigureCircuit.Ohms(r))),
            ];

        string Follows(List<(string Text, double Ohms)> shown, List<(string Text, double Ohms)> before)
        {
            // Of the states that read alike before, those that this step tells apart.
            var parted = states
                .Select((s, i) => (s.Name, Before: before[i].Ohms, Now: shown[i].Ohms))
                .Where(x => states.Select((_, k) => k).Any(k => Same(before[k].Ohms, x.Before) && !Same(shown[k].Ohms, x.Now)))
                .ToList();
            if (parted.Count == 0)
                return TellsNothing;
            string Named(bool same) => string.Join(" or ", parted.Where(x => Same(x.Before, x.Now) == same).Select(x => x.Name));
            return string.Join(
                ' ',
                new[] { ("No change", Named(true)), ("A change", Named(false)) }
                    .Where(x => x.Item2.Length > 0)
                    .Select(x => $"{x.Item1}: {x.Item2}.")
            );
        }
    }

    private static bool Same(double a, double b) => a == b || Math.Abs(a - b) <= SameWithin * Math.Max(Math.Abs(a), Math.Abs(b));

    /// <summary>The bus that a part is on: its two lines, where it is best read, and what can be taken off it; null for none.</summary>
    public static FigureTable? OnMachine(Machine machine, Part part)
    {
        var circuit = machine.Circuit;
        if (LinesOf(part) is not { } lines)
            return null;
        var nets = Nets.Of(circuit);
        var (high, low) = (nets.NetOf(new Terminal(part.Tag, lines.High)), nets.NetOf(new Terminal(part.Tag, lines.Low)));
        if (high < 0 || low < 0 || high == low)
            return null;
        var (onHigh, onLow) = (nets.OnNet(high).ToList(), nets.OnNet(low).ToList());
        var on = circuit.Parts.Where(p => onHigh.Any(t => t.Tag == p.Tag) && onLow.Any(t => t.Tag == p.Tag)).ToList();
        // A plug whose pins lead nowhere else is there to be read at.
        var socket = on.Where(p => p.Kind is PinRow)
            .OrderBy(p => circuit.Wires.Count(w => On(w, p)))
            .ThenBy(p => p.ReachMinutes)
            .FirstOrDefault();
        var read = socket ?? part;
        var (h, l) = (First(onHigh), First(onLow));
        var ends = on.Where(p => p.Kind is Terminator).ToList();
        var steps = on.Where(p => p != read && p.Kind.Unplugs && p.Kind is not PinRow { ComesApart: false })
            .OrderBy(p => p.ReachMinutes)
            .Select(p => new BusStep(p.Spoken, [p.Tag]))
            .ToList();
        List<(string, string[])> states =
        [
            ("sound", []),
            .. ends.Select(e => ($"{e.Tag} lost", new[] { $"{e.Tag} open" })),
            ("lines touch", [$"{Joining(h)} shorts {l} 0.5ohm"]),
        ];
        return Of(machine, $"{h} {l}", $"{read.Spoken}, {h.Name} to {l.Name}", steps, states);

        bool On(Wire w, Part p) => (w.From.Tag == p.Tag || w.To.Tag == p.Tag) && nets.NetOf(w.From) is var n && (n == high || n == low);

        Terminal First(IEnumerable<Terminal> line) => line.Where(t => t.Tag == read.Tag).MinBy(t => t.Name, StringComparer.Ordinal);

        string Joining(Terminal t) => circuit.Wires.First(w => nets.NetOf(w.From) == high && (w.From == t || w.To == t)).Id;
    }

    /// <summary>The two lines of a module or an end.</summary>
    public static (string High, string Low)? LinesOf(Part part) =>
        part.Model.Bus is { } bus ? (part.Model.Links[bus.High].A, part.Model.Links[bus.Low].A)
        : part.Kind is Terminator ? ("H", "L")
        : null;
}
