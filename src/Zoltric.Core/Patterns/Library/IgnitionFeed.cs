namespace Zoltric.Core.Patterns.Library;

public sealed class IgnitionFeed : Pattern
{
    public override string Name => "Ignition feed";
    public override IReadOnlyList<string> Families => ["truck", "offroad"];
    public override IReadOnlyList<string> Complaints => ["dead with the key on", "no dash lights", "everything behind the key is dead"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "12"),
            new("first", "First consumer", "fuel valve"),
            new("second", "Second consumer", "gauge lamp"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: ignition feed"
            machine "{machine}" family truck
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F0 fuse 30A link "main link" at "battery box" reach 3min
            part S1 switch "key switch" at "dash" reach 6min
              closed 30-15 when key=RUN
            part K1 relay {volts}V "ignition relay" at "fuse panel" reach 2min
            part F1 fuse 10A "{first} fuse" at "fuse panel" reach 2min
            part F2 fuse 5A "{second} fuse" at "fuse panel" reach 2min
            part F3 fuse 5A "key fuse" at "fuse panel" reach 2min
            part X1 connector 4 "bulkhead" at "bulkhead" reach 4min
            part Y1 coil {volts}V 20W "{first}" at "engine" reach 7min
            part H1 lamp {volts}V 3W "{second}" at "dash" reach 6min
            part SP1 splice "feed" at "fuse panel, back" reach 5min
            part SP2 splice "ignition bar" at "fuse panel, back" reach 5min
            part GND1 stud "engine earth" at "engine" reach 5min
            part GND2 stud "cab earth" at "cab" reach 5min

            path G1.+ -[w1 RD 16mm2 1m]- F0 -[w2 RD 10mm2 2m]- SP1
            path SP1 -[w3 RD 2.5mm2 0.3m]- F3 -[w4 RD 1mm2 1m]- S1.30>15 -[w5 OG 1mm2 1m]- K1.86>85 -[w6 BK 1mm2 0.5m]- GND2
            path SP1 -[w7 RD 6mm2 0.3m]- K1.30>87 -[w8 OG 6mm2 0.3m]- SP2
            path SP2 -[w9 OG 2.5mm2 0.3m]- F1 -[w10 OG 1.5mm2 1m]- X1:1 -[w11 OG 1.5mm2 2m]- Y1 -[w12 BK 1.5mm2 0.5m]- GND1
            path SP2 -[w13 OG 2.5mm2 0.3m]- F2 -[w14 OG 1mm2 1m]- H1 -[w15 BK 1mm2 1m]- GND2
            path GND2 -[w16 BK 16mm2 2m]- GND1
            path GND1 -[w17 BK 25mm2 1m]- G1.-

            function "{first} works": Y1 when key=RUN
            function "{second} lights": H1 when key=RUN
            """;
}
