namespace Zoltric.Core.Patterns.Library;

public sealed class HoldInContactor : Pattern
{
    public override string Name => "Start and stop with a hold-in contactor";
    public override IReadOnlyList<string> Families => ["industrial", "lift", "elevator", "hoist"];
    public override IReadOnlyList<string> Complaints => ["does not start", "stops when the button is released", "starts and drops out"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("motor", "Motor, amps", "5"),
            new("fuse", "Motor fuse, amps", "10"),
            new("load", "What it drives", "pump"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: {load} start and stop"
            machine "{machine}" family industrial
            nominal {volts}V dc
            drawn from memory

            control start: RELEASED*, PRESSED held
            control stop: RELEASED*, PRESSED held
            control estop: OUT*, PUSHED
            given overload: COOL*, TRIPPED

            part U1 psu {volts}V limit=20A internal=50mohm "control supply" at "panel" reach 2min
            part F1 fuse 4A "control fuse" at "panel" reach 2min
            part F2 fuse {fuse}A "{load} fuse" at "panel" reach 2min
            part S0 button "emergency stop" safety at "panel door" reach 2min
              open 1-2 when estop=PUSHED
            part S1 button "stop" at "panel door" reach 2min
              open 11-12 when stop=PRESSED
            part S2 button "start" at "panel door" reach 2min
              closed 13-14 when start=PRESSED
            part B1 cutout "overload" safety at "panel" reach 2min
              open 95-96 when overload=TRIPPED
            part K1 contactor {volts}V 4W "{load} contactor" at "panel" reach 2min
            part M1 motor {volts}V {motor}A "{load}" at "at the machine" reach 10min hazard rotating
            part SP0 splice "zero bar" at "panel" reach 2min

            path U1.+ -[w1 RD 1.5mm2 0.5m]- F1 -[w2 RD 1mm2 0.5m]- S0 -[w3 RD 1mm2 0.5m]- S1.11>12 -[w4 RD 1mm2 0.5m]- S2.13>14 -[w5 BU 1mm2 0.5m]- B1 -[w6 BU 1mm2 0.5m]- K1.A1>A2 -[w7 BK 1mm2 0.5m]- SP0
            path S1.12 -[w8 RD 1mm2 0.5m]- K1.13>14 -[w9 BU 1mm2 0.5m]- S2.14
            path U1.+ -[w10 RD 2.5mm2 0.5m]- F2 -[w11 RD 2.5mm2 0.5m]- K1.1>2 -[w12 BN 2.5mm2 10m]- M1 -[w13 BK 2.5mm2 10m]- SP0
            path SP0 -[w14 BK 2.5mm2 0.5m]- U1.-

            function "{load} starts": M1 when start=PRESSED and stop=RELEASED and estop=OUT and overload=COOL
            function "{load} keeps running": M1 after press start, release start
            interlock stop=PRESSED stops "{load} starts"
            interlock estop=PUSHED stops "{load} starts"
            interlock overload=TRIPPED stops "{load} starts"
            """;
}
