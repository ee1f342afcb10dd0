using Zoltric.Core.Circuits;
using Zoltric.Core.Figures;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Figures;

/// <summary>What benches work out on a machine's own sheet, against what is worked by hand.</summary>
public sealed class MachineFigureTests
{
    private static FigureRow Row(FigureTable t, string state) => t.Rows.First(r => r.State.StartsWith(state, StringComparison.Ordinal));

    /// <summary>
    /// Two ends of 120 Ω (ISO 11898-2): 60 Ω; one off 120 Ω; the same off while the other is lost leaves the modules' own kilo-ohms.
    /// </summary>
    [Theory]
    [InlineData("PH-1", "A2", "E1 bus end, cab", "E2 bus end, chassis")]
    [InlineData("BS-8", "A1", "E1 bus end, cab", "E2 bus end, chassis")]
    public void A_bus_taken_apart_shows_which_end_is_lost(string name, string module, string first, string last)
    {
        var circuit = DemoSheets.Read(DemoSheets.Text(name));
        var ladder = FigureSheet.All["bus"].OnMachine(new Machine(circuit), circuit.FindPart(module)!, []).ShouldHaveSingleItem();
        ladder.Title.ShouldContain("X9 diagnosis socket");
        ladder.Columns.ShouldBe(["sound", "E1 lost", "E2 lost", "lines touch"]);
        double Ohms(FigureRow r, int i) => double.Parse(r.Shows[i].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
        Ohms(Row(ladder, "nothing off"), 0).ShouldBe(60, 1);
        Ohms(Row(ladder, "nothing off"), 1).ShouldBe(120, 3);
        Ohms(Row(ladder, first), 0).ShouldBe(120, 3);
        Ohms(Row(ladder, first), 1).ShouldBe(120, 3);
        Row(ladder, first).Shows[2].ShouldMatch("OL|kΩ");
        Row(ladder, first).Follows.ShouldContain("No change: E1 lost.");
        Row(ladder, last).Follows.ShouldContain("No change: E2 lost.");
        // A module that comes off alone leaves both ends: nothing to learn of them.
        Row(ladder, $"{circuit.FindPart(module)!.Spoken}").Follows.ShouldBe("Tells nothing that was not known.");
    }

    /// <summary>The harvester's bus as its sheet draws it, from cab to chassis; socket and display hang on stubs.</summary>
    [Fact]
    public void A_bus_runs_from_end_to_end_as_its_sheet_has_it()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PH-1"));
        var line = BusLine.Of(circuit, circuit.FindPart("A2")!);
        line.Select(p => p.Name.Split(' ')[0]).ShouldBe(["E1", "A1", "SPH", "X1", "A2", "E2"]);
        line[2].Stubs.Select(s => s.Split(' ')[0]).ShouldBe(["A3", "X9"], ignoreOrder: true);
        line.Where(p => p.IsEnd).Count().ShouldBe(2);
        BusLine.Of(circuit, circuit.FindPart("M1")!).ShouldBeEmpty();
    }

