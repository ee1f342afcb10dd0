namespace Zoltric.Core.Patterns.Library;

public sealed class ReversingPair : Pattern
{
    public override string Name => "Reversing pair";
    public override IReadOnlyList<string> Families => ["industrial", "lift", "elevator", "hoist"];
    public override IReadOnlyList<string> Complaints => ["runs one way only", "does not travel left", "will not lower"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("motor", "Motor, amps", "6"),
            new("fuse", "Motor fuse, amps", "10"),
            new("one", "One way", "left"),
            new("other", "The other way", "right"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: reversing"
            machine "{machine}" family industrial
            nominal {volts}V dc
            drawn from memory

            control {one}: RELEASED*, PRESSED held
            control {other}: RELEASED*, PRESSED held
            control estop: OUT*, PUSHED

            part U1 psu {volts}V limit=20A internal=30mohm "control supply" at "cabinet" reach 2min
            part F1 fuse 4A "control fuse" at "cabinet" reach 2min
            part F2 fuse {fuse}A "motor fuse" at "cabinet" reach 2min
            part S0 button "emergency stop" safety at "pendant" reach 3min
              open 1-2 when estop=PUSHED
            part S1 button "{one}" at "pendant" reach 3min
              closed 13-14 when {one}=PRESSED
            part S2 button "{other}" at "pendant" reach 3min
              closed 13-14 when {other}=PRESSED
            part X1 connector 6 "pendant plug" at "cabinet" reach 2min
            part K1 contactor {volts}V 4W "{one} contactor" at "cabinet" reach 2min
            part K2 contactor {volts}V 4W "{other} contactor" at "cabinet" reach 2min
            part M1 motor {volts}V {motor}A "motor" at "drive" reach 10min hazard rotating
            part SP0 splice "zero bar" at "cabinet" reach 2min

            path U1.+ -[w1 RD 1.5mm2 0.5m]- F1 -[w2 RD 1mm2 0.5m]- X1:1 -[w3 RD 1mm2 4m]- S0 -[w4 RD 1mm2 0.2m]- S1.13>14 -[w5 BU 1mm2 4m]- X1:2< -[w6 BU 1mm2 0.5m]- K2.21>22 -[w7 BU 1mm2 0.5m]- K1.A1>A2 -[w8 BK 1mm2 0.5m]- SP0
            path S0.2 -[w9 RD 1mm2 0.2m]- S2.13>14 -[w10 GN 1mm2 4m]- X1:3< -[w11 GN 1mm2 0.5m]- K1.21>22 -[w12 GN 1mm2 0.5m]- K2.A1>A2 -[w13 BK 1mm2 0.5m]- SP0
            path U1.+ -[w14 RD 2.5mm2 0.5m]- F2 -[w15 RD 2.5mm2 0.5m]- K1.1>2 -[w16 BN 2.5mm2 10m]- M1 -[w17 BU 2.5mm2 10m]- K1.3>4 -[w18 BK 2.5mm2 0.5m]- SP0
            path F2.2 -[w19 RD 2.5mm2 0.5m]- K2.1>2 -[w20 BU 2.5mm2 0.3m]- M1.2
            path M1.1 -[w21 BN 2.5mm2 0.3m]- K2.3>4 -[w22 BK 2.5mm2 0.5m]- SP0
            path SP0 -[w23 BK 2.5mm2 0.5m]- U1.-

            function "runs {one}": M1 when {one}=PRESSED and {other}=RELEASED and estop=OUT
            function "runs {other}": M1 when {other}=PRESSED and {one}=RELEASED and estop=OUT
            interlock estop=PUSHED stops "runs {one}"
            interlock estop=PUSHED stops "runs {other}"
            """;
}
