namespace Zoltric.Core.Patterns.Library;

public sealed class ClutchWithInterlocks : Pattern
{
    public override string Name => "Electromagnetic clutch with interlocks";
    public override IReadOnlyList<string> Families => ["offroad"];
    public override IReadOnlyList<string> Complaints => ["cutter does not engage", "drum does not turn", "brush stands still"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "12"),
            new("clutch", "Clutch coil, ohms", "3.2"),
            new("fuse", "Clutch fuse, amps", "10"),
            new("first", "First interlock", "seat switch"),
            new("second", "Second interlock", "hood switch"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: clutch"
            machine "{machine}" family offroad
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN
            control clutch: OFF*, ON
            given first: MADE*, BROKEN
            given second: MADE*, BROKEN

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse {fuse}A "clutch fuse" at "fuse panel" reach 2min
            part S1 switch "key switch" at "dash" reach 5min
              closed 30-15 when key=RUN
            part S2 switch "clutch switch" at "dash" reach 5min
              closed 1-2 when clutch=ON
            part S3 switch "{first}" safety at "operator's place" reach 5min
              closed 1-2 when first=MADE
            part S4 switch "{second}" safety at "at the guard" reach 8min
              closed 1-2 when second=MADE
            part X1 connector 4 "clutch plug" at "at the clutch" reach 8min
            part Y1 coil {volts}V {clutch}ohm "clutch" at "at the clutch" reach 10min hazard rotating
            part GND1 stud "earth" at "frame" reach 4min

            path G1.+ -[w1 RD 4mm2 2m]- F1 -[w2 RD 2.5mm2 1m]- S1.30>15 -[w3 OG 2.5mm2 0.5m]- S2 -[w4 OG 2.5mm2 1m]- S3 -[w5 YE 2.5mm2 3m]- S4 -[w6 YE 2.5mm2 3m]- X1:1 -[w7 YE 2.5mm2 0.5m]- Y1 -[w8 BK 2.5mm2 0.5m]- X1:2< -[w9 BK 2.5mm2 2m]- GND1
            path GND1 -[w10 BK 16mm2 1m]- G1.-

            function "clutch pulls": Y1 when key=RUN and clutch=ON and first=MADE and second=MADE
            interlock first=BROKEN stops "clutch pulls"
            interlock second=BROKEN stops "clutch pulls"
            """;
}
