using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests;

namespace Zoltric.Bench;

/// <summary>Machines with more than one plain fault: two at once, a whole string aged, wired otherwise than drawn, a joint that comes and goes.</summary>
internal static class HardFamilies
{
    public static IEnumerable<FollowedJob> Run(FaultSpace space, string family, Strategy strategy, double slips, int count)
    {
        var jobs = new FollowedJob?[count];
        Parallel.For(0, count, i =>
        {
            // Draw until something shows.
            for (var attempt = 0; attempt < 30 && jobs[i] is null; attempt++)
            {
                var random = new Random(5000 + i * 100 + attempt);
                var hidden = family switch
                {
                    "two" => Two(space, random),
                    "blown" => Blown(space, random),
                    "aged" => Aged(space, random),
                    "off" => Rewired(space, random),
                    "intermittent" => Intermittent(space, random),
                    _ => throw new ArgumentException($"There is no family {family}: two, blown, aged, off, intermittent."),
                };
                if (hidden is not null) jobs[i] = FollowedJob.Run(space, hidden, random, strategy, slips);
            }
        });
        return jobs.OfType<FollowedJob>();
    }

    private static int Any(FaultSpace space, Random random, Func<Core.Faults.Suspect, bool> which)
    {
        var fit = Enumerable.Range(0, space.Suspects.Count).Where(s => space.Suspects[s].Together.Count == 0 && which(space.Suspects[s])).ToList();
        return fit.Count == 0 ? -1 : fit[random.Next(fit.Count)];
    }

    /// <summary>Right when nothing sound is named and at least one of the two is: the job then goes on with the other.</summary>
    private static HiddenMachine? Two(FaultSpace space, Random random)
    {
        var (a, b) = (Any(space, random, _ => true), Any(space, random, _ => true));
        if (space.Suspects[a].RepairUnit == space.Suspects[b].RepairUnit) return null;
        Fault[] faults = [HiddenMachine.Draw(space.Suspects[a], random), HiddenMachine.Draw(space.Suspects[b], random)];
        var sites = new HashSet<string> { space.Sites[a], space.Sites[b] };
        return new HiddenMachine($"{faults[0]} + {faults[1]}", space.Machine, faults, f => f.Suspects[0].Site.Split(" + ").All(sites.Contains));
    }

    /// <summary>A fuse that something has blown: the cause must be named, not the fuse alone.</summary>
    private static HiddenMachine? Blown(FaultSpace space, Random random)
    {
        var cause = Any(space, random, s => s.Template.Words is "grounded" or "shorted");
        if (cause < 0) return null;
        var fault = HiddenMachine.Draw(space.Suspects[cause], random);
        var function = space.Circuit.Functions[random.Next(space.Circuit.Functions.Count)];
        if (Core.Metering.FunctionState.SetupFor(space.Circuit, function) is not { } setup || space.Machine.Run(setup, [fault]).Blown is not [var blown, ..]) return null;
        if (space.Circuit.FindPart(blown.Tag)!.Kind is not Core.Circuits.Kinds.Fuse) return null;
        var site = space.Sites[cause];
        return new HiddenMachine($"{fault} + {blown.Tag} blown", space.Machine, [fault, new Fault(blown.Tag, "blown")], f => f.Suspects[0].Site == site);
    }

    private static HiddenMachine? Aged(FaultSpace space, Random random)
    {
        var strings = Enumerable.Range(0, space.Suspects.Count).Where(s => space.Suspects[s].Together.Count > 0).ToList();
        if (strings.Count == 0) return null;
        var s = strings[random.Next(strings.Count)];
        var suspect = space.Suspects[s];
        var ohms = suspect.Values[0] * Math.Pow(suspect.Values[^1] / suspect.Values[0], random.NextDouble());
        // Each joint by itself: half as much again more or less.
        double Each() => ohms * Math.Exp(0.5 * Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble()));
        var faults = suspect.Together.Prepend(suspect.Template).Select(t => t with { Value = Each() }).ToList();
        var site = space.Sites[s];
        return new HiddenMachine($"joints towards {suspect.String}, about {ohms:0.00} ohm each", space.Machine, faults, f => f.Suspects[0].Site == site);
    }

    /// <summary>Two wires that come to each other's places.</summary>
    private static HiddenMachine? Rewired(FaultSpace space, Random random)
    {
        var c = space.Circuit;
        var (a, b) = (random.Next(c.Wires.Count), random.Next(c.Wires.Count));
        if (a == b || c.Wires[a].To == c.Wires[b].To || c.Wires[a].From == c.Wires[b].From) return null;
        var wires = c.Wires.ToList();
        (wires[a], wires[b]) = (wires[a] with { To = wires[b].To }, wires[b] with { To = wires[a].To });
        var changed = c with { Wires = wires, Paths = [] };
        var machine = new Machine(changed);
        // What burns its own fuses at rest would have been noticed.
        if (machine.Run(Setup.Rest).Blown.Count > 0) return null;
        return new HiddenMachine($"{wires[a].Id} and {wires[b].Id} at each other's ends", machine, [], f => f.OffSheet > 0.5);
    }

    private static HiddenMachine? Intermittent(FaultSpace space, Random random)
    {
        var s = Any(space, random, x => x.Template.Words == "open" && (space.Circuit.FindWire(x.Template.Target) is not null || x.Template.Target.Contains(':', StringComparison.Ordinal)));
        var target = space.Suspects[s].Template;
        return new HiddenMachine($"{target.Target} comes and goes", space.Machine, [target], f => f.Suspects[0].Faults[0].Target == target.Target) { ComesAndGoes = true };
    }
}
