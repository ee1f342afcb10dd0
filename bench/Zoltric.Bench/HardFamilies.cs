using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Faults;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests;

namespace Zoltric.Bench;

/// <summary>
/// Machines with more than one plain fault: two at once, a whole string aged, parts that the sheet does not have, a joint that comes and
/// goes.
/// </summary>
internal static class HardFamilies
{
    public static IEnumerable<FollowedJob> Run(
        FaultSpace space,
        string sheet,
        string family,
        Strategy strategy,
        double slips,
        double drift,
        int count
    )
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
                    "off" => Retrofitted(space, sheet, random),
                    "before" => AddedBefore(space, sheet, random),
                    "intermittent" => Intermittent(space, random),
                    _ => throw new ArgumentException($"There is no family {family}: two, blown, aged, off, before, intermittent."),
                };
                if (hidden is not null)
                    jobs[i] = FollowedJob.Run(space, hidden, random, strategy, slips, drift);
            }
        });
        return jobs.OfType<FollowedJob>();
    }

    private static int Any(FaultSpace space, Random random, Func<Core.Faults.Suspect, bool> which)
    {
        var fit = Enumerable
            .Range(0, space.Suspects.Count)
            .Where(s => space.Suspects[s].Together.Count == 0 && which(space.Suspects[s]))
            .ToList();
        return fit.Count == 0 ? -1 : fit[random.Next(fit.Count)];
    }

    /// <summary>Right when nothing sound is named and at least one of the two is: the job then goes on with the other.</summary>
    private static HiddenMachine? Two(FaultSpace space, Random random)
    {
        var (a, b) = (Any(space, random, _ => true), Any(space, random, _ => true));
        if (space.Suspects[a].RepairUnit == space.Suspects[b].RepairUnit)
            return null;
        Fault[] faults = [HiddenMachine.Draw(space.Suspects[a], random), HiddenMachine.Draw(space.Suspects[b], random)];
        var sites = new HashSet<RepairSite> { space.Sites[a], space.Sites[b] };
        return new HiddenMachine($"{faults[0]} + {faults[1]}", space.Machine, faults, f => f.Suspects[0].Site.Each.All(sites.Contains));
    }

    /// <summary>A fuse that something has blown: the cause must be named, not the fuse alone.</summary>
    private static HiddenMachine? Blown(FaultSpace space, Random random)
    {
        var cause = Any(space, random, s => s.Template.Kind is FaultKind.Grounded or FaultKind.Shorted);
        if (cause < 0)
            return null;
        var fault = HiddenMachine.Draw(space.Suspects[cause], random);
        var function = space.Circuit.Functions[random.Next(space.Circuit.Functions.Count)];
        if (
            FunctionSetups.SetupFor(space.Circuit, function) is not { } setup
            || space.Machine.Run(setup, [fault]).Blown is not [var blown, ..]
        )
            return null;
        if (space.Circuit.FindPart(blown.Tag)!.Kind is not Core.Circuits.Kinds.Fuse)
            return null;
        var site = space.Sites[cause];
        return new HiddenMachine($"{fault} + {blown.Tag} blown", space.Machine, [fault, new Fault(blown.Tag, "blown")], f =>
            f.Suspects[0].Site == site
        );
    }

    private static HiddenMachine? Aged(FaultSpace space, Random random)
    {
        var strings = Enumerable.Range(0, space.Suspects.Count).Where(s => space.Suspects[s].Together.Count > 0).ToList();
        if (strings.Count == 0)
            return null;
        var s = strings[random.Next(strings.Count)];
        var suspect = space.Suspects[s];
        var ohms = suspect.Values[0] * Math.Pow(suspect.Values[^1] / suspect.Values[0], random.NextDouble());
        // Each joint by itself: half as much again more or less.
        double Each() =>
            ohms * Math.Exp(0.5 * Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble()));
        var faults = suspect.Together.Prepend(suspect.Template).Select(t => t with { Value = Each() }).ToList();
        // Strings share their beginning: right is an aged string that has at least half the joints in common.
        var joints = faults.Select(x => x.Target).ToHashSet();
        return new HiddenMachine($"joints towards {suspect.String}, about {ohms:0.00} ohm each", space.Machine, faults, f =>
            f.Suspects[0] is { Together.Count: > 0 } g
            && 2 * g.Together.Append(g.Faults[0]).Count(x => joints.Contains(x.Target)) >= joints.Count
        );
    }

    /// <summary>
    /// A part that the sheet does not have sits in a wire, failed, and a lamp that it does not have either hangs on the far side. Right is
    /// the wire it sits in, where it would be found, or "not as drawn".
    /// </summary>
    private static HiddenMachine? Retrofitted(FaultSpace space, string sheet, Random random)
    {
        var c = space.Circuit;
        var wire = c.Wires[random.Next(c.Wires.Count)];
        if (FoundPart.Insert(sheet, wire.Id, "part Z91 fuse 10A").Value is not { } text)
            return null;
        var far = wire.To == c.ReferencePoint ? wire.From : wire.To;
        text += string.Create(
            CultureInfo.InvariantCulture,
            $"\npart Z92 lamp {c.NominalVolts}V {(random.Next(2) == 0 ? 5 : 21)}W\npath {far} = Z92 = {c.ReferencePoint}\n"
        );
        if (SheetReader.Read(text).Value is not { } changed)
            return null;
        var fault =
            random.Next(2) == 0
                ? new Fault("Z91", "blown")
                : new Fault("Z91", "resists", 2 * Math.Pow(500, random.NextDouble()), Dimension.Ohm);
        return new HiddenMachine($"{fault} in {wire.Id}, and an added lamp", new Machine(changed), [fault], f =>
            f.OffSheet > 0.5 || f.Suspects[0].Unit == wire.Id
        )
        {
            ToTheProof = true,
        };
    }

    /// <summary>
    /// A part that the sheet does not have sits before two or more wires that leave one terminal, failed open: no drawn part could stop
    /// them together. Right is "not as drawn", or with the proof done what meets there, where it would be seen.
    /// </summary>
    private static HiddenMachine? AddedBefore(FaultSpace space, string sheet, Random random)
    {
        var c = space.Circuit;
        var at = c.Wires.SelectMany(w => new[] { w.From, w.To }).GroupBy(t => t).Where(g => g.Count() > 2).Select(g => g.Key).ToList();
        if (at.Count == 0)
            return null;
        var terminal = at[random.Next(at.Count)];
        var moved = c.Wires.Where(w => w.From == terminal || w.To == terminal).OrderBy(_ => random.Next()).ToList();
        moved = moved.Take(2 + random.Next(moved.Count - 2)).ToList();
        if (SheetReader.Read(sheet + $"\npart Z91 fuse 10A\npart Z92 splice\npath {terminal} = Z91 = Z92\n").Value is not { } with)
            return null;
        var splice = new Terminal("Z92", "");
        var changed = with with
        {
            Wires =
            [
                .. with.Wires.Select(w =>
                    moved.Exists(m => m.Id == w.Id)
                        ? w with
                        {
                            From = w.From == terminal ? splice : w.From,
                            To = w.To == terminal ? splice : w.To,
                        }
                        : w
                ),
            ],
        };
        // Where a single wire is left, the part might as well sit in that one.
        var others = c.Wires.Where(w => (w.From == terminal || w.To == terminal) && !moved.Contains(w)).ToList();
        var names = moved.Select(m => m.Id).ToHashSet();
        return new HiddenMachine(
            $"Z91 blown between {terminal} and {string.Join(", ", names)}",
            new Machine(changed),
            [new Fault("Z91", "blown")],
            f =>
                f.OffSheet > 0.5
                || names.Contains(f.Suspects[0].Unit)
                || f.Suspects[0].Unit == terminal.Tag
                || others is [var only] && f.Suspects[0].Unit == only.Id
        )
        {
            ToTheProof = true,
        };
    }

    private static HiddenMachine? Intermittent(FaultSpace space, Random random)
    {
        var s = Any(space, random, x =>
            x.Template.Kind == FaultKind.Open
            && (space.Circuit.FindWire(x.Template.Target) is not null || x.Template.Target.Contains(':', StringComparison.Ordinal))
        );
        var target = space.Suspects[s].Template;
        return new HiddenMachine($"{target.Target} comes and goes", space.Machine, [target], f =>
            f.Suspects[0].Faults[0].Target == target.Target
        )
        {
            ComesAndGoes = true,
            ToTheProof = true,
        };
    }
}
