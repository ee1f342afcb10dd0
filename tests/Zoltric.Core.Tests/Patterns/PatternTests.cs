using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Patterns;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Patterns;

/// <summary>A pattern as it comes is a good sheet, and a dead function on it has advice.</summary>
public class PatternTests
{
    public static TheoryData<string> Names => [.. Pattern.All.Select(p => p.Name)];

    [Fact]
    public void There_are_fourteen_or_more() => Pattern.All.Count.ShouldBeGreaterThanOrEqualTo(14);

    [Theory, MemberData(nameof(Names))]
    public void As_it_comes_it_passes_the_checker_and_can_be_traced(string name)
    {
        var pattern = Pattern.All.Single(p => p.Name == name);
        var text = pattern.Fill(new Dictionary<string, string>());
        text.ShouldNotContain("{");
        var read = SheetReader.Read(text);
        read.Problems.ShouldBeEmpty();
        SheetChecker.Check(read.Value!, text).ShouldBeEmpty();
        foreach (var function in read.Value!.Functions)
            Traced(read.Value!, function);
    }

    [Theory]
    [InlineData("Cranking string", "volts", "24")]
    [InlineData("Relay-fed load", "load", "washer \"left\"\npump")]
    [InlineData("Reversing pair", "one", "up")]
    public void Values_stand_where_they_were_asked_for(string name, string key, string value)
    {
        var pattern = Pattern.All.Single(p => p.Name == (name == "Relay-fed load" ? "Load fed by a relay" : name));
        var text = pattern.Fill(new Dictionary<string, string> { [key] = value, ["machine"] = "Tester" });
        text.ShouldContain("machine \"Tester\"");
        SheetReader.Read(text).Problems.Where(p => p.Severity == Severity.Error).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("battery, fuse 15, dash key 30 to 15, lid switch, connector pin 2, valve 8 ohm, ground", 12, 7)]
    [InlineData("battery 24 V, breaker 10, master isolator, start button, stop button, terminal 3, contactor, earth", 24, 8)]
    [InlineData("mains 230 V, fuse 10, door switch, thermostat, heater 2000 W, neutral", 230, 6)]
    [InlineData("fuse 20, relay contact 30 to 87, plug pin 1, pump 8 A, plug pin 2", 12, 5)]
    [InlineData("supply 24V, fuse 2, float switch at sump, lamp 3 W, zero", 24, 5)]
    [InlineData("battery 24 V\nbreaker 10\nstart button\ncontactor\nearth", 24, 5)]
    [InlineData("from the battery then fuse 15 then the lid switch then to the valve 8 ohm then back to ground", 12, 5)]
    [InlineData("battery\r\nfuse 15\r\nlid switch\r\nvalve 8 ohm\r\nground", 12, 5)]
    [InlineData("battery - fuse 15 - dash key 30 - 15 - plug pin 2 - valve 8 ohm - ground", 12, 6)]
    [InlineData("battery fuse 15 dash key 30 to 15 lid switch connector pin 2 valve 8 ohm ground", 12, 7)]
    public void One_spoken_line_becomes_a_sheet_that_is_traced_at_once(string line, double volts, int parts)
    {
        var sheet = QuickRoute.Read(line, volts);
        sheet.Problems.ShouldBeEmpty();
        var read = SheetReader.Read(sheet.Value!);
        read.Problems.ShouldBeEmpty(sheet.Value);
        SheetChecker.Check(read.Value!, sheet.Value!).Where(p => p.Severity == Severity.Error).ShouldBeEmpty();
        read.Value!.Parts.Count.ShouldBeGreaterThanOrEqualTo(parts - 1);
        Traced(read.Value!, read.Value!.Functions.Single());
    }

    [Theory]
    [InlineData("battery, fuse 15, wotsit, lamp, ground", 19, "wotsit")]
    [InlineData("battery, fuse 15, ground", 25, "uses current")]
    [InlineData("", 1, "no route")]
    [InlineData("battery, battery, lamp", 10, "one supply")]
    public void What_is_not_understood_is_named_with_its_place(string line, int column, string message)
    {
        var problem = QuickRoute.Read(line).Problems.Single();
        problem.Column.ShouldBe(column);
        problem.Message.ShouldContain(message);
    }

    [Fact]
    public void Whatever_is_typed_gives_a_sheet_that_reads_or_a_problem_with_a_place()
    {
        var random = new Random(4711);
        string[] bits =
        [
            "battery",
            "fuse",
            "15",
            "key",
            "30 to 15",
            "lid",
            "switch",
            ",",
            ", ",
            "pin 2",
            "connector",
            "valve",
            "8 ohm",
            "ground",
            "\"",
            "relay",
            "contact",
            "at cab",
            "not",
            "and",
            "=",
            "#",
            "mains",
            "lamp 5 W",
            "ohm",
            "0",
            "-",
            "é",
            "stop",
            "button",
            "pump 4 A",
        ];
        for (var i = 0; i < 3000; i++)
        {
            var line = string.Join(' ', Enumerable.Range(0, random.Next(1, 24)).Select(_ => bits[random.Next(bits.Length)]));
            var sheet = QuickRoute.Read(line);
            if (sheet.Value is null)
                sheet.Problems[0].Column.ShouldBeInRange(1, line.Length + 1, line);
            else
                SheetReader.Read(sheet.Value).Problems.Where(p => p.Severity == Severity.Error).ShouldBeEmpty($"{line}\n{sheet.Value}");
        }
    }

    private static void Traced(Circuit circuit, MachineFunction function)
    {
        var setup = FunctionSetups.SetupFor(circuit, function).ShouldNotBeNull();
        FunctionState.Judge(new Machine(circuit).Run(setup), function).ShouldBe(Answer.Works, function.Name);
        var seen = new Reading(new Test(setup, new Probe.Sees(function.Name, true)), new ReadingResult.Word(Answer.Dead));
        var findings = Diagnostician.Diagnose(new FaultSpace(new Machine(circuit)), [seen], new DiagnosisOptions());
        findings.Next.ShouldNotBeEmpty(function.Name);
        findings.Suspects.Count.ShouldBeGreaterThan(1);
    }
}
