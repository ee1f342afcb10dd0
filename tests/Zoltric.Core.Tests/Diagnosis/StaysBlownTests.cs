using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// A fuse that a fault has blown stays blown until a new one is put in; one that is whole may make no contact in its clips; a draw that a
/// job begins with is its complaint; magnets are heard. Common practice, no source.
/// </summary>
public sealed class StaysBlownTests
{
    /// <summary>A hatch that a valve lets down, a fan and a lamp, all behind one fuse.</summary>
    private const string Hatch = """
        sheet "Grain hatch"
        nominal 24V dc
        control main: OFF*, ON
        control down: RELEASED*, PRESSED held
        control fan: OFF*, ON
        part G1 battery 24V internal=20mohm at "tray"
        part F1 fuse 10A blade "control fuse" at "box"
        part S1 switch "main switch" at "box"
          closed 1-2 when main=ON
        part S2 button "down button" at "post"
          closed 1-2 when down=PRESSED
        part S3 switch "fan switch" at "post"
          closed 1-2 when fan=ON
        part Y1 coil 24V 28ohm "lowering valve" at "block"
        part M1 motor 24V 60W "fan" at "loft"
        part H1 lamp 24V 3W "power lamp" at "box"
        part GND1 stud at "box"
        path G1.+ -[w1 4mm2 1m]- F1 -[w2 4mm2 1m]- S1.1
        path S1.2 -[w3 1.5mm2 3m]- S2 -[w4 1.5mm2 6m]- Y1 -[w5 1.5mm2 4m]- GND1
        path S1.2 -[w6 1.5mm2 3m]- S3 -[w7 1.5mm2 5m]- M1 -[w8 1.5mm2 5m]- GND1
        path S1.2 -[w9 1mm2 1m]- H1 -[w10 1mm2 1m]- GND1
        path GND1 -[w11 6mm2 1m]- G1.-
        function "hatch lowers": Y1 when main=ON and down=PRESSED
        function "fan turns": M1 when main=ON and fan=ON
        function "power lamp lights": H1 when main=ON
        """;

    private const string Dead = "main=ON down=PRESSED : sees \"hatch lowers\" = dead";

    /// <summary>Share of groups that lead with one of these words, with the fuse that it has blown or without.</summary>
    private static double Of(Findings f, params string[] words) =>
        f.Suspects.Where(g => words.Contains(g.Faults[0].Words)).Sum(g => g.Share);

    [Fact]
    public void What_hangs_on_the_same_fuse_and_works_clears_every_short_behind_it()
    {
        // Against what opens nothing else: somebody may have put in a new one without a word.
        double Odds(params string[] lines) => Diagnose(Hatch, lines) is var f ? Of(f, "grounded", "shorted") / Share(f, "S2") : 0;
        const string works = "main=ON : sees \"power lamp lights\" = works";
        Odds(Dead, works).ShouldBeLessThan(0.2 * Odds(Dead));
        var lamp = Diagnose(Hatch, Dead, works);
        Share(lamp, "S2", "Y1", "w3", "w4", "w5").ShouldBeGreaterThan(0.9);
    }

    [Fact]
    public void A_new_fuse_that_held_and_went_at_one_button_names_what_the_button_feeds()
    {
        var f = Diagnose(
            Hatch,
            Dead,
            " : looks F1 = bad",
            " : replaced F1",
            "main=ON : sees \"power lamp lights\" = works",
            Dead,
            "main=ON : sees \"power lamp lights\" = dead",
            " : looks F1 = bad"
        );
        Share(f, "w4", "Y1", "S2").ShouldBeGreaterThan(0.9);
        f.OffSheet.ShouldBeLessThan(0.05);
    }

    [Fact]
    public void A_whole_fuse_with_nothing_behind_it_stands_loose_in_its_clips()
    {
        string[] before = [Dead, "main=ON : V F1.1 = 24.9V", "main=ON : V F1.2 = 0.0V"];
        Of(Diagnose(Hatch, before), "grounded").ShouldBeGreaterThan(0.15);
        var f = Diagnose(Hatch, [.. before, "off G1, pull F1 : ohm F1 = 0.1ohm"]);
        f.Suspects[0].Faults.ShouldContain(x => x.Words == "holder open");
        // What rubs through would have blown it.
        Of(f, "grounded", "shorted").ShouldBeLessThan(0.2);
    }

