using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;
using static Zoltric.Core.Tests.Diagnosis.Diagnosing;

namespace Zoltric.Core.Tests.Diagnosis;

/// <summary>
/// Cases of the trade, each with its reading lines and what they come to. Common practice, no source; the volts are worked by hand.
/// </summary>
public class WorkedCasesTests
{
    private static readonly Dictionary<string, FaultSpace> Spaces = [];

    private static FaultSpace Space(string sheet)
    {
        lock (Spaces)
            return Spaces.TryGetValue(sheet, out var s) ? s : Spaces[sheet] = new FaultSpace(new Machine(DemoSheets.Circuit(sheet)));
    }

    private const string Charging = """
        sheet "charging"
        nominal 12V dc
        drawn from traced
        given engine: STOPPED*, RUNNING
        control lamps: OFF*, ON
        part G1 battery 12V internal=8mohm
        part G2 charger 14.2V internal=20mohm when engine=RUNNING
        part S1 switch
          closed 1-2 when lamps=ON
        part H1 lamp 12V 240W
        part X1 stud "engine stud"
        part GND1 stud "frame"
        path G2.+ -[w1 16mm2 2m]- X1 -[w2 16mm2 2m]- G1.+
        path G2.- -[w3 16mm2 1m]- GND1 -[w4 16mm2 1m]- G1.-
        path G1.+ -[w5 6mm2 1m]- S1 -[w6 6mm2 1m]- H1 -[w7 6mm2 1m]- G1.-
        function "charges": V G1.+ G1.- >= 13.6V when engine=RUNNING
        function "lamps light": H1 when lamps=ON
        """;

    /// <summary>
    /// 14.2 V out of the alternator and 13.1 V at the post under load: the loss is in between, and which side the drops tell.
    /// </summary>
    [Theory]
    [InlineData("engine=RUNNING lamps=ON : V X1 G2.- = 12.65V", "w1")]
    [InlineData("engine=RUNNING lamps=ON : drop w4 = 1.15V", "w4")]
    public void Charging_volts_that_are_lost_on_the_way_by_side(string telling, string where)
    {
        var space = new FaultSpace(new Machine(DemoSheets.Read(Charging)));
        var fault = DemoSheets.Fault(space.Circuit, $"{where} resists 0.06ohm");
        string Shows(string line) => $"{line} = {VoltsAt(space, line, [fault])}V";
        var f = Diagnose(
            space,
            "engine=RUNNING lamps=ON : sees \"charges\" = dead",
            Shows("engine=RUNNING lamps=ON : V G2.+ G2.-"),
            Shows("engine=RUNNING lamps=ON : V G1.+ G1.-"),
            Shows(telling[..telling.IndexOf(" =", telling.IndexOf(':'), StringComparison.Ordinal)])
        );
        // The readings differ by a few hundredths of the supply, which a supply that sags may do too.
        Share(f, where == "w1" ? ["w1", "X1"] : ["w4", "GND1"]).ShouldBeGreaterThan(0.8);
    }

    /// <summary>A lamp lights on what a coil starves on: some hundred ohms in the feed carry a meter and starve the coil.</summary>
    [Fact]
    public void A_point_that_reads_full_unloaded_and_falls_when_the_coil_draws()
    {
        var f = Diagnose(
            Space("PR-3"),
            "key=START : sees \"engine cranks\" = dead",
            "key=START : hears K1 = silent",
            "key=START : V K1.86 = 4.9V",
            "key=START, lift K1.86 : V X3:4b = 12.4V",
            "key=START : V S1.S = 12.3V"
        );
        var joined = f.Suspects.TakeWhile(g => g.Share > 0.01).ToList();
        joined.ShouldAllBe(g => g.Faults[0].Words.StartsWith("resists", StringComparison.Ordinal) || g.Together.Count > 0);
        joined.Sum(g => g.Share).ShouldBeGreaterThan(0.9);
    }

    /// <summary>
    /// A solenoid that only clicks at 10.8 V on the post while cranking is asked for: not the switch string, the supply or the motor.
    /// </summary>
    [Fact]
    public void A_solenoid_that_clicks_at_ten_point_eight()
    {
        var f = Diagnose(
            Space("PR-3"),
            "key=START : sees \"engine cranks\" = weak",
            "key=START : hears M1 = clicks",
            "key=START : V G1.+ = 10.8V"
        );
        Share(f, "S2", "S3", "S4").ShouldBeLessThan(0.1);
    }

    /// <summary>A pin pushed out: full volts on one half, none on the other, plug on.</summary>
    [Fact]
    public void A_pin_pushed_out()
    {
        var f = Diagnose(
            Space("PR-3"),
            "key=START : sees \"engine cranks\" = dead",
            "key=START : V X3:4b = 12.4V",
            "key=START : V X3:4a = 0.02V",
            "key=START : drop X3:4 = 12.4V"
        );
        f.Suspects[0].Unit.ShouldBe("X3:4");
        f.Suspects[0].Share.ShouldBeGreaterThan(0.95);
    }

