using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Faults;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// Suspects beyond single faults, opened when the readings call for them: a blown fuse with what may have blown it, pairs, and joints that
/// come and go.
/// </summary>
internal static class OpenedFaults
{
    /// <summary>Share from which a fuse is suspected enough to ask what blew it.</summary>
    private const double FuseSuspected = 0.01;

    /// <summary>
    /// Single faults stop explaining when "not on the sheet" holds this much, or the best takes this many readings for slips.
    /// </summary>
    private const double Unexplained = 0.08;
    private const int MostSlips = 1;

    /// <summary>How often a machine with one fault has a second, unconnected one; estimate.</summary>
    private const double SecondFault = 0.15;

    /// <summary>How often the technician finds the fuse blown already when something behind it is shorted; estimate.</summary>
    private const double BlownAlready = 0.7;

    /// <summary>
    /// The same for what draws little more than the fuse opens at while a control is held: a blade fuse stands 1.6 times its rating for up
    /// to 50 s (ISO 8820-3, from memory), a key is held for a few; estimate.
    /// </summary>
    private const double BlownMeanwhile = 0.4;

    /// <summary>
    /// Odds that a joint or contact comes and goes, against its being open for good, and the same for a winding; estimates.
    /// </summary>
    private const double ComesAndGoes = 0.4,
        ElectronicsComeAndGo = 0.2,
        WindingComesAndGoes = 0.05;

    /// <summary>Odds of a fuse that comes and goes in its clips: one that has blown stays so; estimate.</summary>
    private const double FuseComesAndGoes = 1;

    /// <summary>Factor on these odds while no test was read two ways, nothing was moved and nothing flickered; estimate.</summary>
    private const double Unseen = 0.4;

    private const int MostFirsts = 150,
        MostPairs = 48,
        MostPairsInVain = 160;

    public static IReadOnlyList<Suspect> Find(FaultSpace space, Belief belief, Weights weights)
    {
        var more = new List<Suspect>(BlownWithCause(space, belief, weights));
        var unexplained = weights.OffSheet > Unexplained && belief.Counted.Count() > 2 || belief.Contradictions(weights) > MostSlips;
        var inVain = belief.MendedInVain(weights);
        var repeats = Repeats(belief);
        var seen =
            repeats
            || CircumstanceWords.ComeAndGo(belief.Circumstances)
            || belief.Evidence.Any(e => e.Reading.Test.Setup.Moved.Count > 0 || e.Reading.Result is { ComesAndGoes: true });
        if (seen)
            more.AddRange(Touching(space, [.. more]));
        if (unexplained || belief.Counted.Any(e => e.Reading.Result is ReadingResult.Word { Answer: Answer.Hums }))
            more.AddRange(Holding(space, belief, weights));
        if (unexplained || seen)
            more.AddRange(Intermittent(space, seen ? 1 : Unseen));
        if (LargestLeak(space, belief) is { } largest)
            more.AddRange(Leaks(space, largest));
        if (unexplained || inVain)
            more.AddRange(Pairs(space, belief, inVain ? MostPairsInVain : MostPairs));
        if (unexplained || belief.Contradictions(weights) > 0)
            more.AddRange(Twins(space, weights));
        return more;
    }

    /// <summary>
    /// Odds of a wire or pin that touches by turns, against its touching for good: where it has rubbed through it does both; estimate.
    /// </summary>
    private const double TouchesByTurns = 0.4;

    /// <summary>Touches that come and go, alone and with the fuse that they have blown.</summary>
    private static IEnumerable<Suspect> Touching(FaultSpace space, IEnumerable<Suspect> blown) =>
        space
            .Suspects.Concat(blown)
            .Where(s =>
                Fault.MayTouch(s.Template.Kind)
                && s is { AlsoUnit: null, Together.Count: 0, Held.Count: 0 }
                && s.Also is null or { Kind: FaultKind.Blown }
            )
            .Select(s =>
                s with
                {
                    Template = s.Template with { Value = Touch, TouchesByTurns = true },
                    Values = [],
                    Continuous = false,
                    Odds = TouchesByTurns * s.Odds,
                }
            );

