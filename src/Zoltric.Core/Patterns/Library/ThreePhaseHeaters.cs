namespace Zoltric.Core.Patterns.Library;

public sealed class ThreePhaseHeaters : Pattern
{
    public override string Name => "Three-phase heater bank";
    public override IReadOnlyList<string> Families => ["industrial"];
    public override IReadOnlyList<string> Complaints => ["heats slowly", "does not reach temperature", "one bank cold"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply between phases, volts", "400"),
            new("power", "Bank, kilowatts", "9"),
            new("fuse", "Bank fuses, amps", "25"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: heater bank"
            machine "{machine}" family industrial
            nominal {volts}V ac
            drawn from memory

            control main: ON*, OFF
            control heat: OFF*, ON
            given oven: COOL*, HOT

            part T0 mains {volts}V 3ph "feed" at "wall" reach 2min hazard mains
            part Q1 isolator "main switch, L1" at "cabinet door" reach 1min
              closed 1-2 when main=ON
            part Q2 isolator "main switch, L2" at "cabinet door" reach 1min
              closed 1-2 when main=ON
            part Q3 isolator "main switch, L3" at "cabinet door" reach 1min
              closed 1-2 when main=ON
            part F1 fuse {fuse}A "fuse, L1" at "cabinet" reach 2min
            part F2 fuse {fuse}A "fuse, L2" at "cabinet" reach 2min
            part F3 fuse {fuse}A "fuse, L3" at "cabinet" reach 2min
            part F4 fuse 2A "control fuse" at "cabinet" reach 2min
            part S1 switch "heat switch" at "cabinet door" reach 2min
              closed 1-2 when heat=ON
            part B1 thermostat "thermostat" at "oven" reach 6min
              closed 1-2 when oven=COOL
            part K1 contactor 230V 8W "bank contactor" at "cabinet" reach 2min
            part E1 heater3 {volts}V {power}kW delta "heater bank" at "oven" reach 15min hazard hot
            part SPA splice "L1 bar" at "cabinet" reach 2min

            path T0.L1 -[w1 BN 6mm2 6m]- Q1 -[w2 BN 6mm2 0.5m]- F1 -[w3 BN 6mm2 0.5m]- SPA -[w4 BN 6mm2 0.5m]- K1.1>2 -[w5 BN 6mm2 5m]- E1.U
            path T0.L2 -[w6 BK 6mm2 6m]- Q2 -[w7 BK 6mm2 0.5m]- F2 -[w8 BK 6mm2 0.5m]- K1.3>4 -[w9 BK 6mm2 5m]- E1.V
            path T0.L3 -[w10 GY 6mm2 6m]- Q3 -[w11 GY 6mm2 0.5m]- F3 -[w12 GY 6mm2 0.5m]- K1.5>6 -[w13 GY 6mm2 5m]- E1.W
            path SPA -[w14 BN 6mm2 0.3m]- F4 -[w15 BN 1mm2 0.5m]- S1 -[w16 BN 1mm2 6m]- B1 -[w17 BN 1mm2 6m]- K1.A1>A2 -[w18 BU 1mm2 6m]- T0.N

            function "bank heats": E1 when main=ON and heat=ON and oven=COOL
            """;
}
