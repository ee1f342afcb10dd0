using Zoltric.Core.Figures;

namespace Zoltric.Core.Tests.Figures;

/// <summary>Faces of plugs and pin lists.</summary>
public sealed class PinFaceTests
{
    private static string Drawn(int pins, int rows, PinCount count, bool wireSide = false) =>
        Drawn([.. Enumerable.Range(1, pins).Select(n => $"{n}")], rows, count, wireSide);

    private static string Drawn(string[] pins, int rows, PinCount count, bool wireSide = false) =>
        string.Join(
            " / ",
            PinFace
                .Of(pins, rows, count, wireSide)
                .GroupBy(p => p.Row)
                .OrderBy(r => r.Key)
                .Select(r => string.Join(' ', r.OrderBy(p => p.Column).Select(p => p.Pin)))
        );

    /// <summary>ISO 15031-3: 1 to 8 above 9 to 16, seen on the mating side; from the wires left and right change places.</summary>
    [Fact]
    public void Pins_lie_as_they_are_counted()
    {
        Drawn(16, 2, PinCount.Rows).ShouldBe("1 2 3 4 5 6 7 8 / 9 10 11 12 13 14 15 16");
        Drawn(16, 2, PinCount.Rows, wireSide: true).ShouldStartWith("8 7 6");
        Drawn(6, 2, PinCount.Columns).ShouldBe("1 3 5 / 2 4 6");
        Drawn(6, 2, PinCount.ThereAndBack).ShouldBe("1 2 3 / 6 5 4");
        Drawn(9, 3, PinCount.Spiral).ShouldBe("1 2 3 / 8 9 4 / 7 6 5");
        Drawn(["A1", "A2", "B1", "B2"], 1, PinCount.Rows).ShouldBe("A1 A2 / B1 B2");
        Drawn(5, 99, PinCount.Rows).ShouldBe("1 / 2 / 3 / 4 / 5");
        Drawn(0, 2, PinCount.Rows).ShouldBeEmpty();
    }

    /// <summary>Whatever the shape, every pin has one place and no two share one.</summary>
    [Fact]
    public void No_pin_is_lost_and_no_place_is_taken_twice()
    {
        foreach (var count in Enum.GetValues<PinCount>())
        foreach (var pins in new[] { 1, 2, 7, 24, 48, 121 })
            for (var rows = 1; rows <= 12; rows++)
            {
                var face = PinFace.Of([.. Enumerable.Range(1, pins).Select(n => $"{n}")], rows, count, rows % 2 == 0);
                face.Select(p => p.Pin).Distinct().Count().ShouldBe(pins);
                face.Select(p => (p.Row, p.Column)).Distinct().Count().ShouldBe(pins);
                face.ShouldAllBe(p => p.Row >= 0 && p.Column >= 0);
            }
    }

    [Fact]
    public void A_pasted_list_is_read_and_two_are_compared()
    {
        var (first, problems) = PinList.Read("Pin\tColour\tTo\n1\tRD\tfuse 3\n2\tBK\tearth\n3\tYE\tvalve\n5\tWH\t");
        problems.ShouldBeEmpty();
        first.Select(p => p.Pin).ShouldBe(["1", "2", "3", "5"]);
        var (second, _) = PinList.Read("pin 1; rd; Fuse 3\n2 | BK/WH | earth\n4, YE, valve\n5, WH, lamp\n6, GN");
        var differ = PinList.Compare(first, second);
        differ
            .Select(d => $"{d.Pin}: {d.Differs}")
            .ShouldBe([
                "2: BK against BK/WH",
                "3: only in the first",
                "5: the second says more: lamp",
                "4: only in the second",
                "6: only in the second",
            ]);
        var (swapped, _) = PinList.Read("1, BK, earth\n2, RD, fuse 3");
        PinList.Compare([.. first.Take(2)], swapped).ShouldAllBe(d => d.Differs.StartsWith("stands at pin", StringComparison.Ordinal));
        PinList.Compare(first, first).ShouldBeEmpty();
    }

    [Fact]
    public void What_is_no_pin_is_said_by_its_line()
    {
        PinList
            .Read("1, RD\n1, BK\nhello there, x\n")
            .Problems.ShouldBe([
                "Line 2: pin 1 stands twice; the first is taken.",
                "Line 3: “hello there” is no pin: write its number first.",
            ]);
        PinList.Read("").Pins.ShouldBeEmpty();
        PinList.Read(string.Join('\n', Enumerable.Range(1, 999))).Pins.Count.ShouldBe(400);
    }
}
