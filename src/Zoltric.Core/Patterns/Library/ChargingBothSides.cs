namespace Zoltric.Core.Patterns.Library;

public sealed class ChargingBothSides : Pattern
{
    public override string Name => "Charging, both sides";
    public override IReadOnlyList<string> Families => ["truck", "offroad"];
    public override IReadOnlyList<string> Complaints => ["battery flat", "does not charge", "charge lamp on"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "12"),
            new("charge", "Charging voltage, volts", "14.2"),
            new("floor", "Least voltage at the battery when all is well, volts", "13.6"),
            new("link", "Charging fuse or link, amps", "100"),
            new("load", "Loads that run, watts", "60"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: charging"
            machine "{machine}" family truck
            nominal {volts}V dc
            drawn from memory

            control lamps: OFF*, ON
            given engine: STOPPED*, RUNNING

            part G1 battery {volts}V internal=8mohm "battery" at "battery box" reach 3min
            part Q1 isolator "battery switch" at "battery box" reach 1min
            part F1 fuse {link}A link "charging link" at "battery box" reach 3min
            part F2 fuse 20A "lamp fuse" at "fuse panel" reach 2min
            part G2 charger {charge}V internal=20mohm when engine=RUNNING "alternator" at "engine" reach 8min hazard rotating
            part S1 switch "lamp switch" at "dash" reach 6min
              closed 1-2 when lamps=ON
            part H1 lamp {volts}V {load}W "lamps" at "front" reach 5min
            part GND1 stud "frame earth" at "frame" reach 4min
            part GND2 stud "engine earth" at "engine" reach 6min

            path G1.+ -[w1 RD 50mm2 1m]- Q1 -[w2 RD 25mm2 1.5m]- F1 -[w3 RD 25mm2 2m]- G2.+
            path G2.- = GND2
            path GND2 -[w4 BK 50mm2 0.8m]- GND1
            path GND1 -[w5 BK 50mm2 1m]- G1.-
            path Q1.2 -[w6 RD 4mm2 1.5m]- F2 -[w7 RD 2.5mm2 1m]- S1 -[w8 BU 2.5mm2 4m]- H1 -[w9 BK 2.5mm2 2m]- GND1

            function "charges": V G1.+ G1.- >= {floor}V when engine=RUNNING and lamps=OFF
            function "lamps light": H1 when lamps=ON
            """;
}
