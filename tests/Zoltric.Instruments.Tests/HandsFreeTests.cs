using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Safety;
using Zoltric.Instruments.HandsFree;

namespace Zoltric.Instruments.Tests;

/// <summary>When a reading is taken by itself, and when it waits for a foot.</summary>
public class HandsFreeTests
{
    private static TimeSpan Ms(int ms) => TimeSpan.FromMilliseconds(ms);

    /// <summary>At 12 V a meter of 0.5 % + 20 mV has ±80 mV: the span may be 160 mV for 0.8 s, not 0.1 s less.</summary>
    [Theory]
    [InlineData(0.159, 9, true)]
    [InlineData(0.161, 9, false)]
    [InlineData(0.159, 8, false)]
    public void A_value_rests_within_the_accuracy_for_the_whole_time_and_not_a_moment_less(double span, int readings, bool rests)
    {
        var steady = new SteadyReading(MeterClass.Service, Dimension.Volt);
        Steady? last = null;
        for (var i = 0; i < readings; i++)
            last = steady.Add(12 + (i % 2 == 0 ? 0 : span), Ms(100 * i));
        (last is not null).ShouldBe(rests);
        if (last is { } s)
            s.Span.ShouldBe(span, 1e-9);
    }

    [Fact]
    public void OL_rests_and_OL_by_turns_does_not()
    {
        var steady = new SteadyReading(MeterClass.Service, Dimension.Ohm);
        Enumerable.Range(0, 9).Select(i => steady.Add(double.PositiveInfinity, Ms(100 * i))).ToList()[^1]!.Value.IsOverload.ShouldBeTrue();
        steady.Clear();
        Enumerable.Range(0, 20).Any(i => steady.Add(i % 3 == 0 ? double.PositiveInfinity : 5, Ms(100 * i)) is not null).ShouldBeFalse();
    }

    private sealed class Hand(HandsFreeTrace trace)
    {
        private int _ms;

        /// <summary>Holds the tips there for a second.</summary>
        public Steady? Holds(double value)
        {
            for (var i = 0; i < 11; i++)
                if (trace.Add(value, Ms(_ms += 100)) is { } taken)
                    return taken;
            return null;
        }
    }

    private static (HandsFreeTrace Trace, Hand Hand) Volts()
    {
        var trace = new HandsFreeTrace(MeterClass.Service, 12);
        trace.DialIs(MeterFunction.DcVolts);
        trace.Ask("key=ON : V R1.1", MeterFunction.DcVolts, "key=ON");
        trace.Stage.ShouldBe(HandsFreeStage.SetMachine);
        trace.Pedal().ShouldBeNull();
        trace.Stage.ShouldBe(HandsFreeStage.Settling);
        return (trace, new Hand(trace));
    }

    [Fact]
    public void A_value_that_rests_is_kept_once_and_the_next_needs_the_tips_to_have_moved()
    {
        var (trace, hand) = Volts();
        hand.Holds(12.4)!.Value.Value.ShouldBe(12.4, 1e-9);
        hand.Holds(12.4).ShouldBeNull();
        // The same setup again: no pedal, but the tips still lie where they lay.
        trace.Ask("key=ON : V R1.2", MeterFunction.DcVolts, "key=ON");
        hand.Holds(12.4).ShouldBeNull();
        trace.Stage.ShouldBe(HandsFreeStage.Confirm);
        // Lifted and put on another point of the same volts: kept by itself.
        hand.Holds(0.05).ShouldBeNull();
        hand.Holds(12.4).ShouldNotBeNull();
    }

    [Theory]
    [InlineData(0.02)]
    [InlineData(-0.4)]
    [InlineData(0.59)]
    public void What_tips_in_the_air_would_show_waits_for_the_pedal(double volts)
    {
        var (trace, hand) = Volts();
        hand.Holds(volts).ShouldBeNull();
        trace.Stage.ShouldBe(HandsFreeStage.Confirm);
        trace.Pedal()!.Value.Value.ShouldBe(volts, 1e-9);
    }

    [Fact]
    public void Rejected_it_is_read_again_and_left_before_the_pedal_it_is_forgotten()
    {
        var (trace, hand) = Volts();
        hand.Holds(0.02);
        trace.Reject();
        trace.Stage.ShouldBe(HandsFreeStage.Settling);
        trace.Pedal().ShouldBeNull();
        hand.Holds(0.02);
        trace.Add(7, Ms(60_000));
        trace.Stage.ShouldBe(HandsFreeStage.Settling);
        trace.Pedal().ShouldBeNull();
    }

    [Fact]
    public void Another_dial_waits_until_somebody_says_that_the_tips_are_off()
    {
        var (trace, hand) = Volts();
        hand.Holds(12.4);
        trace.Ask("off G1 : ohm w1", MeterFunction.Ohms, "off G1");
        trace.Stage.ShouldBe(HandsFreeStage.TipsOff);
        hand.Holds(5).ShouldBeNull();
        trace.Pedal().ShouldBeNull();
        trace.DialIs(MeterFunction.Ohms);
        trace.Stage.ShouldBe(HandsFreeStage.Settling);
        hand.Holds(double.PositiveInfinity).ShouldBeNull();
        trace.Stage.ShouldBe(HandsFreeStage.Confirm);
        trace.Pedal()!.Value.IsOverload.ShouldBeTrue();
        trace.Ask("off G1 : ohm w2", MeterFunction.Ohms, "off G1");
        hand.Holds(0.49).ShouldBeNull();
        trace.Stage.ShouldBe(HandsFreeStage.Confirm);
        // The dial turned by hand in between: nothing more is taken by what it says.
        trace.DialIs(MeterFunction.DcVolts);
        trace.Stage.ShouldBe(HandsFreeStage.TipsOff);
    }

