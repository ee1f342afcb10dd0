using Zoltric.Core.Circuits;
using Zoltric.Core.Routes;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Faults;

/// <summary>
/// Strings whose joints have all aged a little: one suspect per lane of a function, every pin, contact, fuse holder and stud on it with the
/// same added resistance. No joint is bad by itself; together they starve the load.
/// </summary>
public static class AgedStrings
{
    /// <summary>Fewer joints than this are looked at one by one.</summary>
    private const int FewestJoints = 4;

    /// <summary>
    /// A joint that carries this many times the string's current elsewhere is built for it: what starves a coil would burn there; estimate.
    /// </summary>
    private const double BuiltForMore = 10;

    /// <summary>
    /// Volts that one worn joint of several takes at most: above the melting volts of its metal (copper 0.43 V, R. Holm, Electric Contacts,
    /// from memory) the spots that touch grow again, and a film breaks down; twice that, as an estimate. A single joint may be worse.
    /// </summary>
    private const double MostVolts = 1;

    /// <summary>
    /// A joint that gives off more than this for long burns open or is smelt; one that carries its current for seconds, as at a starter,
    /// may;
    /// estimate.
    /// </summary>
    private const double MostWatts = 60;

    private const double Odds = 1.5;
    private const double LeastShare = 0.05,
        Decades = 2.5,
        StepsPerDecade = 4;

    public static IEnumerable<Suspect> Suspects(Machine machine) =>
        Suspects(machine ?? throw new ArgumentNullException(nameof(machine)), new FaultCatalogue.WorkingCurrents(machine));

    internal static IEnumerable<Suspect> Suspects(Machine machine, FaultCatalogue.WorkingCurrents amps)
    {
        var circuit = machine.Circuit;
        var seen = new HashSet<string>();
        foreach (var lane in circuit.Functions.SelectMany(f => LaneFinder.Find(machine, f)))
        {
            var joints = Joints(circuit, lane).Distinct().Where(j => amps.At(j) <= BuiltForMore * lane.Amps).ToList();
            if (joints.Count < FewestJoints || !seen.Add(string.Join(' ', joints)))
                continue;
            var working = Math.Max(lane.Amps, 0.01);
            var least = LeastShare * circuit.NominalVolts / working / joints.Count;
            var steps = (int)(Decades * StepsPerDecade);
            var brief = circuit.FindPart(lane.Part)?.Model.Load is { ByVolts: true };
            // Half of the joints carry at least that when all that shares them is at work.
            var most = Math.Max(working, joints.Select(amps.At).Order().ElementAt(joints.Count / 2));
            double Amps(double ohms) => working / (1 + joints.Count * ohms * working / circuit.NominalVolts);
            double[] values =
            [
                .. Enumerable
                    .Range(0, steps + 1)
                    .Select(i => least * Math.Pow(10, i / StepsPerDecade))
                    .TakeWhile(ohms =>
                        ohms * most / working * Amps(ohms) <= MostVolts && (brief || ohms * Math.Pow(Amps(ohms), 2) <= MostWatts)
                    ),
            ];
            if (values.Length < 2)
                continue;
            yield return new Suspect(joints[0], values, true, Odds * values.Length / (steps + 1), $"joints towards {lane.Part}")
            {
                Together = joints.Skip(1).ToList(),
                String = lane.Part,
            };
        }
    }

    private static IEnumerable<Fault> Joints(Circuit circuit, Lane lane)
    {
        foreach (var station in lane.Stations)
        {
            if (station.Terminal.Name.Length == 0 && circuit.FindPart(station.Terminal.Tag) is { Model.IsPoint: true } stud)
                yield return new Fault(stud.Tag, "resists", null, Dimension.Ohm);
            if (station.Via is not { Tag: { } tag, IsLoad: false } via || circuit.FindPart(tag) is not { } part)
                continue;
            var link = part.Model.LinkIndex(via.Link ?? "");
            if (part.Kind is Circuits.Kinds.PinRow)
                yield return new Fault($"{tag}:{via.Link}", "resists", null, Dimension.Ohm);
            else if (part.Model.Faults.FirstOrDefault(m => m.Effect is FaultEffect.Series s && s.Links.Contains(link)) is { } worn)
                yield return new Fault(tag, worn.Words, null, Dimension.Ohm);
        }
    }
}
