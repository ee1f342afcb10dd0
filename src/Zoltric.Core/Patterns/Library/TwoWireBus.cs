namespace Zoltric.Core.Patterns.Library;

public sealed class TwoWireBus : Pattern
{
    public override string Name => "Two-wire bus";
    public override IReadOnlyList<string> Families => ["truck", "offroad"];
    public override IReadOnlyList<string> Complaints => ["modules do not talk", "several faults at once", "display says no signal"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("one", "First module", "engine controller"),
            new("two", "Second module", "display"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: bus"
            machine "{machine}" family truck
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse 10A "{one} fuse" at "fuse panel" reach 2min
            part F2 fuse 5A "{two} fuse" at "fuse panel" reach 2min
            part S1 switch "key switch" at "dash" reach 5min
              closed 30-15 when key=RUN
            part A1 module "{one}" at "engine" reach 9min
              supply 1 ground 2
              bus 3,4 traffic=5%
            part A2 module "{two}" at "dash" reach 6min
              supply 1 ground 2
              bus 3,4 traffic=4%
            part E1 terminator "bus end, engine" at "engine" reach 9min
            part E2 terminator "bus end, cab" at "cab" reach 8min
            part X1 connector 4 "bulkhead" at "bulkhead" reach 4min
            part X9 connector 16 "diagnosis socket" at "dash, low" reach 2min
            part SPH splice "bus high" at "cab floor" reach 15min
            part SPL splice "bus low" at "cab floor" reach 15min
            part GND1 stud "cab earth" at "cab" reach 5min

            path G1.+ -[w1 RD 6mm2 2m]- S1.30>15 -[w2 OG 1.5mm2 0.5m]- F1 -[w3 OG 1mm2 3m]- A1.1
            path S1.15 -[w4 OG 1.5mm2 0.5m]- F2 -[w5 OG 1mm2 1m]- A2.1
            path A1.2 -[w6 BK 1mm2 3m]- GND1
            path A2.2 -[w7 BK 1mm2 1m]- GND1
            path A1.3 -[w8 YE 0.75mm2 2m]- X1:1 -[w9 YE 0.75mm2 2m]- SPH -[w10 YE 0.75mm2 1m]- A2.3
            path A1.4 -[w11 GN 0.75mm2 2m]- X1:2 -[w12 GN 0.75mm2 2m]- SPL -[w13 GN 0.75mm2 1m]- A2.4
            path SPH -[w14 YE 0.75mm2 0.5m]- X9:6
            path SPL -[w15 GN 0.75mm2 0.5m]- X9:14
            path E1.H -[w16 YE 0.75mm2 0.2m]- A1.3
            path E1.L -[w17 GN 0.75mm2 0.2m]- A1.4
            path E2.H -[w18 YE 0.75mm2 0.2m]- A2.3
            path E2.L -[w19 GN 0.75mm2 0.2m]- A2.4
            path GND1 -[w20 BK 16mm2 2m]- G1.-

            function "bus": ohm X9:6 X9:14 in 55..65ohm
            """;
}