    /// <summary>Three lines dead with the fuse good: what they share is behind the fuse, and the fuse is not it.</summary>
    [Fact]
    public void Three_dead_lines_and_a_good_fuse()
    {
        var c = DemoSheets.Read(
            """
            sheet "heated lines"
            nominal 24V dc
            drawn from traced
            control heat: OFF*, ON
            part G1 battery 24V
            part F1 fuse 20A
            part S1 switch
              closed 1-2 when heat=ON
            part SP1 splice "behind the bracket"
            part E1 heater 24V 60W
            part E2 heater 24V 60W
            part E3 heater 24V 60W
            path G1.+ -[w1]- F1 -[w2]- S1 -[w3]- SP1
            path SP1 -[w4]- E1 -[w5]- G1.-
            path SP1 -[w6]- E2 -[w7]- G1.-
            path SP1 -[w8]- E3 -[w9]- G1.-
            function "line one heats": E1 when heat=ON
            function "line two heats": E2 when heat=ON
            function "line three heats": E3 when heat=ON
            """
        );
        var f = Diagnose(
            new FaultSpace(new Machine(c)),
            "heat=ON : sees \"line one heats\" = dead",
            "heat=ON : sees \"line two heats\" = dead",
            "heat=ON : sees \"line three heats\" = dead",
            "heat=ON : V F1.2 = 24.1V",
            "heat=ON : V S1.2 = 24V"
        );
        Share(f, "F1", "E1", "E2", "E3").ShouldBeLessThan(0.03);
        Share(f, "w3", "SP1").ShouldBeGreaterThan(0.9);
    }

    /// <summary>
    /// A blown fuse is never an answer by itself while something behind it may have blown it, and the ohms behind it tell.
    /// </summary>
    [Fact]
    public void A_blown_fuse_with_what_blew_it()
    {
        string[] lines = ["press start : sees \"pump starts\" = dead", " : V F1.1 = 24V", " : V F1.2 = 0.02V", ""];
        var space = Space("BP-2");
        lines[3] = $"{string.Join(", ", space.Circuit.Sources.Select(s => $"off {s.Tag}"))}, pull F1 : ohm F1 = OL";
        var blown = Diagnose(space, lines);
        blown.Suspects.ShouldContain(
            g => g.Share > 0.001 && g.Also.Any(a => a.ToString() == "F1 blown"),
            "what may have blown it is weighed along"
        );
        blown.Cautions[0].ShouldContain("what blew F1");
        var shorted = Diagnose(
            space,
            [
                .. lines,
                $"{string.Join(", ", space.Circuit.Sources.Select(s => $"off {s.Tag}"))}, pull F1 : ohm S0.1 "
                    + $"{space.Circuit.ReferencePoint} = 0.5ohm",
            ]
        );
        shorted.Suspects[0].Also.ShouldContain(a => a.ToString() == "F1 blown");
        shorted.Suspects[0].Words.First().ShouldContain(" + F1 blown");
    }

    /// <summary>
    /// Every joint of a string has aged: the volts fall a little everywhere and the leader says so; one bad joint is told apart.
    /// </summary>
    [Fact]
    public void A_string_that_has_aged_is_told_from_one_bad_joint()
    {
        var space = Space("PR-3");
        var aged = space.Suspects.Where(s => s.Together.Count > 0).MaxBy(s => s.Together.Count)!;
        string[] at = ["V S1.S", "V X3:4b", "V X3:4a", "V S2.1", "V S2.2", "V S4.2", "V K1.86"];
        var function = space.Circuit.Functions[0];
        var setup = FunctionSetups.SetupFor(space.Circuit, function)!;
        Findings With(params Core.Circuits.Fault[] faults) =>
            Diagnose(
                space,
                [
                    $"{setup} : sees \"{function.Name}\" = "
                        + Core.Metering.Meter.Read(
                            space.Machine,
                            new(setup, new Core.Circuits.Probe.Sees(function.Name, true)),
                            faults
                        ).Text,
                    .. at.Select(p => $"{setup} : {p} = {VoltsAt(space, $"{setup} : {p}", faults)}V"),
                ]
            );
        var ohms = 9.0;
        var old = With([.. aged.All(ohms)]);
        old.Suspects[0].Together.Count.ShouldBe(aged.Together.Count, string.Join("; ", old.Suspects.Take(3).SelectMany(g => g.Words)));
        old.Suspects[0].Ohms!.Value.Best.ShouldBe(ohms, 0.35 * ohms);
        var options = Core.Practice.StringRepair.Options(space.Machine, function, old.Suspects[0]);
        options.First(o => o.What == "as it is").Works.ShouldBeFalse();
        options.First(o => o.What == "all joints renewed").Works.ShouldBeTrue();
        options
            .First(o => o.What.StartsWith("the worst joint", StringComparison.Ordinal))
            .Works.ShouldBeFalse("one joint of many is not the trouble");
        options.First(o => o.What == "all joints renewed").Volts.ShouldBe(options.Max(o => o.Volts));
        var one = With(aged.With(ohms * 6));
        one.Suspects[0].Together.Count.ShouldBe(0);
        Share(one, one.Suspects[0].Unit).ShouldBeGreaterThan(0.3);
    }