    /// <summary>
    /// By hand on the roller: with the start relay out, 30 is live from the battery at all times, 86 while the key is at START; the way
    /// home 85 and the leg to the starter 87 are not: 1 of 4, then 2 of 4.
    /// </summary>
    [Fact]
    public void Legs_of_a_pulled_relay_are_live_as_worked_by_hand()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        var tables = FigureSheet.All["relay"].OnMachine(new Machine(circuit), circuit.FindPart("K1")!, []);
        tables[0].Columns.ShouldBe(["key OFF", "key RUN", "key START"]);
        Row(tables[0], "live of these").Shows.ShouldBe(["1 of 4", "1 of 4", "2 of 4"]);
        Row(tables[0], "86").Shows.ShouldBe(["none", "none", Row(tables[0], "30").Shows[2]]);
        // The run relay beside it has the same coil and contacts.
        tables[1].Rows.ShouldContain(r => r.State == "K2 run relay" && r.Follows == "Same box.");
    }

    /// <summary>A safety relay is never swapped, nor swapped in.</summary>
    [Fact]
    public void A_safety_relay_has_no_partner()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("BL-1"));
        var machine = new Machine(circuit);
        FigureTable Partners(string tag) => FigureSheet.All["relay"].OnMachine(machine, circuit.FindPart(tag)!, [])[^1];
        Partners("K0").Rows.ShouldBeEmpty();
        Partners("K0").Says.ShouldContain("never swapped");
        Partners("K1").Rows.Select(r => r.State).ShouldBe(["K2 clamp relay", "K3 sealer relay"], ignoreOrder: true);
    }

    /// <summary>
    /// The relay that is drawn in stands on the sheet and works, leaves every interlock in charge, and says that its own weld would take
    /// them out. Where a part of the string is marked safety it is not offered.
    /// </summary>
    [Fact]
    public void A_relay_near_the_starter_is_drawn_with_its_interlocks_and_never_past_a_safety_part()
    {
        var text = DemoSheets.Text("PR-3");
        var circuit = DemoSheets.Read(text);
        var draft = FigureSheet.All["start"].Drawn(circuit, circuit.FindPart("M1")!, text).ShouldNotBeNull();
        draft.Says.ShouldContain("Still stopped by 3 of 3 interlocks");
        draft.Says.ShouldContain("welded 3 of them no longer stop it");
        var with = DemoSheets.Read(draft.Sheet!);
        with.Parts.Count.ShouldBe(circuit.Parts.Count + 2);
        var function = with.FindFunction("engine cranks")!;
        FunctionState.Judge(new Machine(with).Run(FunctionSetups.SetupFor(with, function)!), function).ShouldBe(Answer.Works);
        with.FindWire("w31")!.To.ShouldBe(new Terminal("K3", "86"));
        var guarded = text.Replace("\"seat switch\"", "\"seat switch\" safety", StringComparison.Ordinal);
        guarded.ShouldNotBe(text);
        var never = FigureSheet
            .All["start"]
            .Drawn(DemoSheets.Read(guarded), DemoSheets.Read(guarded).FindPart("M1")!, guarded)
            .ShouldNotBeNull();
        never.Sheet.ShouldBeNull();
        never.Says.ShouldContain("S3 seat switch");
        // The bench does not offer it either, and asks when it is used alone.
        FigureSheet
            .All["start"]
            .From(DemoSheets.Read(guarded), DemoSheets.Read(guarded).FindPart("M1")!)!["safety"]
            .ShouldBe("one or more");
        FigureSheet.All["start"].From(circuit, circuit.FindPart("M1")!)!["safety"].ShouldBe("none");
    }

    /// <summary>A staircase of the machine's own string: its steps add up to what the solenoid lacks.</summary>
    [Fact]
    public void Steps_of_the_cranking_circuit_add_up()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        var tables = FigureSheet.All["start"].OnMachine(new Machine(circuit), circuit.FindPart("M1")!, []);
        tables.Count.ShouldBeGreaterThan(1);
        tables.ShouldAllBe(t => t.Rows.Count > 1 && t.Rows.All(r => r.Shows.Count == 3 && r.Shows[2] == "not read"));
        tables.SelectMany(t => t.Rows).ShouldContain(r => r.State.Contains("neutral switch", StringComparison.Ordinal));
        // What the job has read stands beside it, over its limit or not, and only in the setting of the crank.
        var read = new[] { "key=START : drop S2 = 1.4V", "key=START : drop w31 = 20mV", "key=RUN : drop S3 = 2V" };
        var beside = FigureSheet
            .All["start"]
            .OnMachine(new Machine(circuit), circuit.FindPart("M1")!, [.. read.Select(l => DemoSheets.Line(circuit, l))])
            .SelectMany(t => t.Rows)
            .ToList();
        var lost = beside.Single(r => r.State.StartsWith("S2 neutral switch", StringComparison.Ordinal));
        lost.Shows[2].ShouldBe("1.40 V");
        lost.Follows.ShouldContain("lost here");
        beside.Single(r => r.State.StartsWith("wire w31", StringComparison.Ordinal)).Follows.ShouldBeEmpty();
        beside.Single(r => r.State.StartsWith("S3 seat switch", StringComparison.Ordinal)).Shows[2].ShouldBe("not read");
    }

    /// <summary>Every bench that knows a part of the demo fills fields that work, and gives lines that read.</summary>
    [Fact]
    public void Every_bench_works_on_every_part_of_the_demo_that_it_knows()
    {
        var worked = new HashSet<string>();
        foreach (var name in DemoSheets.All)
        {
            var circuit = DemoSheets.Read(DemoSheets.Text(name));
            foreach (var sheet in FigureSheet.All.Values)
            foreach (var part in circuit.Parts)
            {
                if (sheet.From(circuit, part) is not { } from)
                    continue;
                var fields = sheet.FieldsOn(circuit);
                var (values, problems) = FigureReader.Read(fields, f =>
                    from.GetValueOrDefault(f) ?? fields.First(x => x.Name == f).Example
                );
                problems.ShouldBeEmpty($"{name} {sheet.Name} {part.Tag}");
                sheet.Work(values!).Says.ShouldNotBeEmpty();
                worked.Add(sheet.Name);
                foreach (var line in sheet.Lines(circuit, part, f => f == "read" ? "1" : null))
                    Core.Notation.ReadingReader.Read(circuit, line).Value.ShouldNotBeNull($"{name} {line}");
            }
        }
        worked.ShouldBe(
            ["bus", "relay", "start", "charging", "battery", "heater", "motor", "coil", "temperature", "fuse", "drain"],
            ignoreOrder: true
        );
    }
}
