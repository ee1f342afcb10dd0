using CsCheck;
using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Tests.Notation;

public class NotationTests
{
    public static TheoryData<string> Sheets => [.. DemoSheets.All];

    [Theory, MemberData(nameof(Sheets))]
    public void A_sheet_written_and_read_again_is_the_same_circuit(string name)
    {
        var circuit = DemoSheets.Circuit(name);
        var again = DemoSheets.Read(SheetWriter.Write(circuit));
        again.ShouldBe(circuit);
        SheetWriter.Write(again).ShouldBe(SheetWriter.Write(circuit));
    }

    /// <summary>Any mutation gives problems that stand inside the text, and never an exception.</summary>
    [Theory, MemberData(nameof(Sheets))]
    public void A_mutated_sheet_is_answered_with_places(string name)
    {
        var text = DemoSheets.Text(name);
        const string noise = "-[]>:=\"#,.() ~*<AkΩ0\n\t";
        Gen.Select(Gen.Int[0, text.Length - 1], Gen.Int[0, 12], Gen.Int[0, noise.Length - 1].Array[0, 6])
            .Sample(
                (at, cut, put) =>
                {
                    var mutated = text[..at] + string.Concat(put.Select(i => noise[i])) + text[Math.Min(text.Length, at + cut)..];
                    var lines = mutated.Split('\n');
                    foreach (var p in SheetReader.Read(mutated).Problems)
                    {
                        p.Line.ShouldBeInRange(1, lines.Length);
                        p.Column.ShouldBeInRange(1, lines[p.Line - 1].Length + 1);
                        p.Message.ShouldNotBeNullOrWhiteSpace();
                    }
                },
                iter: 400
            );
    }

    [Fact]
    public void A_mutated_reading_line_is_answered_with_places()
    {
        var c = DemoSheets.Circuit("PR-3");
        const string noise = "-[]>:=\"#,.() ~*<AkΩ0V?";
        string[] lines =
        [
            "key=START, lift M1.S, jumper X3:4a K1.86 : hears K1 = clicks",
            "off G1, unplug S2 : ohm S1.B>S = 0.2ohm",
            " : V G1.+ G1.- = 12.6V?",
            "key=START : sees \"engine cranks\" = dead",
        ];
        Gen.Select(Gen.Int[0, lines.Length - 1], Gen.Int[0, 60], Gen.Int[0, 8], Gen.Int[0, noise.Length - 1].Array[0, 5])
            .Sample(
                (which, at, cut, put) =>
                {
                    var text = lines[which];
                    at = Math.Min(at, text.Length);
                    var mutated = text[..at] + string.Concat(put.Select(i => noise[i])) + text[Math.Min(text.Length, at + cut)..];
                    foreach (var p in ReadingReader.Read(c, mutated, Setup.Rest).Problems)
                        p.Column.ShouldBeInRange(1, mutated.Length + 1);
                },
                iter: 2000
            );
    }

    [Theory]
    [InlineData("12V", 12, Dimension.Volt)]
    [InlineData("24 V", 24, Dimension.Volt)]
    [InlineData("8mohm", 0.008, Dimension.Ohm)]
    [InlineData("8mΩ", 0.008, Dimension.Ohm)]
    [InlineData("4k7", 4700, Dimension.Ohm)]
    [InlineData("0.4A", 0.4, Dimension.Ampere)]
    [InlineData("400mA", 0.4, Dimension.Ampere)]
    [InlineData("2.5mm2", 2.5, Dimension.SquareMillimetre)]
    [InlineData("14awg", 14, Dimension.WireGauge)]
    [InlineData("1.2m", 1.2, Dimension.Metre)]
    [InlineData("4ft", 1.2192, Dimension.Metre)]
    [InlineData("5min", 300, Dimension.Second)]
    [InlineData("90C", 90, Dimension.Celsius)]
    [InlineData("2kW", 2000, Dimension.Watt)]
    [InlineData("-0.02V", -0.02, Dimension.Volt)]
    public void Values_take_units_and_prefixes_without_fuss(string text, double value, Dimension dimension)
    {
        QuantityText.TryParse(text, out var q).ShouldBeTrue();
        q.Dimension.ShouldBe(dimension);
        q.Value.ShouldBe(value, 1e-12);
        QuantityText.TryParse(QuantityText.Write(q), out var again).ShouldBeTrue();
        again.ShouldBe(q);
    }

    /// <summary>Every example line of the notation page, as it is written there.</summary>
    [Theory]
    [InlineData("key=START : sees \"engine cranks\" = dead")]
    [InlineData("key=START : hears K1 = silent")]
    [InlineData(" : V G1.+ G1.- = 12.6V")]
    [InlineData("key=START : V K1.86 = 0.1V                 # to the reference")]
    [InlineData("key=START gear=NEUTRAL : V X3:4b = 12.3V")]
    [InlineData("key=START : drop S2 = 11.9V")]
    [InlineData("off G1, unplug S2 : ohm S2 = OL")]
    [InlineData("pull F1 : ohm F1 = 0.2ohm")]
    [InlineData("key=START, lift M1.S, jumper X3:4a K1.86 : hears K1 = clicks")]
    [InlineData("key=RUN : lamp K1.30 = bright")]
    [InlineData(" : looks F1 = good")]
    [InlineData(" : replaced K1")]
    public void Example_lines_read_and_write_back_to_themselves(string line)
    {
        var c = DemoSheets.Circuit("PR-3");
        var reading = DemoSheets.Line(c, line);
        DemoSheets
            .Line(c, (reading.Test.Setup.IsRest ? " : " : "") + reading.ToString().TrimStart(' ', ':'))
            .ToString()
            .ShouldBe(reading.ToString());
    }

