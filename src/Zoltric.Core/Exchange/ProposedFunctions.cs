using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Exchange;

/// <summary>
/// Functions for a sheet that has none: one for each load that works with every control worked, with the fewest of them that it needs.
/// </summary>
public static class ProposedFunctions
{
    /// <summary>More runs of the machine than this are not spent on one sheet.</summary>
    private const int MostRuns = 4000;

    /// <summary>Lines to add to the sheet, and loads that nothing reaches with the reason; neither where the sheet does not read.</summary>
    public static (IReadOnlyList<string> Lines, IReadOnlyList<string> Unreached) Of(string sheet)
    {
        if (SheetReader.Read(sheet).Value is not { } circuit || circuit.Functions.Count > 0)
            return ([], []);
        if (!circuit.Sources.Any())
            return ([], ["There is no battery or supply in the list: nothing can be fed."]);
        var machine = new Machine(circuit);
        // What nobody works rests as it should be.
        var own = circuit
            .Controls.Where(c => !c.Given && c.Positions.Count > 1)
            .Select(c => new ControlMove(c.Name, c.Positions[c.Rest == 0 ? 1 : 0]))
            .ToList();
        var (lines, unreached, runs) = (new List<string>(), new List<string>(), 0);
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var part in circuit.Parts.Where(p => p.Model.Load is not null && p.Kind is not Resistor))
        {
            var index = circuit.IndexOf(part.Tag);
            bool Works(IReadOnlyList<ControlMove> moves)
            {
                runs++;
                return LoadState.Judge(machine.Run(moves.Count == 0 ? Setup.Rest : new Setup([], [moves])), index) == Answer.Works;
            }

            if (runs > MostRuns)
                break;
            var needed = own;
            if (!Works(needed))
            {
                unreached.Add($"{part.Spoken}: no full volts reach it with every switch on.");
                continue;
            }
            foreach (var move in own)
            {
                var less = needed.Where(m => m != move).ToList();
                if (runs <= MostRuns && Works(less))
                    needed = less;
            }
            var name = $"{part.Label ?? part.Tag} {Verb(part.Kind)}";
            if (!names.Add(name))
                names.Add(name = $"{part.Label ?? part.Tag} {part.Tag} {Verb(part.Kind)}");
            var when = needed.Count == 0 ? "" : " when " + string.Join(" and ", needed.Select(m => $"{m.Control}={m.Position}"));
            lines.Add($"function \"{name}\": {part.Tag}{when}");
        }
        return (lines, unreached);
    }

    private static string Verb(PartKind kind) =>
        kind switch
        {
            Lamp => "lights",
            Heater or Heater3 => "heats",
            Horn => "sounds",
            Motor or Motor1 or Motor3 => "turns",
            Starter => "cranks",
            Coil => "pulls",
            _ => "works",
        };
}
