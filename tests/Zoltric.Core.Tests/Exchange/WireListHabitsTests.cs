using Zoltric.Core.Checking;
using Zoltric.Core.Exchange;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Tests.Exchange;

/// <summary>Wire lists of five habits: terminals after a stroke, a dash, a blank or in a column, names in words, no header at
/// all.</summary>
public class WireListHabitsTests
{
    /// <summary>A workshop's own, with names as they are said.</summary>
    private static readonly string[][] Workshop =
    [
        ["Wire", "From", "To", "Clr", "mm2"],
        ["1", "BAT+", "FB1/1", "RD", "6"],
        ["2", "FB1/1", "PTO SW/1", "RD", "1.5"],
        ["3", "PTO SW/2", "X12-3", "YE", "1.5"],
        ["4", "X12-3", "PTO SOL/1", "YE", "1.5"],
        ["5", "PTO SOL/2", "GND 2", "BK", "1.5"],
        ["6", "FB1/2", "WORK LAMP SW/1", "OG", "1.5"],
        ["7", "WORK LAMP SW/2", "WORK LAMP", "OG", "1.5"],
        ["8", "WORK LAMP", "GND 2", "BK", "1.5"],
        ["9", "BAT+", "FB1/2", "RD", "6"],
        ["10", "GND 2", "BAT-", "BK", "10"],
        ["11", "FB1/1", "HOUR METER/1", "RD", "1"],
    ];

    /// <summary>Devices and pins in columns of their own, sizes in gauge.</summary>
    private static readonly string[][] Columns =
    [
        ["#", "From component", "Cavity 1", "To component", "Cavity 2", "Color", "Gauge"],
        ["101", "BATT", "POS", "F1", "1", "RD", "8 AWG"],
        ["102", "F1", "2", "IGN SW", "B", "RD", "14 AWG"],
        ["103", "IGN SW", "R", "K1", "86", "PK", "18 AWG"],
        ["104", "K1", "85", "GND1", "", "BK", "18 AWG"],
        ["105", "F1", "2", "K1", "30", "RD", "12 AWG"],
        ["106", "K1", "87", "FUEL PUMP", "+", "WH", "12 AWG"],
        ["107", "FUEL PUMP", "-", "GND1", "", "BK", "12 AWG"],
    ];

    /// <summary>Blanks before the terminals, no colours, a relay by its five legs, and no way home from the studs.</summary>
    private static readonly string[][] Blanks =
    [
        ["No.", "Start", "End"],
        ["W1", "BATTERY +", "BREAKER1 IN"],
        ["W2", "BREAKER1 OUT", "RLY3 3"],
        ["W3", "BREAKER1 OUT", "HORN BTN 1"],
        ["W4", "HORN BTN 2", "RLY3 1"],
        ["W5", "RLY3 2", "GND1"],
        ["W6", "RLY3 5", "HORN +"],
        ["W7", "HORN -", "GND2"],
    ];

    /// <summary>Reference designations with dashes before them, as an office draws them; a door that nobody works.</summary>
    private static readonly string[][] Office =
    [
        ["Conductor", "Source", "Destination", "Cross section", "Length"],
        ["1", "-G1:+", "=B1+C2-F1:1", "2,5", "1,0"],
        ["2", "-F1:2", "-S1:13", "1,5", "2,0"],
        ["3", "-S1:14", "-B1:1", "1,5", "4,0"],
        ["4", "-B1:2", "-K1:A1", "1,0", "4,0"],
        ["5", "-K1:A2", "-G1:-", "1,0", "1,0"],
        ["6", "-F1:2", "-K1:11", "1,5", "0,5"],
        ["7", "-K1:14", "-H1:X1", "1,5", "6,0"],
        ["8", "-H1:X2", "-G1:-", "1,5", "6,0"],
    ];

