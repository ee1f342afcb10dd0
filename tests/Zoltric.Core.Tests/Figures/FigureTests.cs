using Zoltric.Core.Figures;

namespace Zoltric.Core.Tests.Figures;

/// <summary>Benches of figures against published tables and worked examples, and against what people may write into them.</summary>
public sealed class FigureTests
{
    public static TheoryData<string> Names => [.. FigureSheet.All.Keys];

    private static FigureResult Work(string name, params (string Field, string Text)[] written)
    {
        var sheet = FigureSheet.All[name];
        var (values, problems) = FigureReader.Read(sheet.Fields, f => Written(sheet, f, written));
        problems.ShouldBeEmpty();
        return sheet.Work(values.ShouldNotBeNull());
    }

    private static string Written(FigureSheet sheet, string field, (string Field, string Text)[] written) =>
        Array.Find(written, w => w.Field == field).Text ?? sheet.Fields.First(f => f.Name == field).Example;

    private static FigureRow Row(FigureResult r, string state) => r.Rows.First(x => x.State.StartsWith(state, StringComparison.Ordinal));

    private static double Volts(FigureResult r, string state, int column) =>
        double.Parse(Row(r, state).Shows[column].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>IEC 60751, table of platinum resistances: 84.27, 100, 138.51 and 175.86 Ω at −40, 0, 100 and 200 °C.</summary>
    [Theory]
    [InlineData(-40, 84.27)]
    [InlineData(0, 100)]
    [InlineData(100, 138.51)]
    [InlineData(200, 175.86)]
    public void Platinum_is_as_the_standards_table_has_it(double celsius, double ohms) =>
        (100 * TemperatureFigures.PlatinumRatio(celsius)).ShouldBe(ohms, 0.005);

    [Fact]
    public void A_thermistor_is_as_warm_as_its_ohms_say()
    {
        // 10 kΩ at 25 °C with β 3950 K is 3.59 kΩ at 50 °C: 10 000 · exp(3950 · (1/323.15 − 1/298.15)), by hand.
        var r = Work("temperature", ("now", "50"), ("read", "3,59k"));
        r.Says[0].ShouldContain("50 °C");
        r.Says[0].ShouldContain("fits");
        r.Says[1].ShouldContain("3.59 kΩ");
        Work("temperature", ("read", "OL")).Says[0].ShouldContain("open");
    }

    /// <summary>
    /// 6 m there and back in 2.5 mm² at 10 A: 10 · 12 / (58 · 2.5) = 0.828 V by IEC 60028; 14 awg is 2.08 mm² (ASTM B258).
    /// </summary>
    [Fact]
    public void A_wire_loses_what_the_copper_standard_says()
    {
        var r = Work("wire");
        r.Says[0].ShouldContain("0.83 V");
        r.Says[0].ShouldContain("6.9 %");
        // 3 % of 12 V are 0.36 V: 10 · 12 / (58 · 0.36) = 5.75 mm².
        r.Says[1].ShouldContain("6 mm²");
        Work("wire", ("size", "14awg")).Says[0].ShouldContain("0.99 V");
        Work("wire", ("read", "2V")).Says[0].ShouldContain("joints");
        Work("wire", ("strands", "10%")).Says.ShouldContain(s => s.Contains("crimp", StringComparison.Ordinal));
    }

    /// <summary>Textbook: 6 kW in delta on 400 V take 8.66 A a line; with one element lost two lines take 5 A and one 8.66 A.</summary>
    [Fact]
    public void A_delta_with_one_element_lost_takes_what_the_textbook_says()
    {
        var r = Work("heater", ("joined", "three in delta"), ("rated", "400V"), ("watts", "6kW"), ("volts", "400"));
        Row(r, "as rated").Shows[0].ShouldBe("8.66 A");
        Row(r, "element U–V open").Shows.Take(3).ShouldBe(["5.00 A", "5.00 A", "8.66 A"]);
        // 80 Ω each: two thirds of one between terminals, two in series where one is lost.
        Row(r, "as rated").Shows[3].ShouldBe("53.3 Ω");
        Row(r, "element U–V open").Shows[3].ShouldBe("160 Ω");
        Row(r, "phase L1").Shows[0].ShouldBe("0.00 A");
    }

    /// <summary>Textbook: in star with one element lost the other two are in series on the line volts, √3/2 of the amps.</summary>
    [Fact]
    public void A_star_with_one_element_lost_takes_what_the_textbook_says()
    {
        var r = Work("heater", ("joined", "three in star, neutral not joined"), ("rated", "400V"), ("watts", "6kW"), ("volts", "400"));
        Row(r, "element U open").Shows.Take(3).ShouldBe(["0.00 A", "7.50 A", "7.50 A"]);
        // At a tenth fewer volts a heater gives a fifth fewer watts: 0.9² = 81 %.
        Work("heater", ("volts", "207")).Says[0].ShouldContain("81");
    }

    /// <summary>12 V over 100 and 50 Ω by hand: 4 V, with 3 kΩ beside the 50 Ω 3.95 V, with a lamp of 6.86 Ω 0.68 V.</summary>
    [Fact]
    public void Two_in_series_divide_as_worked_by_hand()
    {
        var r = Work("divider");
        Row(r, "as stated").Shows.ShouldBe(["4.00 V", "3.96 V", "0.68 V"]);
        Work("divider", ("read", "12")).Fits!.State.ShouldStartWith("nothing below");
    }

    /// <summary>Two ends of 120 Ω (ISO 11898-2): 60, 120, 40 Ω.</summary>
    [Fact]
    public void A_bus_shows_its_ends_by_its_ohms()
    {
        var r = Work("bus");
        Row(r, "both ends there").Reads!.Value.ShouldBe(60, 0.5);
        Row(r, "one end lost").Reads!.Value.ShouldBe(120, 1);
        Row(r, "one end too many").Reads!.Value.ShouldBe(40, 0.5);
        Work("bus", ("read", "118")).Fits!.State.ShouldStartWith("one end lost");
        Work("bus", ("read", "0.6")).Fits!.State.ShouldBe("the two lines touch");
        Work("bus", ("read", "75")).FitsNone.ShouldBeTrue();
        var (high, low) = (Row(r, "both ends there").Shows[1], Row(r, "both ends there").Shows[2]);
        double.Parse(high.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture).ShouldBeInRange(2.5, 2.8);
        double.Parse(low.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture).ShouldBeInRange(2.2, 2.5);
    }

    [Fact]
    public void A_relay_pulls_in_from_its_share_and_its_contact_is_judged_by_what_it_loses()
    {
        Work("relay", ("volts", "7.9")).Says[0].ShouldContain("pull it in");
        Work("relay", ("volts", "7.7")).Says[0].ShouldContain("do not pull it in");
        Work("relay", ("lost", "0.1")).Says[2].ShouldContain("good");
        Work("relay", ("lost", "0.11")).Says[2].ShouldContain("worn");
        Work("relay", ("lost", "0.21")).Says[2].ShouldContain("Renew it.");
        Work("relay", ("read", "OL")).Fits!.State.ShouldBe("coil open");
    }

    /// <summary>
    /// By hand: 10.4 V less 1.2, 0.05 and 0.1 V leave the motor 9.05 V at 180 A, 50.3 mΩ; the solenoid has 10.4 − 1.5 − 0.1 = 8.8 V. With
    /// the plus cable at 0.1 V for 180 A the loop is 12.6 V behind 11.3 mΩ (2.2 V over 194.7 A) with 50.3 + 0.56 + 0.28 + 0.56 mΩ.
    /// </summary>
    [Fact]
    public void A_starters_losses_and_what_a_new_cable_gives_are_as_worked_by_hand()
    {
        var r = Work("start", ("plus", "1.2V"));
        r.Says[0].ShouldContain("8.80 V");
        r.Says[1].ShouldContain("9.05 V");
        r.Says.ShouldContain(s => s.StartsWith("The plus cable loses 1.20 V", StringComparison.Ordinal));
        Volts(r, "as read", 0).ShouldBe(9.05, 0.02);
        Volts(r, "as read", 2).ShouldBe(8.80, 0.02);
        // About 12.6 V × 50.3 / (50.3 + 1.4 + 11.3) and a little less for the solenoid's amps.
        Volts(r, "plus cable renewed", 0).ShouldBeInRange(9.8, 10.1);
        // The string alone decides whether it pulls in.
        Work("start", ("control", "3V")).Says[0].ShouldContain("before the starter is condemned");
        Row(Work("start", ("control", "3V")), "as read").Shows[3].ShouldBe("may not pull in");
        Row(Work("start", ("control", "3V")), "the control string renewed").Shows[3].ShouldBe("pulls in");
        Work("start").Rows.ShouldContain(x => x.State.StartsWith("a relay near", StringComparison.Ordinal));
        Work("start", ("safety", "one or more")).Rows.ShouldNotContain(x => x.State.StartsWith("a relay near", StringComparison.Ordinal));
        Should.Throw<FigureException>(() => Work("start", ("posts", "13V")));
        Should.Throw<FigureException>(() => Work("start", ("plus", "9V"), ("ground", "2V")));
    }

    /// <summary>
    /// By hand: 600 W are 24 Ω, 150 W are 96 Ω. Without the neutral they share 240 V as 24 to 96: 48 and 192 V.
    /// With it 5 − 1.25 A flow home.
    /// </summary>
    [Fact]
    public void A_lost_neutral_divides_the_volts_as_worked_by_hand()
    {
        var r = Work("split");
        Row(r, "neutral lost").Reads!.Value.ShouldBe(48, 0.2);
        Row(r, "neutral lost").Shows[1].ShouldBe("192 V");
        Row(r, "all there").Shows[3].ShouldStartWith("3.7");
        // Leg 1 through 28.8 Ω of the load from leg to leg: 120 V × 24 / 52.8.
        Row(r, "leg 1 lost").Reads!.Value.ShouldBe(54.5, 0.3);
        Work("split", ("read", "47")).Fits!.State.ShouldBe("neutral lost");
    }

    /// <summary>Sleep arithmetic by hand: 7.5 mV on a 10 A fuse of 7.5 mΩ are 1 A, 24 Ah a day, half of 100 Ah gone in 2.1 days.</summary>
    [Fact]
    public void Millivolts_across_a_fuse_are_amps_and_days()
    {
        var r = Work("fuse", ("read", "7.5mV"));
        r.Says[0].ShouldContain("1.00 A");
        r.Says[0].ShouldContain("more than");
        r.Says[1].ShouldContain("2.1 days");
    }

    [Theory, MemberData(nameof(Names))]
    public void What_is_no_value_is_said_at_its_field_and_nothing_is_worked_out(string name)
    {
        var sheet = FigureSheet.All[name];
        foreach (var field in sheet.Fields.Where(f => f.Choices.Count == 0))
        foreach (var text in new[] { "abc", "1e99", "-99999999999", "5 parsecs", "∞", "NaN", new string('9', 300), "12..4" })
        {
            var (values, problems) = FigureReader.Read(sheet.Fields, f => f == field.Name ? text : Written(sheet, f, []));
            values.ShouldBeNull($"{name}.{field.Name} = {text}");
            problems.Keys.ShouldBe([field.Name]);
        }
    }

    /// <summary>Whatever stands in the fields within their limits, no text holds a figure that is none.</summary>
    [Theory, MemberData(nameof(Names))]
    public void No_figure_is_endless_or_none(string name)
    {
        var (sheet, random) = (FigureSheet.All[name], new Random(24));
        for (var n = 0; n < 60; n++)
        {
            string Some(string field)
            {
                var f = sheet.Fields.First(x => x.Name == field);
                if (f.Choices.Count > 0)
                    return f.Choices[random.Next(f.Choices.Count)];
                if (f.Optional && n % 2 == 0)
                    return "";
                var (low, high) = (Math.Max(f.Least, 1e-3), f.Most);
                var value =
                    n % 3 == 0 ? low
                    : n % 3 == 1 ? high
                    : low * Math.Pow(high / low, random.NextDouble());
                return value.ToString("0.#########", System.Globalization.CultureInfo.InvariantCulture);
            }
            var (values, problems) = FigureReader.Read(sheet.Fields, Some);
            problems.ShouldBeEmpty();
            FigureResult r;
            try
            {
                r = sheet.Work(values!);
            }
            catch (FigureException e)
            {
                e.Message.ShouldNotBeEmpty();
                continue;
            }
            foreach (var text in r.Says.Concat(r.Rows.SelectMany(x => x.Shows.Append(x.Follows))))
            foreach (var none in new[] { "NaN", "∞", "Infinity" })
                text.ShouldNotContain(none);
        }
    }

    /// <summary>ASTM B258 and IEC 60028: 10 awg is 5.26 mm² and 3.28 mΩ a metre, 1/0 awg 53.5 mm²; 2.5 mm² is 6.9 mΩ a metre.</summary>
    [Fact]
    public void Gauges_and_sections_are_as_the_standards_have_them()
    {
        string Row(string table, string mark) => ReferenceTables.All.Single(t => t.Name == table).Rows.Single(r => r.Mark == mark).Means;
        Row("gauges", "10 awg").ShouldBe("5.26 mm², 3.28 mΩ a metre");
        Row("gauges", "1/0 awg").ShouldStartWith("53.4");
        Row("sections", "2.5 mm²").ShouldStartWith("6.9 mΩ");
    }

    /// <summary>The tables say of contacts and relays what the sheet's own rules do, and nothing twice.</summary>
    [Fact]
    public void The_tables_agree_with_the_kinds_of_the_sheet()
    {
        foreach (var t in ReferenceTables.All)
        {
            t.Source.ShouldNotBeEmpty();
            t.Rows.DistinctBy(r => (r.Mark, r.Means)).Count().ShouldBe(t.Rows.Count, t.Name);
        }
        string Means(string table, string mark) => ReferenceTables.All.Single(t => t.Name == table).Rows.Single(r => r.Mark == mark).Means;
        var circuit = DemoSheets.Read(
            "sheet \"t\"\nnominal 12V dc\npart G1 battery\npart K1 relay 12V\npart K2 contactor 12V\npath G1.+ - K1.86>85 - G1.-\n"
                + "path G1.+ - K2.A1>A2 - G1.-"
        );
        var relay = circuit.FindPart("K1")!.Model;
        foreach (var mark in new[] { "85", "86", "87", "87a", "30" })
        {
            relay.Terminals.ShouldContain(mark);
            Means("vehicle", mark).ShouldNotBeEmpty();
        }
        bool Makes(string tag, string name) =>
            circuit.FindPart(tag)!.Model.Links.OfType<Core.Circuits.Link.Contact>().Single(l => l.Name == name).Rule
                is Core.Circuits.ClosedRule.ByCoil { PulledIn: true };
        Makes("K1", "30-87").ShouldBe(Means("vehicle", "87").Contains("makes", StringComparison.Ordinal));
        Makes("K1", "30-87a").ShouldBe(Means("vehicle", "87a").Contains("makes", StringComparison.Ordinal));
        Makes("K2", "13-14").ShouldBe(Means("switchgear", "13–14").Contains("makes", StringComparison.Ordinal));
        Makes("K2", "21-22").ShouldBe(Means("switchgear", "21–22").Contains("makes", StringComparison.Ordinal));
    }

    [Fact]
    public void A_bench_takes_its_values_from_the_sheet()
    {
        var circuit = DemoSheets.Read(DemoSheets.Text("TD-2"));
        var heater = circuit.Parts.First(p => p.Kind is Core.Circuits.Kinds.Heater);
        var sheet = FigureSheet.All["heater"];
        var from = sheet.From(circuit, heater).ShouldNotBeNull();
        var (values, problems) = FigureReader.Read(sheet.Fields, f => from.GetValueOrDefault(f) ?? Written(sheet, f, []));
        problems.ShouldBeEmpty();
        Row(sheet.Work(values!), "as rated").Reads!.Value.ShouldBe(heater.Model.Links[0].Ohms, 0.1);
        Core.Notation.ReadingReader.Read(circuit, sheet.Line(circuit, heater)!).Value.ShouldNotBeNull();
    }

    /// <summary>DIN 43760, table of nickel resistances, from memory: 161.8 Ω at 100 °C, 79.1 Ω at −40 °C.</summary>
    [Theory]
    [InlineData(100, 161.8)]
    [InlineData(-40, 79.1)]
    public void Nickel_is_as_the_standards_table_has_it(double celsius, double ohms) =>
        (100 * TemperatureFigures.NickelRatio(celsius)).ShouldBe(ohms, 0.1);

    /// <summary>3.5 Ω by hand: 4.11 A at 14.4 V; at 100 °C 3.5 · (1 + 0.00393 · 80) = 4.60 Ω, 2.39 A at 11 V.</summary>
    [Fact]
    public void A_coil_takes_what_is_worked_by_hand_and_burns_a_switch_that_is_too_small()
    {
        Work("coil").Says[0].ShouldBe("4.11 A cold at 14.4 V, 2.39 A hot at 11.0 V.");
        Work("coil").Says[1].ShouldContain("may carry it");
        Work("coil", ("rated", "4A")).Says[1].ShouldContain("burns by the load itself");
        // The leads are no part of it: 2.5 Ω less 0.2 Ω are 2.3 Ω, two thirds of 3.5 Ω.
        Work("coil", ("read", "2,5")).Fits!.State.ShouldStartWith("a third of its turns");
    }

    /// <summary>Worked by the trade: 14.2 V out and 13.1 V at the post are 1.1 V lost on the way (common practice).</summary>
    [Fact]
    public void Charging_tells_the_side_on_which_volts_are_lost()
    {
        var r = Work("charging", ("read", "13.1V"));
        r.Says[0].ShouldContain("under 13.8 V");
        r.Says[1].ShouldBe("Plus side: 1.00 V lost, 25.0 mΩ: more than 0.20 V, halve it under load.");
        r.Fits!.State.ShouldBe("bad joint on the plus side");
        Work("charging", ("read", "13.1V"), ("ground", "1V")).Fits!.State.ShouldBe("bad joint on the ground side");
        Work("charging", ("output", "12.5V"), ("read", "12.5V"), ("ground", "0V")).Says[0].ShouldContain("does not charge");
        // Limits: 0.2 V a side, 0.5 V alternating, 30 mA back at rest.
        Work("charging", ("output", "14.2V"), ("read", "13.9V"), ("ground", "0.1V")).Says[1].ShouldNotContain("more than");
        Work("charging", ("ripple", "0.5V")).Says.ShouldNotContain(s => s.Contains("diode", StringComparison.Ordinal));
        Work("charging", ("ripple", "0.51V")).Says.ShouldContain(s => s.Contains("diode is open", StringComparison.Ordinal));
        Work("charging", ("leak", "31mA")).Says.ShouldContain(s => s.Contains("leaks", StringComparison.Ordinal));
        Should.Throw<FigureException>(() => Work("charging", ("read", "14.4V")));
    }

    /// <summary>By hand: 1.1 V at 150 A are 7.33 mΩ; 5.3 V over that are 723 A. Rest volts: battery-trade table, from memory.</summary>
    [Fact]
    public void A_battery_is_judged_by_rest_volts_and_by_how_far_it_falls()
    {
        var r = Work("battery");
        r.Says[1].ShouldContain("7.33 mΩ");
        r.Says[2].ShouldContain("723 A");
        Work("battery", ("read", "12.2V")).Fits!.State.ShouldBe("half");
        Work("battery", ("read", "10.6V"), ("loaded", "9V")).Fits!.State.ShouldBe("one cell dead");
        Work("battery", ("read", "13V")).Says[0].ShouldContain("surface");
        // Least volts while cranking: 9.6 V at 21 °C, 8.5 V at −18 °C, battery-trade table from memory.
        BatteryFigures.LeastCranking(21).ShouldBe(9.6);
        BatteryFigures.LeastCranking(-18).ShouldBe(8.5);
        BatteryFigures.LeastCranking(7).ShouldBe(9.35, 0.001);
        var pair = Work("battery", ("mate", "12.29V")).More.ShouldHaveSingleItem();
        pair.Says.ShouldContain("charge each by itself");
        // In series the amps are the same, so the one with more volts at rest stands higher by just that.
        double.Parse(pair.Rows[1].Shows[0].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture).ShouldBe(14.3, 0.1);
        Work("battery", ("mate", "12.31V")).More[0].Says.ShouldContain("match");
    }

    /// <summary>
    /// Textbook: 4 Ω a winding are 8 Ω between terminals in star and 4 · 8 / 12 = 2.67 Ω in delta; with one open, 8, 4 and 4 Ω.
    /// </summary>
    [Fact]
    public void Windings_read_as_the_textbook_says()
    {
        Row(Work("motor"), "all three").Shows.ShouldBe(["8.00 Ω", "8.00 Ω", "8.00 Ω"]);
        var delta = ("joined", "three phases, joined in delta");
        Row(Work("motor", delta), "all three").Shows.ShouldBe(["2.67 Ω", "2.67 Ω", "2.67 Ω"]);
        Row(Work("motor", delta), "winding U open").Shows.ShouldBe(["8.00 Ω", "4.00 Ω", "4.00 Ω"]);
        Work("motor", ("read", "OL"), ("second", "8"), ("third", "OL")).Fits!.State.ShouldBe("winding U open");
        Work("motor", ("read", "3"), ("second", "8"), ("third", "15")).FitsNone.ShouldBeTrue();
        var single = ("joined", "one phase, run and start winding");
        Row(Work("motor", single), "both").Shows.ShouldBe(["4.00 Ω", "12.0 Ω", "16.0 Ω"]);
        Work("motor", single, ("read", "4"), ("second", "OL"), ("third", "OL")).Fits!.State.ShouldBe("start winding open");
        // NEMA MG 1 unbalance: 220, 215 and 210 V depart by 5 V from 215, 2.3 %.
        MotorFigures.Unbalance(220, 215, 210).ShouldBe(2.326, 0.001);
        MotorFigures.DeratedTo(1).ShouldBe(1);
        MotorFigures.DeratedTo(5).ShouldBe(0.75);
        MotorFigures.DeratedTo(5.1).ShouldBeNull();
        // √3 · 400 · 5 · 0.8 = 2771 W.
        Work("motor").Says.ShouldContain(s => s.Contains("2.77 kW", StringComparison.Ordinal));
        Work("motor", ("earth", "4.9Mohm")).Says.ShouldContain(s => s.Contains("under 5.00 MΩ", StringComparison.Ordinal));
    }

    /// <summary>Typical data-sheet ohms, from memory: 4.2 mV across a 20 A fuse of 3.2 mΩ are 1.3 A.</summary>
    [Fact]
    public void The_fuse_that_carries_the_drain_stands_first()
    {
        var r = Work("drain", ("whole", "1.4A"), ("rating-2", "20A"), ("volts-2", "4.2mV"), ("volts-1", "0.3mV"));
        r.Rows[0].State.ShouldBe("fuse 2");
        r.Rows[0].Shows[2].ShouldBe("1.31 A");
        r.Says[0].ShouldContain("33.6 amp-hours a day");
        Work("drain", ("whole", "1.4A")).Says[1].ShouldContain("past them");
        var circuit = DemoSheets.Read(DemoSheets.Text("PR-3"));
        var sheet = FigureSheet.All["drain"];
        sheet.FieldsOn(circuit).ShouldContain(f => f.Name == "volts-F2@30" && f.Label.Contains("starter fuse", StringComparison.Ordinal));
        sheet
            .Lines(circuit, circuit.FindPart("G1")!, f => f == "volts-F2@30" ? "4,2mV"
                : f == "volts-F1@15" ? ""
                : null)
            .ShouldAllBe(l => Core.Notation.ReadingReader.Read(circuit, l).Value!.Result != null);
    }

    /// <summary>An element whose case is reached takes amps that do not come back: both lines in one clamp show them.</summary>
    [Fact]
    public void A_thermostat_a_cut_out_and_a_case_read_by_themselves()
    {
        var r = Work("heater");
        Row(r, "thermostat open").Shows[2].ShouldBe("OL");
        Row(r, "cut-out open").Shows[3].ShouldBe("OL");
        // 2 kW at 230 V are 26.45 Ω; the leak of this row is five times that, 230 V / 132 Ω.
        Row(r, "element leaks").Shows[5].ShouldStartWith("1.7");
        Row(r, "as rated").Shows[5].ShouldBe("0.00 A");
        Work("heater", ("insulation", "0.9Mohm")).Says.ShouldContain(s => s.Contains("under 1.00 MΩ", StringComparison.Ordinal));
    }

    /// <summary>The volts of two drops divide as two resistances: 8 of 12 V lost above leave 4 V, whatever the ohms.</summary>
    [Fact]
    public void Drops_may_be_written_for_ohms() => Row(Work("divider", ("above", "8V")), "as stated").Shows[0].ShouldBe("4.00 V");
}