    [Fact]
    public void A_short_line_is_volts_in_the_setup_shown()
    {
        var c = DemoSheets.Circuit("PR-3");
        var shown = ReadingReader.ReadSetup(c, "key=START").Value!;
        ReadingReader.Read(c, "K1.86 0.1", shown).Value!.ToString().ShouldBe("key=START : V K1.86 = 0.1V");
        ReadingReader.Read(c, "K1.86", null).Problems.Single().Message.ShouldContain("“ : ”");
        ReadingReader.Read(c, "V K1.86 = 0.1V", null).Problems.Single().Message.ShouldContain("“ : ”");
        // What is looked at is so in any setup.
        ReadingReader.Read(c, "looks F1 = bad", null).Value!.ToString().ShouldBe(": looks F1 = bad");
        // As many write it.
        ReadingReader.Read(c, "K1.86 12,4", shown).Value!.ToString().ShouldBe("key=START : V K1.86 = 12.4V");
        ReadingReader.Read(c, "K1.86 G1.+ 0,1V", shown).Value!.ToString().ShouldBe("key=START : V K1.86 G1.+ = 0.1V");
    }

    /// <summary>A family in other letters is the same; one that is not known is told, since it brings no cautions.</summary>
    [Theory]
    [InlineData("machine \"Digger\" family off-road", "offroad", null)]
    [InlineData("machine \"Digger\" Stairlift", "stairlift", null)]
    [InlineData("machine \"Digger\" family platfrom", "platfrom", "did you mean platform?")]
    public void A_family_is_known_however_it_is_written(string machine, string family, string? suggestion)
    {
        var text = $"""
            sheet "one"
            {machine}
            nominal 12V dc
            part G1 battery
            part H1 lamp 12V 24W
            path G1.+ - H1 - G1.-
            function "lights": H1
            """;
        var circuit = SheetReader.Read(text).Value.ShouldNotBeNull();
        circuit.Family.ShouldBe(family);
        var told = SheetChecker.Check(circuit, text).SingleOrDefault(p => p.Message.Contains("family", StringComparison.Ordinal));
        (told?.Suggestion).ShouldBe(suggestion);
    }

    [Theory]
    [InlineData("S2 open")]
    [InlineData("S1 resists 2.9ohm B-S")]
    [InlineData("X3:4 resists 4ohm")]
    [InlineData("GND1/w27 resists 2ohm")]
    [InlineData("w21 shorts X3:5a 0.1ohm")]
    [InlineData("K1 contact 30-87 resists 5ohm")]
    [InlineData("M1 contact resists 0.05ohm")]
    [InlineData("G1 flat 10.8V")]
    public void Fault_words_read_and_write_back_to_themselves(string words)
    {
        var c = DemoSheets.Circuit("PR-3");
        DemoSheets.Fault(c, words).ToString().ShouldBe(words);
        new Core.Solving.Machine(c).Check([DemoSheets.Fault(c, words)]);
    }

    /// <summary>A control may bear the name of a setup word; what is written is read again, whatever it is called.</summary>
    [Theory]
    [InlineData("lift")]
    [InlineData("off")]
    [InlineData("pull")]
    [InlineData("feed")]
    [InlineData("press")]
    [InlineData("move")]
    public void A_control_named_like_a_setup_word_is_moved_like_any_other(string name)
    {
        var c = DemoSheets.Read(
            $"sheet \"named\"\nnominal 12V dc\ncontrol {name}: DOWN*, UP\npart G1 battery 12V\npart S1 switch\n  closed 1-2 "
                + $"when {name}=UP\npart H1 lamp 12V 5W\npath G1.+ - S1 - H1 - G1.-\nfunction \"lights\": H1 when {name}=UP\n"
        );
        foreach (
            var line in new[]
            {
                $"{name}=UP : sees \"lights\" = works",
                $"off G1, {name}=UP : ohm S1 = 0.1ohm",
                $"lift H1.1, {name}=UP : V S1.2 = 12V",
            }
        )
            DemoSheets.Line(c, line).ToString().ShouldBe(line);
    }

    /// <summary>A setup made from another one reads as itself, also when the other has been read before.</summary>
    [Fact]
    public void A_setup_made_from_another_one_is_written_by_its_own_words()
    {
        var plain = DemoSheets.Line(DemoSheets.Circuit("PR-3"), "key=START : V K1.86").Test.Setup;
        plain.ToString().ShouldBe("key=START");
        var moved = plain with { Moved = ["panel"] };
        moved.ToString().ShouldBe("key=START, move \"panel\"");
        moved.ShouldNotBe(plain);
        var off = plain with { Interventions = [new Core.Circuits.Intervention.Off("G1")] };
        off.InterventionsText.ShouldBe("off G1");
        off.ShouldNotBe(plain);
    }

    [Theory]
    [InlineData("part F1 fuse 10Q blade", 1)]
    [InlineData("part F1 fuse 10A blade \"main", 1)]
    [InlineData("part F1 fues 10A blade", 1)]
    public void A_bad_line_is_reported_once_and_not_again_where_it_is_named(string fuse, int problems)
    {
        var read = SheetReader.Read(
            $"""
            sheet "one bad rating"
            nominal 12V dc
            reference G1.-
            part G1 battery 12V
            {fuse}
            part H1 lamp 12V 21W
            part GND1 stud
            path G1.+ -[w1]- F1 -[w2]- H1 -[w3]- GND1 -[w4]- G1.-
            function "lamp lights": H1
            code 12 "fuse" about w2
            """
        );
        read.Value.ShouldBeNull();
        read.Problems.Count(p => p.Severity == Severity.Error).ShouldBe(problems, string.Join('\n', read.Problems));
        read.Problems[0].Line.ShouldBe(5);
    }
}
