using System.Globalization;
using System.Text;
using Zoltric.Instruments.Captures;

namespace Zoltric.Instruments.Tests;

/// <summary>Captures read from files, and what is measured on them, against textbook values and against ngspice.</summary>
public class CaptureTests
{
    private static Capture Read(string text)
    {
        var (capture, why) = CaptureFile.Read(text);
        why.ShouldBeNull();
        return capture!;
    }

    [Theory]
    [InlineData("Time,CH1,CH2\n(ms),(V),(A)\n0,12.6,0\n1,10,100\n2,10.1,90\n3,12.5,0\n")]
    [InlineData("Time (ms);feed [V];current [mA]\n0;12,6;0\n1;10,0;100000\n2;10,1;90000\n3;12,5;0\n")]
    [InlineData("Sample Interval,1.0E-3\nsec,V,A\nrun 4\nTime,CH1,CH2\n0.000,12.6,0,\n0.001,10,100,\n0.002,10.1,90,\n0.003,12.5,0,\n")]
    [InlineData("Sample interval\t1 ms\nCH1 (V)\tCH2 (A)\n12.6\t0\n10\t100\n10.1\t90\n12.5\t0\n")]
    [InlineData("\"Time\",\"CH1\",\"CH2\"\n\"s\",\"V\",\"A\"\n0E+0,1.26E+1,0\n1E-3,10,1E+2\n2E-3,10.1,9E1\n3E-3,1.25E+1,0\n")]
    [InlineData(" time v a\n 0 12.6 0\n 1e-3 10 100\n 2e-3 10.1 90\n 3e-3 12.5 0\n")]
    public void The_same_capture_is_read_however_it_was_written(string text)
    {
        var capture = Read(text);
        capture.Seconds.ShouldBe([0, 0.001, 0.002, 0.003], 1e-12);
        capture.Channels.Count.ShouldBe(2);
        capture.Channels[0].Values.ShouldBe([12.6, 10, 10.1, 12.5], 1e-9);
        capture.Channels[0].Unit.ShouldBe("V");
        capture.Channels[1].Values.ShouldBe([0, 100, 90, 0], 1e-9);
    }

    [Theory]
    [InlineData("", "No columns of figures")]
    [InlineData("a,b\nc,d\n", "No columns of figures")]
    [InlineData("Time,CH1\n0,1\n1,2\n2,3\n1,4\n", "does not rise at row 4")]
    [InlineData("Time,CH1\n0,1\n1,2\n2,3\n3,4,5\n", "Line 5 has 3 columns")]
    [InlineData("Time,CH1\n0,1\n1,2\n2,3\nend of file,x\n", "Line 5 is no row")]
    [InlineData("CH1\n1\n2\n3\n4\n", "No columns of figures")]
    [InlineData("Time,CH1\n0,OL\n1,OL\n2,OL\n3,OL\n", "over the range")]
    public void What_is_no_capture_is_answered_by_its_line(string text, string why)
    {
        var (capture, said) = CaptureFile.Read(text);
        capture.ShouldBeNull();
        said.ShouldNotBeNull().ShouldContain(why);
    }

    [Fact]
    public void A_million_instants_are_read()
    {
        var text = new StringBuilder("Time,CH1\n");
        for (var i = 0; i < 1_000_000; i++)
            text.Append(CultureInfo.InvariantCulture, $"{i * 1e-5:0.00000},{12 + 0.1 * (i % 7):0.0}\n");
        var capture = Read(text.ToString());
        capture.Seconds.Length.ShouldBe(1_000_000);
        Measures.Of(capture.Seconds, capture.Channels[0].Values)!.Max.ShouldBe(12.6, 1e-9);
    }

    /// <summary>A sine of 1 V on 14 V: 14 V in the mean, 0.7071 V effective; a pulse of a quarter: 25 %.</summary>
    [Fact]
    public void Mean_ripple_frequency_and_duty_are_those_of_textbook_waves()
    {
        double[] t = [.. Enumerable.Range(0, 20001).Select(i => i * 1e-5)];
        double[] sine = [.. t.Select(x => 14 + Math.Sin(2 * Math.PI * 50 * x))];
        var m = Measures.Of(t, sine)!;
        m.Mean.ShouldBe(14, 1e-4);
        m.Ripple.ShouldBe(1 / Math.Sqrt(2), 1e-4);
        m.PeakToPeak.ShouldBe(2, 1e-3);
        Measures.Rounds(t, sine)!.Hertz.ShouldBe(50, 0.01);
        double[] pulse = [.. t.Select(x => x * 200 % 1 < 0.25 ? 12.0 : 0)];
        var rounds = Measures.Rounds(t, pulse)!;
        rounds.Hertz.ShouldBe(200, 0.5);
        rounds.Duty.ShouldBe(0.25, 0.005);
        Measures.Rounds(t, [.. t.Select(_ => 5.0)]).ShouldBeNull();
        // A contact that bounces four times within 8 % of the capture and then stays shut does not go round.
        double[] bounce = [.. t.Select(x => x / t[^1] is var at && (at > 0.58 || (at > 0.5 && (int)(at * 100) % 2 == 0)) ? 12.0 : 0)];
        Measures.Rounds(t, bounce).ShouldBeNull();
    }