    [Fact]
    public void A_holder_that_makes_no_contact_leaves_its_fuse_whole()
    {
        var machine = new Machine(SheetReader.Read(Hatch).Value.ShouldNotBeNull());
        machine.Circuit.FindPart("F1")!.Model.Faults.ShouldContain(m => m.Words == "holder open");
        var space = new Core.Diagnosis.Hypotheses.FaultSpace(machine);
        Read("main=ON : V F1.2").Value.ShouldNotBeNull().ShouldBe(0, 0.01);
        Read("off G1, pull F1 : ohm F1").Value.ShouldNotBeNull().ShouldBeLessThan(0.1);
        Read("off G1 : ohm F1").Answer.ShouldBe(Answer.OverLimit);

        MeterReading Read(string line) =>
            Core.Metering.Meter.Read(machine, DemoSheets.Line(space.Circuit, line).Test, [new Fault("F1", "holder open")]);
    }

    /// <summary>0.9 A at rest that ends with the fuse: a switch that stays made feeds more than the lamp, a leak may be any size.</summary>
    [Fact]
    public void A_draw_that_a_job_begins_with_is_no_slip_and_no_draw_is_no_finding()
    {
        var f = Diagnose(Hatch, " : A G1 = 0.9A", "pull F1 : A G1 = 0A");
        f.Suspects[0].Faults.ShouldContain(x => x.Words == "grounded");
        Share(f, "w2").ShouldBeGreaterThan(0.7);
        Share(f, "G1").ShouldBeLessThan(0.02);
        // Of a draw as it should be nothing is made.
        Share(Diagnose(Hatch, " : A G1 = 0A"), "G1").ShouldBeLessThan(0.1);
    }

    [Fact]
    public void A_valve_is_heard_and_one_that_clicks_has_its_volts()
    {
        var silent = Diagnose(Hatch, Dead, "main=ON down=PRESSED : hears Y1 = silent");
        Share(silent, "S2", "F1").ShouldBeGreaterThan(0.3);
        var clicks = Diagnose(Hatch, Dead, "main=ON down=PRESSED : hears Y1 = clicks");
        Share(clicks, "S2", "F1").ShouldBeLessThan(0.2);
        clicks.Suspects[0].Faults.ShouldContain(x => x.Words == "sticks");
        clicks.Verdicts[^1].Judgement.ShouldBe(Judgement.Ok);
        clicks.Verdicts[^1].Meaning.ShouldContain("armature moves");
    }

    /// <summary>A mains motor that is held takes four to eight times its running amps; common practice, no source.</summary>
    [Theory]
    [InlineData(9)]
    [InlineData(13)]
    public void A_motor_that_is_held_may_take_six_times_its_amps(double amps)
    {
        const string fan = """
            sheet "Drying fan"
            nominal 230V ac
            reference T0.N
            control main: OFF*, ON
            part T0 mains 230V at "wall"
            part F1 fuse 16A at "box"
            part S1 switch at "box"
              closed 1-2 when main=ON
            part M1 motor 230V 500W "fan" at "loft"
            path T0.L -[w1 2.5mm2 5m]- F1 -[w2 2.5mm2 1m]- S1 -[w3 2.5mm2 8m]- M1 -[w4 2.5mm2 8m]- T0.N
            function "fan turns": M1 when main=ON
            """;
        var f = Diagnose(
            fan,
            "main=ON : sees \"fan turns\" = dead",
            "main=ON : hears M1 = hums",
            FormattableString.Invariant($"main=ON : A M1 = {amps}A")
        );
        f.Suspects[0].Faults.ShouldContain(x => x.Words == "seized");
        Share(f, "M1").ShouldBeGreaterThan(0.8);
        f.OffSheet.ShouldBeLessThan(0.2);
    }

    /// <summary>A lamp that is on as the machine stands: it lit for a while with the new fuse.</summary>
    [Fact]
    public void A_new_fuse_that_goes_later_on_a_machine_that_is_on_at_rest_went_by_turns()
    {
        const string sign = """
            sheet "Gate sign"
            nominal 24V dc
            control main: ON*, OFF
            part G1 battery 24V at "hut"
            part F1 fuse 5A "sign fuse" at "hut"
            part S1 switch at "hut"
              closed 1-2 when main=ON
            part H1 lamp 24V 20W "sign" at "gate"
            path G1.+ -[w1 2.5mm2 1m]- F1 -[w2 1.5mm2 1m]- S1 -[w3 1.5mm2 20m]- H1 -[w4 1.5mm2 20m]- G1.-
            function "sign lights": H1 when main=ON
            """;
        var f = Diagnose(
            sign,
            " : sees \"sign lights\" = dead",
            " : looks F1 = bad",
            " : replaced F1",
            " : sees \"sign lights\" = works",
            " : looks F1 = bad"
        );
        var byTurns = f.Suspects.Where(g => g.Faults.Any(x => x.ComesAndGoes)).Sum(g => g.Share);
        byTurns.ShouldBeGreaterThan(0.4);
        byTurns.ShouldBeGreaterThan(1.5 * Share(f, "F1"));
    }
}