    /// <summary>Ohms of such a touch: as few as are weighed of one that stays, what is more being read on the way there.</summary>
    private static readonly double Touch = FaultCatalogue.GroundOhms[0];

    /// <summary>The same test with different answers.</summary>
    private static bool Repeats(Belief belief) =>
        belief
            .Counted.GroupBy(e => (e.Period, e.Reading.Test))
            .Any(g =>
                g.Any(e => e.Reading.Doubtful) && g.Count() > 1
                || g.Count() > 2
                // It worked, and in the same setting it does not.
                || g.Any(e => e.Reading.Result is ReadingResult.Word { Answer: Answer.Works })
                    && g.Any(e => e.Reading.Result is ReadingResult.Word { Answer: Answer.Dead or Answer.Weak })
            );

    private static IEnumerable<Suspect> BlownWithCause(FaultSpace space, Belief belief, Weights weights)
    {
        var blown = Enumerable
            .Range(0, space.Suspects.Count)
            .Where(s =>
                space.Suspects[s].Template is { Kind: FaultKind.Blown, Target: var fuse }
                    && (weights.Weight(s) > FuseSuspected || SeenBlown(belief, fuse))
                // A breaker that was found tripped was so in whatever was tried since.
                || space.Suspects[s].Template is { Kind: FaultKind.Open, Words: "open", Target: var breaker }
                    && space.Circuit.FindPart(breaker) is { Kind: Circuits.Kinds.Breaker }
                    && SeenBlown(belief, breaker)
            )
            .Select(s => space.Suspects[s])
            .ToList();
        if (blown.Count == 0)
            yield break;
        // It may have gone in any setting of the machine, not only in those that were read.
        var functions = space.Circuit.Functions.Select(f => FunctionSetups.SetupFor(space.Circuit, f)).OfType<Setup>().ToList();
        if (functions.Count > StoppedFunctions.Many)
        {
            // What it feeds is where it goes; the others are much the same to it.
            var feeds = functions.ToLookup(f => blown.Exists(b => space.Healthy(f).Flows(b.Template.Target)));
            functions = [.. feeds[true], .. StoppedFunctions.SomeOf(feeds[false].ToList())];
        }
        var read = belief.Counted.Select(e => e.Reading.Test.Setup).Where(s => s.Interventions.Count == 0).Distinct().ToList();
        var anyOther = read.Append(Setup.Rest).Concat(functions).Distinct().ToList();
        // With the fuse still whole a cause may fit nothing that was read since: that does not speak against it.
        var causes = Enumerable
            .Range(0, space.Suspects.Count)
            .Where(s => DrawsMore(space.Suspects[s]) || DrawsOn(space, space.Suspects[s]))
            .ToList();
        var along = new List<IReadOnlyList<string>[]>[causes.Count];
        WorkBudget.For(0, causes.Count, i =>
            along[i] = (DrawsMore(space.Suspects[causes[i]]) ? anyOther : read).ConvertAll(x => space.BlownAlong(x, causes[i]))
        );
        foreach (var (s, blownAt) in causes.Zip(along))
        {
            if (blownAt.TrueForAll(b => b.Length == 0))
                continue;
            var cause = space.Suspects[s];
            var opens = new HashSet<string>();
            var values = new List<double>();
            for (var p = 0; p < space.Points(s); p++)
            {
                var tags = blownAt.Where(b => b.Length > 0).SelectMany(b => b[p]).ToHashSet();
                opens.UnionWith(tags);
                if (tags.Count > 0 && cause.Values.Count > 0)
                    values.Add(cause.Values[p]);
            }
            foreach (var fuse in blown.Where(f => opens.Contains(f.RepairUnit)))
                yield return cause with
                {
                    Values = values,
                    Continuous = cause.Continuous && values.Count > 1,
                    Odds = cause.Odds * (DrawsMore(cause) ? BlownAlready : BlownMeanwhile),
                    Also = fuse.Template,
                };
        }
    }

    /// <summary>True where somebody looked at the fuse and saw it blown.</summary>
    private static bool SeenBlown(Belief belief, string fuse) =>
        belief.Counted.Any(e =>
            e.Reading is { Test.Probe: Probe.Looks looked, Result: ReadingResult.Word { Answer: Answer.Bad } } && looked.Tag == fuse
        );

