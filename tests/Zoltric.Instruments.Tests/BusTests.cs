using System.Diagnostics;
using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Simulation;
using Zoltric.Core.Solving;
using Zoltric.Instruments.Buses;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.StandIns;

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

    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static Task<BusHeard> Heard(string address, double seconds) =>
        BusListener.Listen(InstrumentAddress.Read(address).Address!, TimeSpan.FromSeconds(seconds), Stop);

    /// <summary>The text of can-utils given out over the network by socat, which hangs up at its end.</summary>
    [Fact]
    public async Task A_bus_is_listened_to_as_another_program_gives_it_out()
    {
        var file = Path.GetTempFileName();
        await File.WriteAllTextAsync(file, Log([.. Two, "18FECB03 00 FF A8 00 01 03 FF FF"]), Stop);
        using var there = Process.Start(
            new ProcessStartInfo("socat", ["-u", "-d", "-d", $"OPEN:{file}", "TCP-LISTEN:0,bind=127.0.0.1"])
            {
                RedirectStandardError = true,
            }
        )!;
        string? said;
        do said = await there.StandardError.ReadLineAsync(Stop);
        while (said is not null && !said.Contains("listening on", StringComparison.Ordinal));
        var heard = await Heard(said.ShouldNotBeNull().Split(' ')[^1].Replace("AF=2", "", StringComparison.Ordinal).Trim(), 5);
        heard.CutShort.ShouldNotBeNull().ShouldContain("hung up");
        var trouble = DiagnosticMessages.Read(heard.Frames);
        trouble.AsRead.Select(c => (c.Code.Number, c.Status)).ShouldBe([("100-4", "active"), ("520192-5", "active"), ("168-1", "stored")]);
        File.Delete(file);
    }

    /// <summary>The stand-in's lines are frames to can-utils as well, and three codes of it come in packets.</summary>
    [Fact]
    public async Task The_stand_in_says_its_codes_once_a_second()
    {
        await using var there = new BusStandIn(() => [("1550-5", Answer.Active), ("520192-31", Answer.Active), ("168-1", Answer.Stored)]);
        var heard = await Heard(there.Address, 2.5);
        heard.ShouldSatisfyAllConditions(h => h.CutShort.ShouldBeNull(), h => h.Unread.ShouldBe(0));
        DiagnosticMessages
            .Read(heard.Frames)
            .AsRead.Select(c => (c.Code.Number, c.Status))
            .ShouldBe([("1550-5", "active"), ("520192-31", "active"), ("168-1", "stored")]);
        var port = there.Address.Split(':')[1];
        var peer = await Task.Run(() => Bench.Run("bash", "", "-c", $"head -n 4 < /dev/tcp/127.0.0.1/{port} | log2asc can0"), Stop);
        peer.ShouldContain("18ECFF00x");
    }

    [Fact]
    public async Task A_bus_without_power_and_what_is_no_bus_are_said()
    {
        await using var silent = new BusStandIn(() => null);
        (await Should.ThrowAsync<InstrumentException>(() => Heard(silent.Address, 0.5))).Message.ShouldContain("Is the key on");
        await using var meter = new ScpiMeterStandIn(() => null);
        (await Should.ThrowAsync<InstrumentException>(() => Heard(meter.Address, 0.5))).Message.ShouldContain("Nothing was heard");
        (await Should.ThrowAsync<InstrumentException>(() => Heard("127.0.0.1:1", 0.5))).Message.ShouldContain("answers at");
    }

    /// <summary>A code is active while what it is about does not do what it should, and stored after.</summary>
    [Fact]
    public void A_simulated_machine_sets_and_stores()
    {
        const string sheet = """
            sheet "two lamps"
            nominal 12V dc
            control key: OFF*, ON
            control aux: OFF*, ON
            part G1 battery
            part S1 switch "key"
              closed 1-2 when key=ON
            part S2 switch "aux"
              closed 1-2 when aux=ON
            part A1 module "controller"
              supply 1 ground 2
            part H1 lamp 12V 21W "lamp"
            part H2 lamp 12V 21W "aux lamp"
            path G1.+ -[w1]- S1 -[w2]- A1.1
            path A1.2 -[w3]- G1.-
            path S1.2 -[w4]- H1 -[w5]- G1.-
            path S1.2 -[w6]- S2 -[w7]- H2 -[w8]- G1.-
            code 520-5 "lamp, open" about H1
            code 521-5 "aux lamp, open" about H2
            """;
        var machine = new Machine(SheetReader.Read(sheet).Value!);
        var there = new SimulatedMachine(machine, FaultReader.Read(machine.Circuit, "w7 open").Value!);
        Setup At(string setup) => ReadingReader.Read(machine.Circuit, $"{setup} : V G1.+ = 0V").Value!.Test.Setup;
        IEnumerable<(string, Answer)>? Says(string setup)
        {
            there.Stand(At(setup));
            return there.Codes()?.Select(c => (c.Code.Code, c.State));
        }
        Says("").ShouldBeNull("without power nobody says anything");
        Says("key=ON").ShouldBeEmpty();
        Says("key=ON aux=ON").ShouldBe([("521-5", Answer.Active)]);
        Says("key=ON").ShouldBe([("521-5", Answer.Stored)]);
    }
}