    /// <summary>A fall to 8 V for 20 ms counts where longer than 10 ms is asked, not where 30; gaps of the range are no volts.</summary>
    [Fact]
    public void Dropouts_are_timed_between_the_instants()
    {
        double[] t = [.. Enumerable.Range(0, 11).Select(i => i * 0.01)];
        double[] v = [12, 12, 12, 8, 8, 12, 12, double.NaN, 12, 7, 12];
        var found = Measures.Below(t, v, 10, 0.012);
        found.ShouldHaveSingleItem();
        found[0].From.ShouldBe(0.025, 1e-9);
        found[0].Length.ShouldBe(0.02, 1e-9);
        found[0].Lowest.ShouldBe(8);
        Measures.Below(t, v, 10, 0.03).ShouldBeEmpty();
        Measures.Below(t, v, 10, 0.001).Count.ShouldBe(2);
    }

    /// <summary>
    /// Kuphaldt, Lessons in Electric Circuits, DC, chapter 16: 15 V on 1 H and 1 Ω; 9.482 A after a second, 12.97 A after two, 15 A in
    /// the end.
    /// </summary>
    [Fact]
    public void The_ramp_of_a_coil_gives_back_its_resistance_and_inductance()
    {
        double[] t = [.. Enumerable.Range(0, 2001).Select(i => i * 0.005)];
        double[] i = [.. t.Select(x => 15 * (1 - Math.Exp(-x)))];
        i[200].ShouldBe(9.482, 0.001);
        i[400].ShouldBe(12.97, 0.002);
        var ramp = CoilRamp.Find(t, i)!;
        ramp.Final.ShouldBe(15, 0.02);
        ramp.Ohms(15).ShouldBe(1, 0.002);
        ramp.TimeConstant.ShouldBe(1, 0.01);
        ramp.Henries(15).ShouldBe(1, 0.012);
        ramp.Travel.ShouldBeNull();
        CoilRamp.Find(t[..300], i[..300]).ShouldBeNull("it has not come to rest");
    }