    /// <summary>How often a test is done before a fuse or breaker at a few times its rating has opened; estimate.</summary>
    private const double DoneBefore = 0.5;

    /// <summary>
    /// What makes a fuse or breaker carry a few times its rating, read before it has opened: a motor that stands and hums draws its locked
    /// amps through a breaker for seconds.
    /// </summary>
    private static IEnumerable<Suspect> Holding(FaultSpace space, Belief belief, Weights weights)
    {
        var setups = belief.Counted.Select(e => e.Reading.Test.Setup).Where(s => s.Steps.Count > 0).Distinct().ToList();
        if (setups.Count == 0)
            return [];
        var held = new IReadOnlyList<string>[space.Suspects.Count];
        WorkBudget.For(0, held.Length, s =>
            held[s] =
                weights.Weight(s) > 0 && space.Suspects[s] is { Also: null, Together.Count: 0, Held.Count: 0 }
                    ? [.. setups.SelectMany(x => space.CarriesTooMuch(x, s)).Distinct().Order(StringComparer.Ordinal)]
                    : []
        );
        return Enumerable
            .Range(0, held.Length)
            .Where(s => held[s].Count > 0)
            .Select(s =>
                space.Suspects[s] with
                {
                    Odds = space.Suspects[s].Odds * DoneBefore,
                    Held = [.. held[s].Select(t => new Fault(t, Fault.Holds))],
                }
            );
    }

    /// <summary>True for what makes more flow than should.</summary>
    internal static bool DrawsMore(Suspect s) =>
        s.Template.Kind
            is FaultKind.Grounded
                or FaultKind.Shorted
                or FaultKind.Seized
                or FaultKind.CoilOhms
                or FaultKind.ToSupply
                or FaultKind.Shorts
        || s.Template.Words.StartsWith("welded", StringComparison.Ordinal);

    /// <summary>
    /// A solenoid of two windings that does not close its contact keeps its pull-in winding at work. Its starter does not crank at all, so
    /// the fuse has gone where that is the trouble, and not in a setting that nobody speaks of.
    /// </summary>
    private static bool DrawsOn(FaultSpace space, Suspect s) =>
        space.Circuit.FindPart(s.Template.Target) is { Kind: Circuits.Kinds.Starter } && !DrawsMore(s);

    /// <summary>
    /// How often a part's twin, of one kind, rating and place, has failed in the same way: one age, one wetting; estimate.
    /// </summary>
    private const double TwinFails = 0.05;

    private const int MostTwins = 24;

    /// <summary>Two like parts in one place that have failed alike.</summary>
    private static IEnumerable<Suspect> Twins(FaultSpace space, Weights weights)
    {
        var single = space
            .Suspects.Select((s, i) => (Suspect: s, Index: i))
            .Where(x =>
                x.Suspect is { Also: null, Together.Count: 0, Values.Count: 0 }
                && space.Circuit.FindPart(x.Suspect.Template.Target) is { Model.IsPoint: false, Kind: not Circuits.Kinds.PinRow }
            );
        return single
            .GroupBy(x => (Part: Kind(x.Suspect), x.Suspect.Template.Words))
            .SelectMany(g => Of([.. g]))
            .OrderByDescending(p => p.Weight)
            .Take(MostTwins)
            .Select(p => p.Pair);

        string Kind(Suspect s) =>
            space.Circuit.FindPart(s.Template.Target) is { } p ? $"{p.Kind.Word} {string.Join(' ', p.Values)} {p.Place}" : "";

        IEnumerable<(Suspect Pair, double Weight)> Of((Suspect Suspect, int Index)[] alike)
        {
            for (var i = 0; i < alike.Length; i++)
            for (var k = i + 1; k < alike.Length; k++)
                yield return (
                    alike[i].Suspect with
                    {
                        Odds = (alike[i].Suspect.Odds + alike[k].Suspect.Odds) / 2 * TwinFails,
                        Also = alike[k].Suspect.Template,
                        AlsoUnit = alike[k].Suspect.RepairUnit,
                    },
                    weights.Weight(alike[i].Index) + weights.Weight(alike[k].Index)
                );
        }
    }

