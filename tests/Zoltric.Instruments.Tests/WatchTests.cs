using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Simulation;
using Zoltric.Core.Solving;
using Zoltric.Instruments.Links;
using Zoltric.Instruments.Meters;
using Zoltric.Instruments.StandIns;
using Zoltric.Instruments.Watching;

namespace Zoltric.Instruments.Tests;

/// <summary>A figure watched for long: its arithmetic by hand, and a machine whose modules fall asleep.</summary>
public sealed class WatchTests
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static WatchMark Pulled(double at) => new(at, "F1 pulled", "pull F1", false);

    /// <summary>Ten minutes at 0.5 A with one peak, then at 0.2 A: what a pulled fuse carried is the difference.</summary>
    [Fact]
    public void Before_and_after_a_mark_are_told_apart()
    {
        var watch = new LongWatch("A G1", "A");
        for (var s = 1; s <= 600; s++)
            watch.Add(s, s == 300 ? 2 : 0.5);
        watch.Mark(Pulled(600.5));
        for (var s = 601; s <= 1200; s++)
            watch.Add(s, 0.2);
        var (before, after) = (watch.Stretches()[0], watch.Stretches()[1]);
        (before.Level, before.Least, before.Most).ShouldBe((0.5, 0.5, 2));
        (after.Level, after.Least, after.Most).ShouldBe((0.2, 0.2, 0.2));
        after.From.ShouldBe(600.5);
        after.Length.ShouldBe(599.5);
        // (599 × 0.5 + 2 + 600 × 0.2) ÷ 1200
        watch.Mean.ShouldBe(421.5 / 1200, 1e-9);
        watch.Drain()!.Stages.Select(x => x.Amps).ShouldBe([0.5, 0.2], 1e-9);
        foreach (var s in (double[])[1201, 1202, 1203])
            watch.Add(s, 4700);
        watch.Withdraw(3);
        (watch.Length, watch.Most, watch.Now).ShouldBe((1200, 2, 0.2));
        watch.Mean.ShouldBe(421.5 / 1200, 1e-9, "what a turned dial showed is taken back");
        watch.Add(1100, 9);
        watch.Most.ShouldBe(2, "a figure from the past is none");
    }

    /// <summary>What was out before is said with what is done after it until it is put back, as capture and as stretches.</summary>
    [Fact]
    public void A_peak_of_one_reading_stays_however_long_it_is_watched()
    {
        var watch = new LongWatch("A G1", "A");
        for (var i = 0; i < 900_001; i++)
            watch.Add(i * 0.1, i == 123_456 ? 7 : 0.03 + 0.001 * (i % 3), 12.6);
        watch.Count.ShouldBeLessThan(450_000);
        watch.Most.ShouldBe(7);
        watch.Shown(900).Values.Max().ShouldBe(7);
        watch.Shown(900).Values.Length.ShouldBeLessThanOrEqualTo(1800);
        var capture = watch.ToCapture(10, "V")!;
        capture.Channels[0].Values.Max().ShouldBe(0.7, 1e-12, "the file has volts as the clamp gave them");
        capture.Channels.Select(c => c.Unit).ShouldBe(["V", "V"]);
        capture.Seconds.Zip(capture.Seconds.Skip(1)).ShouldAllBe(p => p.First < p.Second);
    }

    private const string Standby = """
        sheet "two that sleep"
        nominal 12V dc
        control door: SHUT*, OPEN
        part G1 battery emf=12V internal=1mohm
        part F1 fuse 10A
        part F2 fuse 10A
        part A1 module
          supply 1 ground 2
          sleeps after 10min at 12mA
        part A2 module
          supply 1 ground 2
          sleeps after 5min at 8mA
        part S1 switch
          closed 1-2 when door=OPEN
        part H1 lamp 12V 6W
        path G1.+ -[w1]- F1 -[w2]- A1.1
        path F1.1 -[w3]- F2 -[w4]- A2.1
        path F2.2 -[w5]- S1 -[w6]- H1 -[w7]- G1.-
        path A1.2 -[w8]- G1.-
        path A2.2 -[w9]- G1.-
        function "sleeps": A G1 <= 30mA after 15min
        """;

    /// <summary>
    /// Awake each draws 12 V over 200 Ω; asleep what the sheet says. A fuse that is pulled wakes nothing, a door does.
    /// </summary>
    [Fact]
    public void Modules_fall_asleep_by_the_machines_own_time()
    {
        var circuit = SheetReader.Read(Standby).Value!;
        var now = 0.0;
        var machine = new SimulatedMachine(new Machine(circuit), [], () => now);
        Setup Stands(string words) => ReadingReader.Read(circuit, $"{words} : A G1 = 0A").Value!.Test.Setup;
        machine.Touch(ReadingReader.Read(circuit, ": A G1 = 0A").Value!.Test.Probe);
        double Amps() => machine.Shows(MeterFunction.DcAmps)!.Value!.Value;
        Amps().ShouldBe(0.120, 0.001);
        now = 301;
        Amps().ShouldBe(0.068, 0.001);
        now = 601;
        Amps().ShouldBe(0.020, 0.001);
        machine.Stand(Stands("pull F2"));
        Amps().ShouldBe(0.012, 0.001);
        machine.Stand(Stands("door=OPEN"));
        Amps().ShouldBe(0.120 + 0.5, 0.01);
        machine.Shows(MeterFunction.DcVolts).ShouldBeNull("the leads are in the amps sockets");
    }

    /// <summary>The dial goes to amps by a hand and by nothing else; standing there it is read, and a clamp by its volts.</summary>
    [Fact]
    public async Task Amps_are_read_where_a_hand_has_set_them()
    {
        var machine = Bench.Simulated();
        machine.Stand(Bench.Test("key=ON : clamp w1").Setup);
        machine.Touch(Bench.Test("key=ON : clamp w1").Probe);
        await using var there = new ScpiMeterStandIn(() => machine) { Pace = TimeSpan.FromMilliseconds(1) };
        await using var meter = await ScpiMeter.Open(await InstrumentAddress.Read(there.Address).Address!.Open(Stop), Stop);
        // 13 V over 6.5 Ω and what wires and contacts have, at 100 mV an ampere.
        (await meter.Read(Stop)).Value.ShouldBe(0.2, 0.002);
        await Should.ThrowAsync<InstrumentException>(() => meter.Select(MeterFunction.DcAmps, Stop));
        there.Function = MeterFunction.DcAmps;
        await using var again = await ScpiMeter.Open(await InstrumentAddress.Read(there.Address).Address!.Open(Stop), Stop);
        again.Function.ShouldBe(MeterFunction.DcAmps);
        (await again.Read(Stop)).Value.ShouldBe(2, 0.02);
    }
}
