using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Core.Tests.Outside;

namespace Zoltric.Core.Tests.Solving;

/// <summary>Laws that hold in any network, on random circuits (seeds 9000 to 9059) and on the demo sheets.</summary>
public class LawsTests(ITestOutputHelper output)
{
    private const int FirstSeed = 9000;

    private static IEnumerable<(int Seed, Machine Machine)> Random(int count) =>
        Enumerable.Range(FirstSeed, count).Select(s => (s, new Machine(DemoSheets.Read(RandomCircuits.Sheet(s)))));

    private static Setup SetupOf(Circuit c, string text) => ReadingReader.ReadSetup(c, text).Value!;

    private static Terminal PointOf(string text)
    {
        var at = text.IndexOfAny(['.', ':']);
        return at < 0 ? new Terminal(text, "") : new Terminal(text[..at], text[(at + 1)..], text[at] == ':');
    }

    /// <summary>What sources give is what resistances, diodes and charged batteries take.</summary>
    [Fact]
    public void Power_into_the_loads_is_power_out_of_the_sources()
    {
        foreach (var (seed, machine) in Random(60))
        {
            var op = machine.Run(SetupOf(machine.Circuit, "a=ON, b=ON"));
            if (op.Chattering.Count > 0)
                continue;
            var (given, lost) = (0.0, 0.0);
            for (var i = 0; i < machine.Circuit.Wires.Count; i++)
            {
                var w = machine.Circuit.Wires[i];
                var amps = op.WireAmps(w.Id);
                lost += amps * amps * w.Ohms;
                // A stud's lug carries its wire's current.
                foreach (var end in new[] { w.From, w.To })
                    if (end.Name.Length == 0)
                        lost += amps * amps * Defaults.StudOhms;
            }
            for (var p = 0; p < machine.Circuit.Parts.Count; p++)
            for (var l = 0; l < machine.Circuit.Parts[p].Model.Links.Count; l++)
            {
                var (volts, amps) = (op.LinkVolts(p, l), op.LinkAmps(p, l));
                if (machine.Circuit.Parts[p].Model.Links[l] is Link.Source)
                    given -= volts * amps;
                else
                    lost += volts * amps;
            }
            lost.ShouldBe(given, 1e-6 * Math.Max(given, 1), $"seed {seed}");
        }
    }

    /// <summary>
    /// Reciprocity: a current put in at one pair of points makes at another pair what the same current there makes at the first.
    /// </summary>
    [Fact]
    public void Transfer_resistance_is_the_same_both_ways()
    {
        foreach (var (seed, machine) in Random(40))
        {
            var random = new Random(seed);
            var op = machine.Run(SetupOf(machine.Circuit, "a=ON"));
            var points = machine.Circuit.Wires.Select(w => op.Node(w.From)).Distinct().ToList();
            for (var k = 0; k < 5; k++)
            {
                int Pick() => points[random.Next(points.Count)];
                var (a, b, c, d) = (Pick(), Pick(), Pick(), Pick());
                double Transfer(int p, int q, int r, int s)
                {
                    var y = op.Response(p, q);
                    double At(int node) => node < 0 ? 0 : y[node];
                    return At(r) - At(s);
                }

                Transfer(a, b, c, d).ShouldBe(Transfer(c, d, a, b), 1e-9 * (op.Ohms(a, b) + op.Ohms(c, d) + 1), $"seed {seed}");
            }
        }
    }

    /// <summary>A closed switch is its two wires joined, but for its own milliohm.</summary>
    [Fact]
    public void A_closed_switch_is_its_two_wires_joined()
    {
        const string sheet = """
            sheet "switch"
            nominal 12V dc
            part G1 battery 12V
            part S1 switch
              closed 1-2
            part H1 lamp 12V 21W
            part H2 lamp 12V 5W
            path G1.+ -[w1 1mm2 2m]- S1 -[w2 1mm2 2m]- H1 - G1.-
            path S1.2 - H2 - G1.-
            """;
        var joined = sheet
            .Replace("part S1 switch\n", "part S1 splice\n", StringComparison.Ordinal)
            .Replace("  closed 1-2\n", "", StringComparison.Ordinal)
            .Replace("S1.2", "S1", StringComparison.Ordinal);
        var (one, two) = (new Machine(DemoSheets.Read(sheet)).Run(Setup.Rest), new Machine(DemoSheets.Read(joined)).Run(Setup.Rest));
        one.Volts(PointOf("H1.1")).ShouldBe(two.Volts(PointOf("H1.1")), 2.2 * Defaults.ClosedContactOhms);
        one.WireAmps("w1").ShouldBe(two.WireAmps("w1"), 1e-3);
    }

