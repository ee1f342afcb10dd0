namespace Zoltric.Core.Patterns.Library;

public sealed class RelayFedLoad : Pattern
{
    public override string Name => "Load fed by a relay";
    public override IReadOnlyList<string> Families => ["truck", "offroad", "industrial"];
    public override IReadOnlyList<string> Complaints => ["pump does not run", "horn does not sound", "motor dead, relay clicks"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "12"),
            new("load", "What does not run?", "pump"),
            new("amps", "Its current, amps", "8"),
            new("fuse", "Its fuse, amps", "15"),
            new("switch", "What switches it?", "pump switch"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: {load}"
            machine "{machine}" family truck
            nominal {volts}V dc
            drawn from memory

            control switch: OFF*, ON

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse {fuse}A "{load} fuse" at "fuse panel" reach 2min
            part F2 fuse 5A "control fuse" at "fuse panel" reach 2min
            part S1 switch "{switch}" at "dash" reach 5min
              closed 1-2 when switch=ON
            part K1 relay {volts}V "{load} relay" at "fuse panel" reach 2min
            part X1 connector 4 "loom plug" at "bulkhead" reach 4min
            part M1 motor {volts}V {amps}A "{load}" at "at the machine" reach 8min
            part GND1 stud "earth" at "frame" reach 4min

            path G1.+ -[w1 RD 6mm2 1.5m]- F1 -[w2 RD 2.5mm2 0.5m]- K1.30>87 -[w3 BU 2.5mm2 1m]- X1:1 -[w4 BU 2.5mm2 4m]- M1 -[w5 BK 2.5mm2 2m]- GND1
            path G1.+ -[w6 RD 2.5mm2 1.5m]- F2 -[w7 OG 1mm2 1m]- S1 -[w8 OG 1mm2 1m]- K1.86>85 -[w9 BK 1mm2 0.5m]- GND1
            path GND1 -[w10 BK 10mm2 1m]- G1.-

            function "{load} runs": M1 when switch=ON
            """;
}
