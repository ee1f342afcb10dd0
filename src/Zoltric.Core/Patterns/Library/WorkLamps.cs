namespace Zoltric.Core.Patterns.Library;

public sealed class WorkLamps : Pattern
{
    public override string Name => "Work lamps";
    public override IReadOnlyList<string> Families => ["truck", "offroad"];
    public override IReadOnlyList<string> Complaints => ["lamps dead", "lamps dim", "one lamp dark"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("watts", "Each lamp, watts", "70"),
            new("fuse", "Lamp fuse, amps", "15"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: work lamps"
            machine "{machine}" family offroad
            nominal {volts}V dc
            drawn from memory

            control lamps: OFF*, ON

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse {fuse}A "lamp fuse" at "fuse panel" reach 2min
            part F2 fuse 5A "switch fuse" at "fuse panel" reach 2min
            part S1 switch "lamp switch" at "dash" reach 5min
              closed 1-2 when lamps=ON
            part K1 relay {volts}V "lamp relay" at "fuse panel" reach 2min
            part X1 connector 6 "mast plug" at "mast foot" reach 4min
            part H1 lamp {volts}V {watts}W "left lamp" at "mast, left" reach 12min
            part H2 lamp {volts}V {watts}W "right lamp" at "mast, right" reach 12min
            part GND1 stud "frame earth" at "frame" reach 4min

            path G1.+ -[w1 RD 6mm2 2m]- F1 -[w2 RD 4mm2 0.5m]- K1.30>87 -[w3 BU 2.5mm2 2m]- X1:1 -[w4 BU 2.5mm2 5m]- H1 -[w5 BK 2.5mm2 5m]- X1:2< -[w6 BK 2.5mm2 1m]- GND1
            path K1.87 -[w7 BU 2.5mm2 2m]- X1:3 -[w8 BU 2.5mm2 5m]- H2 -[w9 BK 2.5mm2 5m]- X1:4< -[w10 BK 2.5mm2 1m]- GND1
            path G1.+ -[w11 RD 2.5mm2 2m]- F2 -[w12 OG 1mm2 1m]- S1 -[w13 OG 1mm2 1m]- K1.86>85 -[w14 BK 1mm2 0.5m]- GND1
            path GND1 -[w15 BK 16mm2 1m]- G1.-

            function "left lamp lights": H1 when lamps=ON
            function "right lamp lights": H2 when lamps=ON
            """;
}