    /// <summary>ngspice writes the capture of a 12 V coil of 24 Ω and 60 mH, begun after 2 ms: 0.5 A, 2.5 ms.</summary>
    [Fact]
    public void A_ramp_that_ngspice_computed_is_measured_within_two_in_a_hundred()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-ramp");
        try
        {
            File.WriteAllText(
                Path.Combine(folder.FullName, "ramp.cir"),
                """
                * a coil switched on
                V1 a 0 PWL(0 0 2m 0 2.001m 12)
                R1 a b 24
                L1 b 0 60m
                .control
                tran 20u 40m
                set wr_singlescale
                set wr_vecnames
                wrdata out.txt -i(V1)
                quit
                .endc
                .end
                """
            );
            Bench.Run("bash", "", "-c", $"cd '{folder.FullName}' && ngspice -b ramp.cir >/dev/null 2>&1 < /dev/null");
            var capture = Read(File.ReadAllText(Path.Combine(folder.FullName, "out.txt")));
            var ramp = CoilRamp.Find(capture.Seconds, capture.Channels[0].Values)!;
            ramp.Final.ShouldBe(0.5, 0.005);
            ramp.Start.ShouldBe(0.002, 0.0001);
            ramp.TimeConstant.ShouldBe(0.0025, 0.00005);
            ramp.Ohms(12).ShouldBe(24, 0.24);
            ramp.Henries(12).ShouldBe(0.06, 0.0015);
        }
        finally
        {
            folder.Delete(true);
        }
    }

    /// <summary>12.5 V behind 2.5 Ω: 10 V while 1 A flows. A clamp on another wire, or a lost ground, gives no figure.</summary>
    [Fact]
    public void The_feed_of_a_load_is_judged_by_volts_against_amps()
    {
        double[] amps = [.. Enumerable.Range(0, 200).Select(i => 0.5 + 0.5 * Math.Sin(i * 0.3))];
        double[] volts = [.. amps.Select((a, i) => 12.5 - 2.5 * a + 0.02 * Math.Sin(i * 7.1))];
        var feed = FeedVerdict.Of(volts, amps)!;
        feed.Ohms.ShouldBe(2.5, 0.02);
        feed.Open.ShouldBe(12.5, 0.02);
        feed.LeastVolts.ShouldBe(10, 0.05);
        feed.AtAmps.ShouldBe(1, 0.02);
        FeedVerdict.Of([.. amps.Select((_, i) => 0.1 * Math.Sin(i * 7.1))], amps).ShouldBeNull();
        FeedVerdict.Of(volts, [.. amps.Select(a => 1 + 0.01 * a)]).ShouldBeNull();
    }

    /// <summary>
    /// Eight hours by the second: 6 A for two minutes, 0.9 A until the tenth minute, 0.12 A after, and every hour 4 A for ten seconds. By
    /// hand
    /// the last stage is 0.12 A × 24 h = 2.88 Ah a day and 24 × 10 s × 3.88 A = 0.26 Ah more for the wakes: of 100 Ah half lasts 16 days.
    /// </summary>
    [Fact]
    public void A_night_is_taken_apart_into_its_stages()
    {
        double[] t = [.. Enumerable.Range(0, 8 * 3600).Select(i => (double)i)];
        double[] a =
        [
            .. t.Select(s =>
                (
                    s < 120 ? 6
                    : s < 600 ? 0.9
                    : s % 3600 is >= 1800 and < 1810 ? 4
                    : 0.12
                )
                + 0.004 * Math.Sin(s * 1.7)
            ),
        ];
        var watch = DrainWatch.Of(t, a)!;
        watch.Stages.Count.ShouldBe(3);
        watch.Stages.Select(s => s.From).ShouldBe([0, 120, 600], 2);
        watch.Stages.Select(s => s.Amps).ShouldBe([6, 0.9, 0.12], 0.01);
        watch.Stages[2].Waked.ShouldBe(8);
        watch.AmpHoursADay.ShouldBe(3.14, 0.03);
        watch.DaysToFlat(100).ShouldBe(50 / 3.14, 0.2);
        DrainWatch.Of(t[..100], a[..100]).ShouldBeNull();
        DrainWatch.Of(t, [.. t.Select(_ => 0.05)])!.Stages.ShouldHaveSingleItem().Waked.ShouldBe(0);
    }

    [Fact]
    public void A_clamp_of_100_mV_an_ampere_is_ten_amperes_a_volt()
    {
        var channel = new CaptureChannel("clamp", "V", [0.05, 0.1]).Scaled(10, "A");
        channel.Values.ShouldBe([0.5, 1]);
        channel.Unit.ShouldBe("A");
        Should.Throw<ArgumentOutOfRangeException>(() => channel.Scaled(0, "A"));
    }

    /// <summary>A contact that touches at 10 ms, comes off twice and stays from 11.2 ms on, with a twentieth of a volt of noise.</summary>
    [Fact]
    public void A_contact_that_bounces_is_taken_apart()
    {
        var random = new Random(5);
        var seconds = Enumerable.Range(0, 4000).Select(i => i * 1e-5).ToArray();
        bool Touches(double t) => t is >= 10e-3 and < 10.3e-3 or >= 10.7e-3 and < 11.0e-3 or >= 11.2e-3;
        var volts = Array.ConvertAll(seconds, t => (Touches(t) ? 12.4 : 0.1) + 0.1 * (random.NextDouble() - 0.5));
        var closing = ContactClosing.Find(seconds, volts).ShouldNotBeNull();
        closing.At.ShouldBe(10e-3, 2e-5);
        closing.Bounces.ShouldBe(2);
        closing.Settled.ShouldBe(1.2e-3, 3e-5);
        closing.High.ShouldBe(12.4, 0.05);
        // What falls, what stands still, what pulses: no contact that closes.
        ContactClosing.Find(seconds, [.. volts.Reverse()]).ShouldBeNull();
        ContactClosing.Find(seconds, Array.ConvertAll(seconds, _ => 12.4)).ShouldBeNull();
        ContactClosing
            .Find(seconds, Array.ConvertAll(seconds, t => t < 5e-3 ? 0
                    : (int)(t * 1000) % 2 == 0 ? 12.0
                    : 0))
            .ShouldBeNull();
    }

    /// <summary>A bus wire that lies at 2.5 V and is driven to 3.5 V for two bits of five (levels of ISO 11898-2).</summary>
    [Fact]
    public void A_bus_has_its_two_levels()
    {
        var seconds = Enumerable.Range(0, 5000).Select(i => i * 1e-7).ToArray();
        var volts = Array.ConvertAll(seconds, t => (int)(t / 2e-6) % 5 < 2 ? 3.5 : 2.5);
        var rounds = Measures.Rounds(seconds, volts).ShouldNotBeNull();
        (rounds.Low, rounds.High).ShouldBe((2.5, 3.5));
        rounds.Duty.ShouldBe(0.4, 0.01);
    }
}
