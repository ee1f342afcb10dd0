using Zoltric.Core.Checking;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Tests.Notation;

/// <summary>What an older sheet means otherwise today is told, with what would stand there: taking it ends the warning.</summary>
public sealed class OneKeyMendTests
{
    private const string Older = """
        sheet "older"
        nominal 230V ac
        control key: OFF*, ON
        part N1 mains 230V
        part U1 psu 230V:24V "supply"
        part S1 switch
          closed 1-2 when key=ON
        part A1 module "controller"
          supply 1 ground 2
          input 3 high>5V
          output 4 high when powered and in3
        part X1 connector 2 "field plug"
        part H1 lamp 24V 2W
        path N1.L - U1.L
        path U1.N - N1.N
        path U1.+ - A1.1
        path A1.2 - U1.-
        path U1.+ - S1 - A1.3
        path A1.4 - X1:1 - H1 - X1:2 - U1.-
        function "lamp lights": H1 when key=ON
        """;

    private static List<Problem> Mendable(string text) =>
        [.. SheetChecker.Check(SheetReader.Read(text).Value.ShouldNotBeNull(), text).Where(p => p.Replacement is not null)];

    [Fact]
    public void Each_suggestion_taken_ends_its_warning_and_the_sheet_reads_well()
    {
        var text = Older.ReplaceLineEndings("\n");
        var taken = new List<string>();
        while (Mendable(text) is [var p, ..])
        {
            var lines = text.Split('\n');
            var line = lines[p.Line - 1];
            line.Substring(p.Column - 1, p.Found!.Length).ShouldBe(p.Found);
            lines[p.Line - 1] = line[..(p.Column - 1)] + p.Replacement + line[(p.Column - 1 + p.Found.Length)..];
            text = string.Join('\n', lines);
            taken.Add(p.Replacement!);
            taken.Count.ShouldBeLessThan(10);
        }
        taken.ShouldContain("supply 1 ground 2 from=18V");
        taken.ShouldContain("U1 psu separated");
        taken.ShouldContain(t => t == "X1:2<" || t == "X1:1<");
        var mended = SheetReader.Read(text).Value.ShouldNotBeNull();
        SheetChecker.Check(mended, text).ShouldAllBe(p => p.Severity == Severity.Warning);
    }
}