    /// <summary>From pedal to pedal the lowest and the highest count; nothing before, nothing after, and read again begins anew.</summary>
    [Fact]
    public void While_something_is_moved_the_lowest_and_the_highest_are_kept()
    {
        var trace = new HandsFreeTrace(MeterClass.Service, 12);
        trace.DialIs(MeterFunction.Ohms);
        trace.Ask("off G1, move \"dash\" : ohm w1", MeterFunction.Ohms, "off G1", moving: true);
        trace.Pedal();
        trace.Stage.ShouldBe(HandsFreeStage.Move);
        trace.Add(900, Ms(100)).ShouldBeNull();
        trace.Pedal().ShouldBeNull();
        trace.Add(2, Ms(200));
        trace.Reject();
        trace.Stage.ShouldBe(HandsFreeStage.Move);
        trace.Pedal();
        foreach (var (ohms, i) in new[] { 4, 5, double.PositiveInfinity, 4.5 }.Select((o, i) => (o, i)))
            trace.Add(ohms, Ms(300 + 100 * i)).ShouldBeNull();
        trace.Jumped(4, 4.01).ShouldBeFalse();
        trace.Jumped(4, double.PositiveInfinity).ShouldBeTrue();
        var taken = trace.Pedal()!.Value;
        taken.Watched.ShouldBe((4, double.PositiveInfinity));
        taken.Readings.ShouldBe(4);
        trace.Stage.ShouldBe(HandsFreeStage.ByHand);
    }

    /// <summary>A joint that comes and goes is open at times while its place is moved, and never else.</summary>
    [Fact]
    public void A_simulated_joint_opens_only_while_it_is_moved()
    {
        var machine = Bench.Simulated("S1 intermittent");
        machine.Touch(Bench.Test("key=ON : V R1.1").Probe);
        double[] Ten(string line)
        {
            machine.Stand(Bench.Test(line).Setup);
            return [.. Enumerable.Range(0, 10).Select(_ => machine.Shows(MeterFunction.DcVolts)!.Value!.Value)];
        }
        Ten("key=ON : V R1.1").ShouldAllBe(v => v > 12);
        var moved = Ten("key=ON, move \"S1\" : V R1.1");
        moved.ShouldContain(v => v < 0.1);
        moved.ShouldContain(v => v > 12);
    }

    /// <summary>Ohms only on what is proved dead, the proof itself by a person, amps never.</summary>
    [Theory]
    [InlineData("key=ON : V R1.1", true, null)]
    [InlineData("key=ON : drop R2", true, null)]
    [InlineData("off G1 : ohm w1", false, "proved dead")]
    [InlineData("off G1 : V G1.+", false, "by a person")]
    [InlineData("key=ON : clamp w1", false, "two tips")]
    [InlineData("key=ON : A G1", false, "two tips")]
    [InlineData("key=ON : sees \"load\"", false, "two tips")]
    [InlineData("key=ON, move \"dash\" : V R1.1", true, null)]
    public void Only_harmless_readings_by_two_tips_come_by_themselves(string line, bool may, string? why)
    {
        var circuit = Bench.Machine.Circuit;
        var said = Core.Safety.HandsFree.WhyByHand(circuit, Bench.Test(line), IsolationState.Of(circuit, []));
        if (may)
            said.ShouldBeNull();
        else
            said.ShouldNotBeNull().ShouldContain(why!);
    }

    /// <summary>13 V over 6.506 Ω: 1.998 A; what the tips meet is Ohm's law by hand, on whatever dial.</summary>
    [Fact]
    public void A_simulated_machine_shows_what_its_tips_meet()
    {
        var machine = Bench.Simulated();
        machine.Shows(MeterFunction.DcVolts).ShouldBeNull();
        machine.Touch(Bench.Test("key=ON : V R1.1").Probe);
        Math.Abs(machine.Shows(MeterFunction.DcVolts)!.Value!.Value).ShouldBeLessThan(0.01);
        machine.Stand(Bench.Test("key=ON : V R1.1").Setup);
        machine.Shows(MeterFunction.DcVolts)!.Value!.Value.ShouldBe(13 * (6.25 / 6.516), 0.02);
        machine.Shows(MeterFunction.Ohms).ShouldBeNull("live");
        machine.Touch(Bench.Test("key=ON : drop R2").Probe);
        machine.Shows(MeterFunction.DcVolts)!.Value!.Value.ShouldBe(0.5, 0.01);
        machine.LiftTips();
        machine.Shows(MeterFunction.DcVolts).ShouldBeNull();
        var open = Bench.Simulated("w4 open");
        open.Stand(Bench.Test("off G1 : ohm w4").Setup);
        open.Touch(Bench.Test("off G1 : ohm w4").Probe);
        open.Shows(MeterFunction.Ohms)!.Value.ShouldBeNull("open is OL");
    }
}
