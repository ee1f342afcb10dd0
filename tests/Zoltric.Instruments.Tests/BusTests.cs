using System.Globalization;
using Zoltric.Instruments.Buses;

namespace Zoltric.Instruments.Tests;

/// <summary>
/// Codes out of a log of the bus. The text is written by can-utils; the bytes are laid out by hand after SAE J1939-21 and -73 (from
/// memory): SPN 168 FMI 1, three times, is A8 00 01 03; SPN 520192, the first of the makers' own, has its high bits in the third byte.
/// </summary>
public class BusTests
{
    /// <summary>Frames as another log format has them, turned into ours by asc2log of can-utils.</summary>
    private static string Log(params string[] frames)
    {
        var lines = frames.Select(
            (f, i) => string.Create(CultureInfo.InvariantCulture, $"{0.05 * i, 11:0.000000} 1  {f.Split(' ')[0]}x       Rx   d 8 {f[9..]}")
        );
        return Bench.Run(
            "asc2log",
            "date Sat Nov 28 09:00:00.000 am 2026\nbase hex  timestamps absolute\nno internal events logged\n"
                + string.Join('\n', lines)
                + "\n"
        );
    }

    private static BusTrouble Trouble(string log) => DiagnosticMessages.Read(BusLog.Read(new StringReader(log)).Frames);

    [Fact]
    public void One_code_comes_in_one_frame()
    {
        var log = Log("18FECA00 04 FF A8 00 01 03 FF FF");
        log.ShouldContain("18FECA00#04FFA8000103FFFF");
        var trouble = Trouble(log);
        trouble.Codes.ShouldHaveSingleItem().ShouldBe(new BusCode(0, 168, 1, 3, true));
        trouble.Lamps[0].ShouldBe(new BusLamps(false, false, true, false));
        trouble.AsRead.Single().Code.Number.ShouldBe("168-1");
    }

    /// <summary>Two codes are ten bytes: announced, and sent in two packets. The second parameter is 520192 = 7F000 hexadecimal.</summary>
    private static readonly string[] Two =
    [
        "1CECFF03 20 0A 00 02 FF CA FE 00",
        "1CEBFF03 01 10 FF 64 00 04 01 00",
        "1CEBFF03 02 F0 E5 7F FF FF FF FF",
    ];

    [Fact]
    public void Two_codes_come_in_packets_and_are_put_together()
    {
        var trouble = Trouble(Log(Two));
        trouble.Codes.ShouldBe([new BusCode(3, 100, 4, 1, true), new BusCode(3, 520192, 5, null, true)]);
        trouble.Lamps[3].Stop.ShouldBeTrue();
        trouble.Broken.ShouldBe(0);
    }

    [Fact]
    public void A_packet_lost_makes_no_code_and_is_counted()
    {
        Trouble(Log(Two[0], Two[2])).ShouldSatisfyAllConditions(t => t.Codes.ShouldBeEmpty(), t => t.Broken.ShouldBe(1));
        Trouble(Log(Two[0], Two[1], Two[0], Two[1], Two[2]))
            .ShouldSatisfyAllConditions(t => t.Codes.Count.ShouldBe(2), t => t.Broken.ShouldBe(1));
    }

    [Fact]
    public void Packets_of_two_modules_do_not_mix()
    {
        var other = Two.Select(f => f.Replace("FF03", "FF05", StringComparison.Ordinal)).ToArray();
        Trouble(Log(Two[0], other[0], Two[1], other[1], other[2], Two[2])).Codes.Select(c => c.From).ShouldBe([5, 5, 3, 3]);
    }

    [Fact]
    public void A_code_that_is_left_out_later_is_stored_where_the_module_says_so_and_gone_where_not()
    {
        string[] log = ["18FECA00 04 FF A8 00 01 03 FF FF", "18FECB00 04 FF A8 00 01 03 FF FF", "18FECA00 00 FF 00 00 00 00 FF FF"];
        Trouble(Log(log[..2])).Codes.ShouldHaveSingleItem().Active.ShouldBeTrue();
        Trouble(Log(log)).Codes.ShouldHaveSingleItem().Active.ShouldBeFalse();
        Trouble(Log(log[0], log[2])).Codes.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("  can0  18FECA00   [8]  04 FF A8 00 01 03 FF FF", true)]
    [InlineData(" (1436509052.249713)  can0  18FECA00   [8]  04 FF A8 00 01 03 FF FF", true)]
    [InlineData("(1436509052.249713) can0 18FECA00#04FFA8000103FFFF R", true)]
    [InlineData("(1436509052.249713) can0 18FECA00#04FFA8000103FFF", false)]
    [InlineData("  can0  18FECA00   [8]  04 FF A8", false)]
    [InlineData("(1436509052.249713) can0 123#R", false)]
    [InlineData("(1436509052.249713) can0 FFFFFFFF#00", false)]
    [InlineData("168-1 active 3", false)]
    public void Lines_of_a_log_are_frames_or_none(string line, bool frame) => (BusLog.Frame(line) is not null).ShouldBe(frame);
}