    /// <summary>Leaks that are weighed, Ω: an amp at 12 V down to what an insulation tester calls poor; estimate.</summary>
    private static readonly double[] LeakOhms = [7, 15, 30, 60, 120, 250, 600, 2000, 6e3, 2e4, 6e4, 2e5, 6e5, 2e6];

    /// <summary>Largest leak that is felt as a draw, Ω: milliamps at 12 V; estimate.</summary>
    private const double DrawOhms = 2000;

    /// <summary>
    /// Odds of a leak: of a wire or plug by its short to ground, of a charger's rectifier, of a switch or other part; estimates.
    /// </summary>
    private const double WireLeaks = 0.5,
        RectifierLeaks = 2,
        PartLeaks = 0.15;

    /// <summary>
    /// Largest leak that could have shown, Ω: that of a draw where amps are followed or it is wet, any where an insulation tester read one,
    /// what trips it where there is a residual-current device. Null where none would.
    /// </summary>
    private static double? LargestLeak(FaultSpace space, Belief belief)
    {
        if (belief.Counted.Any(e => e.Reading is { Test.Probe: Probe.Insulation or Probe.Residual, Steady: ReadingResult.Number }))
            return LeakOhms[^1];
        var residual = space
            .Circuit.Parts.Select(p => p.Model.Residual is { } rule ? p.NominalVolts / rule.Amps : 0)
            .DefaultIfEmpty(0)
            .Max();
        if (residual > 0)
            return Math.Max(DrawOhms, residual);
        return AskedForAmps(space, belief) || belief.Circumstances.HasFlag(Circumstances.Wet) ? DrawOhms : null;
    }

    /// <summary>True where a draw is followed: amps were read, or millivolts across a fuse.</summary>
    private static bool AskedForAmps(FaultSpace space, Belief belief) =>
        belief.Counted.Any(e => e.Reading.Test.Probe is Probe.Amps or Probe.Clamp)
        || Complaint.FunctionOf(space.Circuit, [.. belief.Counted.Select(e => e.Reading)])
            is { Test: Circuits.FunctionTest.Measured { Probe: Probe.Amps or Probe.Clamp } };

    /// <summary>
    /// Leaks up to a size on every wire and part that may touch the frame, and across parts that should not conduct at rest.
    /// </summary>
    private static IEnumerable<Suspect> Leaks(FaultSpace space, double largest)
    {
        double[] values = [.. LeakOhms.Where(x => x <= largest * 1.01)];
        foreach (var s in space.Suspects.Where(s => s is { Also: null, Template.Kind: FaultKind.Grounded }))
            yield return s with
            {
                Values = values,
                Continuous = true,
                Odds = s.Odds * (space.Circuit.FindWire(s.Template.Target) is null ? 1 : WireLeaks),
            };
        foreach (var part in space.Circuit.Parts)
        {
            if (part.Kind is Circuits.Kinds.PinRow or Circuits.Kinds.Battery or Circuits.Kinds.Fuse or Circuits.Kinds.Isolator)
                continue;
            foreach (var (path, odds) in LeaksAcross(part))
                yield return new Suspect(
                    new Fault(part.Tag, Fault.Leaks, null, Dimension.Ohm, path),
                    values,
                    true,
                    odds * part.Odds,
                    part.Tag
                );
        }
    }

    /// <summary>Ways through a part that should not conduct at rest: across it, or across each contact of several.</summary>
    private static IEnumerable<(string? Path, double Odds)> LeaksAcross(Part part)
    {
        if (part.Model.Through is not null)
        {
            var odds =
                part.Kind is Circuits.Kinds.Charger ? RectifierLeaks
                : part.Model.Load is null && (part.Contacts.Count > 0 || part.Kind is Circuits.Kinds.Diode) ? PartLeaks
                : 0;
            if (odds > 0)
                yield return (null, odds);
            yield break;
        }
        var contacts = part.Model.Links.OfType<Link.Contact>().Where(c => IsOutside(c.A) && IsOutside(c.B)).ToList();
        foreach (var contact in contacts)
            yield return ($"{contact.A}-{contact.B}", PartLeaks / contacts.Count);

        bool IsOutside(string name) => part.Model.Terminals.Contains(name);
    }