    /// <summary>
    /// The same reading comes and goes: a joint of the stretch comes and goes, and not "off the sheet"; moving its place is offered.
    /// </summary>
    [Fact]
    public void Readings_that_contradict_each_other_raise_what_comes_and_goes()
    {
        var f = Diagnose(
            Space("PR-3"),
            "key=RUN : sees \"run lamp lights\" = dead",
            "key=RUN : V S1.R = 12.4V",
            "key=RUN : V H1.1 = 0.03V",
            "key=RUN : V H1.1 = 12.35V",
            "key=RUN : V H1.1 = 0.02V",
            "key=RUN, move \"dash\" : V H1.1 = 0.02V"
        );
        f.OffSheet.ShouldBeLessThan(0.1);
        f.Suspects.Where(g => g.Faults[0].Kind == FaultKind.Intermittent).Sum(g => g.Share).ShouldBeGreaterThan(0.2);
        f.Suspects[0].Unit.ShouldBe("w43");
    }

    [Fact]
    public void An_active_code_nudges_what_it_is_about_and_a_stored_one_hardly()
    {
        var space = Space("PH-1");
        var code = space.Circuit.Codes.First(c => c.About.Count > 0);
        var units = code.About.ToArray();
        double With(string word) =>
            Diagnose(space, $" : code {code.Code} = {word}")
                .Suspects.Where(g => units.Contains(g.Unit) || units.Contains(g.Unit.Split(':')[0]))
                .Sum(g => g.Share);
        With("active").ShouldBeGreaterThan(2 * With("absent"));
        (With("stored") / With("absent")).ShouldBeLessThan(2);
    }

    /// <summary>Five schools: on most faults they begin differently, and each goes where its name says.</summary>
    [Fact]
    public void Each_school_goes_its_own_way()
    {
        var space = Space("PR-3");
        var readings = new[] { "key=START : sees \"engine cranks\" = dead", "key=START : hears K1 = silent" }
            .Select(l => DemoSheets.Line(space.Circuit, l))
            .ToList();
        var first = Enum.GetValues<Strategy>()
            .ToDictionary(s => s, s => Diagnostician.Diagnose(space, readings, new DiagnosisOptions { Strategy = s }).Next[0]);
        first.Values.Select(a => a.Test.ToString()).Distinct().Count().ShouldBeGreaterThanOrEqualTo(3);
        first[Strategy.CheapestFirst].Minutes.ShouldBeLessThanOrEqualTo(first.Values.Min(a => a.Minutes) + 1e-9);
        first[Strategy.SplitMiddle].Gain.ShouldBeGreaterThanOrEqualTo(first.Values.Max(a => a.Gain) - 1e-9);
        int At(Advice a) =>
            space
                .Lanes.SelectMany(l => l.Stations.Select((s, i) => (s.Terminal, i)))
                .Where(x => a.Test.Probe.Tips.Contains(x.Terminal))
                .Select(x => x.i)
                .DefaultIfEmpty(99)
                .Min();
        At(first[Strategy.Forwards]).ShouldBeLessThan(At(first[Strategy.Backwards]));
    }

    [Fact]
    public void The_forecast_says_what_each_way_of_working_would_take()
    {
        var f = Diagnose(
            Space("PR-3"),
            "key=START : sees \"engine cranks\" = dead",
            "key=START : hears K1 = silent",
            "key=START : V S1.S = 12.3V",
            "key=START : V S1.B = 12.4V"
        );
        f.Forecast.ShouldNotBeNull();
        f.Forecast[Strategy.BestValue].ShouldBeInRange(0.5, 60);
        f.Forecast[Strategy.BestValue].ShouldBeLessThanOrEqualTo(f.Forecast.Values.Min() * 1.05);
    }

    /// <summary>On mains a live test is ordered only where no dead one tells enough.</summary>
    [Theory]
    [InlineData("GH-2")]
    [InlineData("DO-4")]
    public void On_mains_dead_tests_come_before_live_ones(string sheet)
    {
        var space = Space(sheet);
        var function = space.Circuit.Functions[0];
        var f = Diagnose(space, $"{FunctionSetups.SetupFor(space.Circuit, function)} : sees \"{function.Name}\" = dead");
        TestRules.IsLive(space.Circuit, f.Next[0].Test).ShouldBeFalse(f.Next[0].Test.ToString());
    }

    private static string VoltsAt(FaultSpace space, string line, IReadOnlyList<Core.Circuits.Fault> faults)
    {
        var shown = Core.Metering.Meter.Read(space.Machine, DemoSheets.Line(space.Circuit, line + " = 1V").Test, faults);
        return string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{shown.Value:0.00}");
    }
}
