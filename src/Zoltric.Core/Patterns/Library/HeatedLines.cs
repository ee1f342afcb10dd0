namespace Zoltric.Core.Patterns.Library;

public sealed class HeatedLines : Pattern
{
    public override string Name => "Heated lines on a splice";
    public override IReadOnlyList<string> Families => ["truck", "offroad", "industrial"];
    public override IReadOnlyList<string> Complaints => ["line freezes", "one line cold", "heater fuse blows"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("watts", "Each line, watts", "40"),
            new("fuse", "Heater fuse, amps", "15"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: heated lines"
            machine "{machine}" family truck
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN
            given air: WARM, COLD*

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse {fuse}A "heater fuse" at "fuse panel" reach 2min
            part F2 fuse 5A "control fuse" at "fuse panel" reach 2min
            part S1 switch "key switch" at "dash" reach 5min
              closed 30-15 when key=RUN
            part B1 thermostat "frost switch" at "frame" reach 6min
              closed 1-2 when air=COLD
            part K1 relay {volts}V "heater relay" at "fuse panel" reach 2min
            part X1 connector 4 "frame plug" at "frame" reach 5min
            part E1 heater {volts}V {watts}W "suction line" at "frame, left" reach 8min hazard hot
            part E2 heater {volts}V {watts}W "pressure line" at "frame, right" reach 8min hazard hot
            part E3 heater {volts}V {watts}W "return line" at "tank" reach 8min hazard hot
            part SP1 splice "line feed" at "frame, in the loom" reach 15min
            part SP2 splice "line earth" at "frame, in the loom" reach 15min
            part GND1 stud "frame earth" at "frame" reach 4min

            path G1.+ -[w1 RD 6mm2 2m]- F1 -[w2 RD 2.5mm2 0.5m]- K1.30>87 -[w3 WH 2.5mm2 2m]- X1:1 -[w4 WH 2.5mm2 3m]- SP1
            path SP1 -[w5 WH 1mm2 1m]- E1 -[w6 BK 1mm2 1m]- SP2
            path SP1 -[w7 WH 1mm2 1m]- E2 -[w8 BK 1mm2 1m]- SP2
            path SP1 -[w9 WH 1mm2 2m]- E3 -[w10 BK 1mm2 2m]- SP2
            path SP2 -[w11 BK 2.5mm2 3m]- X1:2< -[w12 BK 2.5mm2 1m]- GND1
            path G1.+ -[w13 RD 2.5mm2 2m]- F2 -[w14 OG 1mm2 1m]- S1.30>15 -[w15 OG 1mm2 3m]- B1 -[w16 GY 1mm2 3m]- K1.86>85 -[w17 BK 1mm2 0.5m]- GND1
            path GND1 -[w18 BK 16mm2 1m]- G1.-

            function "suction line heats": E1 when key=RUN and air=COLD
            function "pressure line heats": E2 when key=RUN and air=COLD
            function "return line heats": E3 when key=RUN and air=COLD
            """;
}