    /// <summary>
    /// Every joint, contact and winding may come and go; loads, windings and electronics seldom do, sensors on a lead often.
    /// </summary>
    /// <param name="odds">Factor on their odds.</param>
    private static IEnumerable<Suspect> Intermittent(FaultSpace space, double odds)
    {
        foreach (var s in space.Suspects)
        {
            if (s.Also is not null || s.Together.Count > 0 || s.Values.Count > 0 || Fault.Opening(s.Template.Words) is not { } what)
                continue;
            var part = space.Circuit.FindPart(s.Template.Target);
            var winding =
                part is { Model.IsPoint: false }
                && (
                    what is "coil" or "motor"
                    || part.Model.Load is not null
                    || part.Kind.IsSource
                    || s.Template.Words == "dead" && part.Kind is not Circuits.Kinds.Proximity
                );
            yield return s with
            {
                Template = s.Template with { Words = Fault.Intermittent, Toward = what.Length == 0 ? null : what },
                Odds =
                    odds
                    * (
                        part?.Kind is Circuits.Kinds.Fuse
                            ? FuseComesAndGoes * part.Odds
                            : s.Odds
                                * (
                                    winding && part!.Kind.IsElectronic ? ElectronicsComeAndGo
                                    : winding ? WindingComesAndGoes
                                    : ComesAndGoes
                                )
                    ),
            };
        }
    }

    /// <summary>
    /// Pairs by what they could explain at best, each reading being explained by one of the two; the best are then run as they are. Source
    /// of the idea: a bound on the likelihood orders the search (best-first search, Hart, Nilsson and Raphael, 1968).
    /// </summary>
    private static IEnumerable<Suspect> Pairs(FaultSpace space, Belief belief, int most)
    {
        var readings = belief.Evidence.Count;
        var firsts = new List<(int Suspect, double Value, double[] Added, double Prior, double Best)>();
        var least = Enumerable
            .Range(0, readings)
            .Select(r => double.IsNaN(belief.Evidence[r].Unlike) ? 0 : belief.Evidence[r].Unlike)
            .ToArray();
        for (var s = 0; s < space.Suspects.Count; s++)
        {
            if (space.Suspects[s].Together.Count > 0)
                continue;
            var (best, at) = (double.NegativeInfinity, 0);
            // Values that no reading has told apart are as good as one.
            for (var fine = 0; fine < belief.Entries(s); fine++)
            {
                var sum = 0.0;
                for (var r = 0; r < readings; r++)
                    sum += Math.Max(belief.Evidence[r].At(s, fine), least[r]);
                if (sum > best)
                    (best, at) = (sum, fine);
            }
            var prior = Math.Log(space.Suspects[s].Odds / space.Total);
            firsts.Add(
                (s, space.ValueAt(s, at), [.. Enumerable.Range(0, readings).Select(r => belief.Evidence[r].At(s, at))], prior, best + prior)
            );
        }
        var tried = firsts.OrderByDescending(f => f.Best).Take(MostFirsts).ToList();
        var pairs = new List<(int A, int B, double Bound)>();
        for (var a = 0; a < tried.Count; a++)
        for (var b = a + 1; b < tried.Count; b++)
        {
            if (space.Suspects[tried[a].Suspect].RepairUnit == space.Suspects[tried[b].Suspect].RepairUnit)
                continue;
            var sum = tried[a].Prior + tried[b].Prior;
            for (var r = 0; r < readings; r++)
                sum += Math.Max(tried[a].Added[r], tried[b].Added[r]);
            pairs.Add((a, b, sum));
        }
        foreach (var (a, b, _) in pairs.OrderByDescending(p => p.Bound).Take(most))
        {
            var (x, y) = (tried[a], tried[b]);
            // The one with a range keeps it; the other stands at its likeliest value.
            if (!space.Curved(x.Suspect))
                (x, y) = (y, x);
            var (first, second) = (space.Suspects[x.Suspect], space.Suspects[y.Suspect]);
            yield return first with
            {
                Odds = first.Odds * second.Odds / space.Total * SecondFault,
                Also = second.With(y.Value),
                AlsoUnit = second.RepairUnit,
            };
        }
    }
}
