namespace Zoltric.Core.Patterns.Library;

public sealed class StandbyDrain : Pattern
{
    public override string Name => "Standby drain, fuse panel";
    public override IReadOnlyList<string> Families => ["truck", "offroad"];
    public override IReadOnlyList<string> Complaints => ["battery flat by morning", "battery runs down", "drain at rest"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "12"),
            new("limit", "Most current at rest, milliamps", "50"),
            new("clock", "Clock and radio at rest, milliamps", "8"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: standby"
            machine "{machine}" family truck
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN
            control dome: OFF*, ON

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F0 fuse 30A link "main link" at "battery box" reach 3min
            part F1 fuse 10A "module fuse" at "fuse panel, slot 1" reach 2min
            part F2 fuse 5A "radio fuse" at "fuse panel, slot 2" reach 2min
            part F3 fuse 10A "dome fuse" at "fuse panel, slot 3" reach 2min
            part F4 fuse 15A "ignition fuse" at "fuse panel, slot 4" reach 2min
            part S1 switch "key switch" at "dash" reach 5min
              closed 30-15 when key=RUN
            part S2 switch "dome switch" at "roof" reach 3min
              closed 1-2 when dome=ON
            part A1 module "body module" at "cab" reach 8min
              supply 1 ground 2
              sleeps after 10min at 12mA
            part A2 module "radio" at "dash" reach 6min
              supply 1 ground 2
              sleeps after 5min at {clock}mA
            part H1 lamp {volts}V 10W "dome lamp" at "roof" reach 3min
            part H2 lamp {volts}V 2W "ignition lamp" at "dash" reach 5min
            part SP1 splice "panel feed" at "fuse panel, back" reach 5min
            part GND1 stud "cab earth" at "cab" reach 5min

            path G1.+ -[w1 RD 16mm2 0.5m]- F0 -[w2 RD 10mm2 2m]- SP1
            path SP1 -[w3 RD 2.5mm2 0.2m]- F1 -[w4 RD 1mm2 1m]- A1.1
            path SP1 -[w5 RD 2.5mm2 0.2m]- F2 -[w6 RD 1mm2 1m]- A2.1
            path SP1 -[w7 RD 2.5mm2 0.2m]- F3 -[w8 RD 1mm2 2m]- S2 -[w9 BU 1mm2 0.5m]- H1 -[w10 BK 1mm2 2m]- GND1
            path SP1 -[w11 RD 2.5mm2 0.2m]- F4 -[w12 RD 2.5mm2 1m]- S1.30>15 -[w13 OG 1mm2 1m]- H2 -[w14 BK 1mm2 1m]- GND1
            path A1.2 -[w15 BK 1mm2 1m]- GND1
            path A2.2 -[w16 BK 1mm2 1m]- GND1
            path GND1 -[w17 BK 16mm2 1m]- G1.-

            function "sleeps": A G1 <= {limit}mA after 15min
            function "dome lamp lights": H1 when dome=ON
            """;
}
