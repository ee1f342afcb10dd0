using Zoltric.Core.Exchange;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Exchange;

/// <summary>A wire list as it comes out of an office: every row is placed, or is in the other list with the reason.</summary>
public class WireListTests
{
    private static readonly string[][] Table =
    [
        ["Wire no.", "From", "To", "Colour", "mm²", "Length"],
        ["1", "G1:+", "F1:1", "RD", "2,5", "0.5"],
        ["2", "F1:2", "X1:1", "RD", "1.5", "1.2 m"],
        ["3", "X1:1", "S1:1", "RD", "1.5", "0.8m"],
        ["4", "S1:2", "-K1:86", "WH RD", "1", "0.4"],
        ["5", "K1:85", "GND1", "BK", "1", "0.4"],
        ["6", "F1:2", "K1:30", "RD", "2.5", "0.6"],
        ["7", "K1:87", "M1:1", "YE", "2.5", "3"],
        ["8", "M1:2", "GND1", "BK", "2.5", "1"],
        ["9", "GND1", "G1:-", "BK", "6", "1"],
        ["7", "K1:87", "M1:1", "YE", "2.5", "3"], // 11 doubled
        ["8", "M1:2", "X1:4", "BK", "2.5", "1"], // 12 same number, other ends
        ["10", "KI:85", "GND1", "BK", "1", "1"], // 13 misspelt
        ["11", "K1:88", "GND1", "BK", "1", "1"], // 14 no such terminal
        ["12", "K1:87a", "", "BK", "1", "1"], // 15 missing end
        ["13", "K1:87a", "H1:1", "BK", "fat", "1"], // 16 no size
        ["", "", "", "", "", ""],
        ["14", "see note 3", "GND1", "", "", ""], // 18 no end at all
        ["15", "M1:2", "M1:2", "BK", "1", "1"], // 19 to itself
        ["16", "S1", "GND1", "BK", "1", "1"], // 20 no terminal named
    ];

    [Fact]
    public void Columns_are_found_by_their_heads()
    {
        WireColumns.Guess(Table[0]).ShouldBe(new WireColumns(0, 1, -1, 2, -1, 3, 4, 5));
        WireColumns
            .Guess(["Conductor", "Device 1", "Pin 1", "Device 2", "Pin 2", "Cross section", "Color", "Length m"])
            .ShouldBe(new WireColumns(0, 1, 2, 3, 4, 6, 5, 7));
    }

    [Fact]
    public void Every_row_is_placed_or_stands_in_the_other_list_with_its_reason()
    {
        var result = WireListImport.Read(Table, WireColumns.Guess(Table[0]), "fan", 24);
        result.Placed.Select(p => p.Row).ShouldBe([2, 3, 4, 5, 6, 7, 8, 9, 10]);
        (int Row, string Reason, string? Suggestion)[] expected =
        [
            (11, "row 8", "placed once"),
            (12, "row 9", "right number"),
            (13, "KI stands here only", "K1"),
            (14, "no terminal 88", "8"),
            (15, "second end is missing", "both"),
            (16, "no wire size", "mm²"),
            (18, "names no part", "K1:86"),
            (19, "same point", null),
            (20, "none is named", "1"),
        ];
        result.Unplaced.Select(u => u.Row).ShouldBe(expected.Select(e => e.Row));
        foreach (var (u, e) in result.Unplaced.Zip(expected))
        {
            u.Reason.ShouldContain(e.Reason);
            if (e.Suggestion is not null)
                u.Suggestion.ShouldNotBeNull().ShouldContain(e.Suggestion);
        }
        // Rows that hold anything: one list or the other.
        (result.Placed.Count + result.Unplaced.Count).ShouldBe(Table.Skip(1).Count(r => r.Any(c => c.Length > 0)));
    }

    [Fact]
    public void The_sheet_made_of_it_reads_and_runs()
    {
        var sheet = WireListImport.Read(Table, WireColumns.Guess(Table[0]), "fan", 24).Sheet;
        var circuit = SheetReader.Read(sheet).Value.ShouldNotBeNull(sheet);
        circuit.Wires.Count.ShouldBe(9);
        circuit.FindPart("K1")!.Kind.Word.ShouldBe("relay");
        // With the switch on the relay pulls in and the motor has its volts; that is the function proposed.
        circuit.Functions.Single().Name.ShouldBe("M1 turns");
        var op = new Machine(circuit).Run(ReadingReader.ReadSetup(circuit, "s1=ON").Value!);
        op.Volts(new Core.Circuits.Terminal("M1", "1")).ShouldBe(25, 1.5);
    }

    [Fact]
    public void An_exported_wire_list_comes_back_as_the_same_wires()
    {
        foreach (var name in DemoSheets.All)
        {
            var circuit = DemoSheets.Circuit(name);
            IReadOnlyList<IReadOnlyList<string>> rows = [WireList.Columns, .. WireList.Rows(circuit)];
            var back = WireListImport.Read(rows, WireColumns.Guess(WireList.Columns), "back", 24, circuit);
            back.Unplaced.ShouldBeEmpty(name);
            back.Placed.Count.ShouldBe(circuit.Wires.Count + circuit.Bonds.Count, name);
        }
    }
}