    /// <summary>Every single fault through the standing factor equals the same machine factored anew for each solution.</summary>
    [Fact]
    public void Faults_by_update_equal_faults_factored_anew()
    {
        var (count, worst) = (0, 0.0);
        // The last two drive a bus and take longer: every seventh of their faults.
        foreach (var (sheet, every) in new[] { ("PR-3", 1), ("BL-1", 1), ("LT-1", 1), ("TD-2", 1), ("PH-1", 7), ("BT-7", 7) })
        {
            var circuit = DemoSheets.Circuit(sheet);
            var (quick, slow) = (new Machine(circuit), new Machine(circuit) { FactorsEachTime = true });
            foreach (var suspect in Core.Faults.FaultCatalogue.Suspects(quick).Where((_, i) => i % every == 0))
            {
                var fault = suspect.Values.Count == 0 ? suspect.Template : suspect.With(suspect.Values[^1]);
                foreach (var f in circuit.Functions)
                {
                    var setup = FunctionSetups.SetupFor(circuit, f)!;
                    var (sound, a, b) = (quick.Run(setup), quick.Run(setup, [fault]), slow.Run(setup, [fault]));
                    a.PulledInTags().ShouldBe(b.PulledInTags(), $"{sheet} {setup} {fault}");
                    for (var n = 0; n < a.Nodes; n++)
                        worst = Math.Max(worst, Math.Abs(a.Volts(n) - b.Volts(n)) / Math.Max(1, Math.Abs(b.Volts(n))));
                    Joined(a, sheet, fault);
                    var together = SideBySide.Volts([sound, a, sound]);
                    for (var n = 0; n < a.Nodes; n++)
                        ((double)together[3 * n + 1]).ShouldBe(
                            a.Volts(n),
                            1e-6 * (circuit.NominalVolts + Math.Abs(a.Volts(n))),
                            $"{sheet} {setup} {fault} node {n} side by side"
                        );
                    for (int p = 0, q = a.Nodes / 2; p < a.Nodes; p += 17, q = (q + 5) % a.Nodes)
                    {
                        Math.Sqrt(a.Sensitivities.VarianceFromTolerances(p, q))
                            .ShouldBe(
                                Math.Sqrt(b.Sensitivities.VarianceFromTolerances(p, q)),
                                1.5e-4 * circuit.NominalVolts,
                                $"{sheet} {setup} {fault} spread of volts {p} {q}: branches without a say are left out"
                            );
                        a.VoltsFromSources(p, q)
                            .ShouldBe(b.VoltsFromSources(p, q), 1e-4, $"{sheet} {setup} {fault} volts from the sources {p} {q}");
                    }
                    var off = new Setup(circuit.SourcesOff, setup.Steps);
                    (a, b) = (quick.Run(off, [fault]), slow.Run(off, [fault]));
                    for (int p = 0, q = a.Nodes / 2; p < a.Nodes; p += 17, q = (q + 5) % a.Nodes)
                    {
                        if (p == q || b.Ohms(p, q) is var ohms && ohms >= Meter.MostOhms)
                            continue;
                        Math.Abs(a.Ohms(p, q) - ohms).ShouldBeLessThan(1e-3 + 1e-4 * ohms, $"{sheet} {off} {fault} ohms {p} {q}: {ohms}");
                        Math.Sqrt(a.Sensitivities.OhmsVariance(a.Response(p, q)))
                            .ShouldBe(
                                Math.Sqrt(b.Sensitivities.OhmsVariance(b.Response(p, q))),
                                1e-3 + 1e-3 * ohms,
                                $"{sheet} {off} {fault} spread {p} {q}"
                            );
                    }
                    count++;
                }
            }
        }
        output.WriteLine($"{count} runs, worst difference {worst:0.0e0}");
        worst.ShouldBeLessThan(1e-6);
    }

    /// <summary>What conductors join, as told from the standing state and the change, against a walk through the changed machine.</summary>
    /// <summary>Nodes that reach each other, found by brute force: by what is drawn, and with the paths that a fault has made.</summary>
    private static void Joined(OperatingPoint op, string sheet, Fault fault)
    {
        var network = op.Network;
        var drawn = Groups(
            op.Nodes,
            [.. Enumerable.Range(0, network.Branches.Count).Select(i => (network.A(i), network.B(i), op.Conductance(i)))]
        );
        var all = Groups(
            op.Nodes,
            [.. Enumerable.Range(0, network.Branches.Count).Select(i => (network.A(i), network.B(i), op.Conductance(i))), .. op.Joins]
        );
        var trees = op.Trees();
        for (var n = 0; n < op.Nodes; n++)
        {
            (trees[n + 1] == trees[0]).ShouldBe(drawn[n + 1] == drawn[0], $"{sheet} {fault} tree of node {n}");
            (trees[n + 1] == trees[op.Nodes / 2 + 1]).ShouldBe(
                drawn[n + 1] == drawn[op.Nodes / 2 + 1],
                $"{sheet} {fault} tree of node {n}"
            );
            op.Tied(n).ShouldBe(all[n + 1] == all[0], $"{sheet} {fault} node {n}");
            op.Tied(n, op.Nodes / 2).ShouldBe(all[n + 1] == all[op.Nodes / 2 + 1], $"{sheet} {fault} node {n}");
        }
    }

