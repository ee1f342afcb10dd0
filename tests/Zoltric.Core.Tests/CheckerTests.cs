using Zoltric.Core.Checking;

namespace Zoltric.Core.Tests;

/// <summary>Each rule of the checker with a sheet that breaks it.</summary>
public class CheckerTests
{
    private const string Head =
        "sheet \"s\"\nnominal 12V dc\ncontrol on: OFF*, ON\npart G1 battery 12V\npart F1 fuse 10A\npart S1 switch\n  "
        + "closed 1-2 when on=ON\npart H1 lamp 12V 21W\n";
    private const string Good =
        Head
        + "path G1.+ -[w1 RD 1.5mm2 1m]- F1 -[w2 RD 1.5mm2 1m]- S1 -[w3 RD 1.5mm2 1m]- H1 -[w4 BK 1.5mm2 1m]- G1.-\n"
        + "function \"lights\": H1 when on=ON\n";

    [Fact]
    public void A_sound_sheet_and_the_demo_sheets_pass_without_a_word()
    {
        SheetChecker.Check(DemoSheets.Read(Good), Good).ShouldBeEmpty();
        foreach (var name in DemoSheets.All)
            SheetChecker
                .Check(DemoSheets.Circuit(name), DemoSheets.Text(name))
                // One machine holds mains and 24 V: its header says one of them, and is left so.
                .Where(p => name != "DR-6" || !p.Message.StartsWith("The header says", StringComparison.Ordinal))
                .ShouldBeEmpty(name);
    }

    /// <summary>Both came up where a sheet was written for another machine: nothing worked and nothing was said.</summary>
    [Fact]
    public void Phases_in_the_wrong_order_and_modules_by_the_wrong_volts_are_told()
    {
        const string Panel = """
            sheet "panel"
            nominal 400V ac
            part T0 mains 400V 3ph
            part U1 psu 230V:24V separated
            part B9 phasemonitor 400V
            part A1 module
              supply 1 ground 2
              output 3 high
            part H1 lamp 24V 2.4W
            path T0.L1 - B9.L1
            path T0.L2 - B9.L2
            path T0.L3 - B9.L3
            path T0.L1 - U1.L
            path U1.N - T0.N
            path U1.+ - B9.11>14 - A1.1
            path A1.2 - U1.-
            path A1.3 - H1 - U1.-
            """;
        string[] Said(string sheet) =>
            [.. SheetChecker.Check(DemoSheets.Read(sheet), sheet).Select(p => $"{p.Line}: {p.Message} {p.Suggestion}")];
        Said(Panel).ShouldHaveSingleItem().ShouldStartWith("7: A1 module comes up from 300 V");
        Said(Panel).Single().ShouldEndWith("write from=18V behind its supply pins");
        var right = Panel.Replace("ground 2", "ground 2 from=18V", StringComparison.Ordinal);
        Said(right).ShouldBeEmpty();
        Said(
                right
                    .Replace("T0.L1 - B9.L1", "T0.L3 - B9.L1", StringComparison.Ordinal)
                    .Replace("T0.L3 - B9.L3", "T0.L1 - B9.L3", StringComparison.Ordinal)
            )
            .ShouldContain(s => s.StartsWith("5: B9 phase monitor has its phases in the wrong order", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(" -[w4 BK 1.5mm2 1m]- G1.-", "", "no way", "part H1")]
    [InlineData(
        "w2 RD 1.5mm2 1m]- S1 -[w3 RD 1.5mm2 1m]- H1",
        "w2 RD 1.5mm2 1m]- H1.2\npath S1 -[w3 RD 1.5mm2 1m]- H1",
        "shorted at rest",
        "part F1"
    )]
    [InlineData("closed 1-2 when on=ON", "closed 1-2 when on=OFF", "cannot work", "function")]
    [InlineData("H1 when on=ON", "H1 when on=ON and on=OFF", "No setting", "function")]
    [InlineData("fuse 10A", "fuse 1A", "its own load", "part F1")]
    [InlineData("fuse 10A", "fuse 40A", "too small", "path")]
    [InlineData("fuse 10A", "fuse", "never to open", "part F1")]
    [InlineData("F1 -[w2 RD 1.5mm2 1m]- S1", "S1", "without a fuse", "part H1")]
    [InlineData("F1 -[w2 RD 1.5mm2 1m]- S1", "S1", "No path reaches", "part F1")]
    [InlineData(
        "part F1 fuse",
        "part G2 charger 12V when on=ON\npath G2.+ = G1.+\npath G2.- = G1.-\npart F1 fuse",
        "never charges",
        "part G2"
    )]
    public void A_broken_rule_is_told_at_its_line(string right, string wrong, string word, string at)
    {
        var text = Good.Replace(right, wrong, StringComparison.Ordinal);
        text.ShouldNotBe(Good);
        var problems = SheetChecker.Check(DemoSheets.Read(text), text);
        var problem = problems
            .FirstOrDefault(p => p.Message.Contains(word, StringComparison.OrdinalIgnoreCase))
            .ShouldNotBeNull(string.Join('\n', problems));
        text.Split('\n')[problem.Line - 1].ShouldStartWith(at);
        problem.Suggestion.ShouldNotBeNullOrEmpty();
    }

    /// <summary>
    /// The contacts of a change-over never join feed and home at once: thin wires of the way home are not behind the fuse.
    /// </summary>
    [Fact]
    public void Thin_wires_of_the_way_home_behind_a_change_over_are_no_matter()
    {
        const string text = """
            sheet "Gate motor GM-1"
            nominal 24V dc
            drawn from maker
            reference G1.-
            control way: SHUT*, OPEN
            part G1 battery 24V
            part F1 fuse 60A
            part S1 switch
              closed 1-2 when way=OPEN
            part K1 relay 24V 300ohm
            part M1 motor 24V 20A
            part H1 lamp 24V 2W
            part SP1 splice
            path G1.+ -[w1 16mm2 1m]- F1 -[w2 16mm2 1m]- K1.87
            path SP1 -[w3 16mm2 1m]- K1.87a
            path K1.30 -[w4 16mm2 1m]- M1 -[w5 16mm2 1m]- SP1 -[w6 16mm2 1m]- G1.-
            path F1.2 -[w7 0.5mm2 1m]- S1 -[w8 16mm2 1m]- K1.86>85 -[w9 0.5mm2 1m]- SP1
            path S1.2 -[w10 16mm2 1m]- H1 -[w11 0.5mm2 1m]- SP1
            function "gate opens": M1 when way=OPEN
            """;
        SheetChecker
            .Check(DemoSheets.Read(text), text)
            .Where(p => p.Message.Contains("too small", StringComparison.Ordinal))
            .ShouldHaveSingleItem()
            .Message.ShouldStartWith("w7");
    }
}
