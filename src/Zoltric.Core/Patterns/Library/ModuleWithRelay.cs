namespace Zoltric.Core.Patterns.Library;

public sealed class ModuleWithRelay : Pattern
{
    public override string Name => "Module with supply, ground and a driven relay";
    public override IReadOnlyList<string> Families => ["truck", "offroad", "industrial"];
    public override IReadOnlyList<string> Complaints => ["module does not switch", "relay is not driven", "no output"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("load", "What does it run?", "fan"),
            new("amps", "Its current, amps", "8"),
            new("on", "Input switches above, volts", "10"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: module and {load}"
            machine "{machine}" family offroad
            nominal {volts}V dc
            drawn from memory

            control key: OFF*, RUN
            given ask: NO*, YES

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse 10A "module fuse" at "fuse panel" reach 2min
            part F2 fuse 20A "{load} fuse" at "fuse panel" reach 2min
            part S1 switch "key switch" at "dash" reach 5min
              closed 30-15 when key=RUN
            part B1 switch "asking switch" at "at the machine" reach 8min
              closed 1-2 when ask=YES
            part A1 module "module" at "cab" reach 8min
              supply 1 ground 2
              input 3 high>{on}V
              output 4 low when powered and in3
            part X1 connector 6 "module plug" at "cab" reach 7min
            part K1 relay {volts}V "{load} relay" at "fuse panel" reach 2min
            part M1 motor {volts}V {amps}A "{load}" at "at the machine" reach 9min hazard rotating
            part GND1 stud "cab earth" at "cab" reach 5min

            path G1.+ -[w1 RD 4mm2 2m]- F1 -[w2 RD 2.5mm2 1m]- S1.30>15 -[w3 OG 1.5mm2 1m]- X1:1 -[w4 OG 1.5mm2 0.3m]- A1.1
            path A1.2 -[w5 BK 1.5mm2 0.3m]- X1:2< -[w6 BK 1.5mm2 1m]- GND1
            path S1.15 -[w7 OG 1mm2 4m]- B1 -[w8 YE 1mm2 4m]- X1:3 -[w9 YE 1mm2 0.3m]- A1.3
            path S1.15 -[w10 OG 1mm2 1m]- K1.86>85 -[w11 GY 1mm2 1m]- X1:4 -[w12 GY 1mm2 0.3m]- A1.4
            path G1.+ -[w13 RD 6mm2 2m]- F2 -[w14 RD 4mm2 0.5m]- K1.30>87 -[w15 BN 2.5mm2 4m]- M1 -[w16 BK 2.5mm2 2m]- GND1
            path GND1 -[w17 BK 16mm2 2m]- G1.-

            function "{load} runs": M1 when key=RUN and ask=YES
            """;
}
