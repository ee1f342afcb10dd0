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
}