    private static int[] Groups(int nodes, List<(int A, int B, double G)> branches)
    {
        var group = Enumerable.Range(0, nodes + 1).ToArray();
        for (var moved = true; moved; )
        {
            moved = false;
            foreach (var (a, b, g) in branches)
            {
                if (g <= ConductionGraph.Least || group[a + 1] == group[b + 1])
                    continue;
                group[a + 1] = group[b + 1] = Math.Min(group[a + 1], group[b + 1]);
                moved = true;
            }
        }
        return group;
    }

    /// <summary>What is said to make no difference, without a run, makes none when it is run: every fault of each sheet, every
    /// function.</summary>
    [Theory]
    [InlineData("PR-3", 1)]
    [InlineData("LT-1", 1)]
    [InlineData("PH-1", 5)]
    [InlineData("BT-7", 9)]
    public void What_is_said_to_make_no_difference_makes_none(string sheet, int every)
    {
        var space = new FaultSpace(new Machine(DemoSheets.Circuit(sheet)));
        var (spared, most) = (0, 0.0);
        foreach (var f in space.Circuit.Functions)
        {
            var setup = FunctionSetups.SetupFor(space.Circuit, f)!;
            var sound = space.Healthy(setup);
            for (var s = 0; s < space.Suspects.Count; s += every)
            {
                var point = space.WorstPoint(s);
                if (!space.MakesNoDifference(setup, space.Machine.Changed(space.FaultsAt(s, point))))
                    continue;
                spared++;
                var run = space.Run(setup, s, point);
                run.PulledInTags().ShouldBe(sound.PulledInTags(), $"{sheet} {setup} {space.Suspects[s]}");
                FunctionState.Judge(run, f).ShouldBe(FunctionState.Judge(sound, f), $"{sheet} {setup} {space.Suspects[s]}");
                // A point that hangs on leakage goes where the last leak is.
                for (var n = 0; n < run.Nodes; n++)
                    if (run.Tied(n) && sound.Tied(n))
                        most = Math.Max(most, Math.Abs(run.Volts(n) - sound.Volts(n)));
            }
        }
        output.WriteLine($"{spared} spared, at most {most:0.0e0} V");
        spared.ShouldBeGreaterThan(100);
        most.ShouldBeLessThan(0.01 * space.Circuit.NominalVolts);
    }

    /// <summary>The band by sensitivities against 2000 machines drawn within their tolerances.</summary>
    [Theory]
    [InlineData("PR-3", "key=START : V K1.86")]
    [InlineData("PR-3", "key=START : V M1.G G1.-")]
    [InlineData("RG-1", "left=PRESSED : V M1.1 M1.2")]
    [InlineData("LT-1", "lamps=ON key=RUN engine=RUNNING : V H4.1 H4.2")]
    [InlineData("LT-1", "off G1, unplug K1 : ohm K1.86 K1.85")]
    [InlineData("LT-1", "lamps=ON key=RUN engine=RUNNING : clamp w42")]
    [InlineData("LT-1", "lamps=ON key=RUN engine=RUNNING, pull F3 : A F3")]
    [InlineData("PR-3", "key=RUN : A G1")]
    public void Spread_by_sensitivities_agrees_with_Monte_Carlo(string sheet, string line)
    {
        var circuit = DemoSheets.Circuit(sheet);
        var machine = new Machine(circuit);
        var test = DemoSheets.Line(circuit, line).Test;
        var shown = Meter.Read(machine, test);
        var random = new Random(77);
        var drawn = Enumerable
            .Range(0, 2000)
            .Select(_ => Meter.Read(machine, test, null, ToleranceDraw.Draw(machine, random, 1, 1)).Value!.Value)
            .ToList();
        var mean = drawn.Average();
        var sigma = Math.Sqrt(drawn.Average(x => (x - mean) * (x - mean)));
        output.WriteLine($"{line}: {shown.Value:0.####} ± {shown.Spread:0.####} by sensitivities, {mean:0.####} ± {sigma:0.####} drawn");
        // Contacts range over a factor of 25, which a straight line through the middle follows within a third.
        shown.Spread.ShouldBeInRange(sigma * 0.65, sigma * 1.5);
        Math.Abs(mean - shown.Value!.Value).ShouldBeLessThan(1.2 * sigma);
    }
}

internal static class OperatingPoints
{
    public static IReadOnlyList<string> PulledInTags(this OperatingPoint op) =>
        [.. op.Circuit.Parts.Where((_, i) => op.PulledIn(i)).Select(p => p.Tag)];
}
