namespace Zoltric.Core.Patterns.Library;

public sealed class CrankingString : Pattern
{
    public override string Name => "Cranking string";
    public override IReadOnlyList<string> Families => ["truck", "offroad"];
    public override IReadOnlyList<string> Complaints => ["does not crank", "clicks and does not turn", "turns slowly"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "12"),
            new("starter", "Starter, amps while cranking", "150"),
            new("solenoid", "Solenoid, ohms", "0.6"),
            new("fuse", "Start fuse, amps", "30"),
            new("relay", "Start relay coil, ohms", "85"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: cranking"
            machine "{machine}" family offroad
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN, START held
            given gear: NEUTRAL*, ENGAGED

            part G1 battery {volts}V internal=9mohm "battery" at "battery box" reach 3min
            part Q1 isolator "battery switch" at "battery box" reach 1min
            part F1 fuse 15A "key fuse" at "fuse panel" reach 2min
            part F2 fuse {fuse}A "start fuse" at "fuse panel" reach 2min
            part S1 switch "key switch" at "dash" reach 6min
              closed 30-15 when key=RUN or key=START
              closed 30-50 when key=START
            part S2 switch "neutral switch" safety at "transmission" reach 12min
              closed 1-2 when gear=NEUTRAL
            part X1 connector 6 "bulkhead" at "bulkhead" reach 4min
            part K1 relay {volts}V {relay}ohm "start relay" at "fuse panel" reach 2min
            part M1 starter {volts}V {starter}A solenoid={solenoid}ohm "starter" at "engine" reach 10min hazard rotating
            part H1 lamp {volts}V 2W "ignition lamp" at "dash" reach 6min
            part GND1 stud "frame earth" at "frame" reach 5min

            path G1.+ -[w1 RD 50mm2 1m]- Q1 -[w2 RD 50mm2 2m]- M1.B
            path M1.B -[w3 RD 6mm2 1.5m]- F1 -[w4 RD 2.5mm2 1m]- S1.30
            path S1.50 -[w5 WH 1.5mm2 2m]- X1:1 -[w6 WH 1.5mm2 3m]- S2 -[w7 WH 1.5mm2 3m]- K1.86>85 -[w8 BK 1mm2 1m]- GND1
            path M1.B -[w9 RD 6mm2 1.5m]- F2 -[w10 RD 4mm2 1m]- K1.30>87 -[w11 YE/BK 4mm2 2m]- M1.S
            path S1.15 -[w12 OG 1mm2 1m]- H1 -[w13 BK 1mm2 1m]- GND1
            path M1.G = GND1 -[w14 BK 50mm2 1m]- G1.-

            function "engine cranks": M1 when key=START and gear=NEUTRAL
            function "ignition lamp lights": H1 when key=RUN
            interlock gear=ENGAGED stops "engine cranks"
            """;
}