    /// <summary>Torn off above its first wire, columns in an order of its own.</summary>
    private static readonly string[][] Headless =
    [
        ["RD", "BAT+", "FU1-1", "4 mm2"],
        ["RD", "FU1-2", "FAN SW-1", "1.5 mm2"],
        ["BN", "FAN SW-2", "FAN MOTOR-1", "1.5 mm2"],
        ["BK", "FAN MOTOR-2", "BAT-", "1.5 mm2"],
    ];

    public static TheoryData<string, string[]> Habits =>
        new()
        {
            { nameof(Workshop), ["pto sol pulls", "work lamp lights"] },
            { nameof(Columns), ["fuel pump turns"] },
            { nameof(Blanks), ["HORN sounds"] },
            { nameof(Office), ["H1 lights"] },
            { nameof(Headless), ["fan motor turns"] },
        };

    private static string[][] Table(string name) =>
        name switch
        {
            nameof(Workshop) => Workshop,
            nameof(Columns) => Columns,
            nameof(Blanks) => Blanks,
            nameof(Office) => Office,
            _ => Headless,
        };

    [Theory, MemberData(nameof(Habits))]
    public void All_rows_are_placed_and_each_load_that_is_reached_has_a_function(string habit, string[] functions)
    {
        var rows = Table(habit).Select(r => (IReadOnlyList<string>)r).ToList();
        var columns = WireColumns.Find(rows, out var hasHeader);
        hasHeader.ShouldBe(habit != nameof(Headless));
        if (!hasHeader)
            rows.Insert(0, rows[0].Select((_, i) => $"column {i + 1}").ToList());
        var result = WireListImport.Read(rows, columns, habit, 12);
        result.Unplaced.ShouldBeEmpty();
        result.Placed.Count.ShouldBe(rows.Count - 1);
        result.Functions.ShouldBe(functions, ignoreOrder: true);
        // The sheet works as it stands: nothing the checker calls an error.
        var circuit = SheetReader.Read(result.Sheet).Value.ShouldNotBeNull(result.Sheet);
        SheetChecker
            .Check(circuit, result.Sheet)
            .Where(p => p.Severity == Severity.Error)
            .Select(p => p.Message)
            .ShouldBeEmpty(result.Sheet);
    }

    [Fact]
    public void Ways_home_by_the_frame_are_said()
    {
        var result = WireListImport.Read(Blanks, WireColumns.Guess(Blanks[0]), "horn", 12);
        result.Grounds.ShouldBe(["GND1 to BATTERY.-", "GND2 to BATTERY.-"]);
        result.Placed.Single(p => p.Row == 3).Path.ShouldContain("RLY3.30");
        result.Placed.Single(p => p.Row == 3).Assumed.ShouldNotBeNull().ShouldContain("RLY3:3 is its 30");
    }

    [Theory]
    [InlineData("BAT+", "BAT.+")]
    [InlineData("BATT -", "BATT.-")]
    [InlineData("X12-3", "X12.3")]
    [InlineData("PTO SW/1", "PTO_SW.1")]
    [InlineData("K1 A1", "K1.A1")]
    [InlineData("K1 : 87a", "K1.87a")]
    [InlineData("X3 pin 4", "X3.4")]
    [InlineData("GND 2", "GND_2")]
    [InlineData("=A1+B2-K7:14", "K7.14")]
    [InlineData("see note 3", null)]
    [InlineData("3 core", null)]
    [InlineData("to be confirmed", null)]
    public void An_end_as_people_write_it(string cell, string? end) => WireEnd.Read(cell, "")?.ToString().ShouldBe(end);

    [Fact]
    public void A_load_that_nothing_reaches_is_said()
    {
        string[][] table =
        [
            ["Wire", "From", "To"],
            ["1", "BAT+", "F1:1"],
            ["2", "H1:1", "H1:2"],
            ["3", "BAT-", "GND1"],
        ];
        var result = WireListImport.Read(table, WireColumns.Guess(table[0]), "x", 12);
        result.Functions.ShouldBeEmpty();
        result.Unreached.Single().ShouldContain("H1");
    }
}
