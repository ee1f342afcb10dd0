namespace Zoltric.Core.Patterns.Library;

public sealed class LimitsOverDiodes : Pattern
{
    public override string Name => "Limit string feeding relays over diodes";
    public override IReadOnlyList<string> Families => ["lift", "platform", "offroad"];
    public override IReadOnlyList<string> Complaints => ["lift will not lower", "platform does not move", "one movement dead"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("volts", "Supply, volts", "24"),
            new("coil", "Valve coil, ohms", "24"),
            new("fuse", "Control fuse, amps", "10"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: limits and valves"
            machine "{machine}" family lift
            nominal {volts}V dc
            drawn from memory

            control up: RELEASED*, PRESSED held
            control down: RELEASED*, PRESSED held
            given slack: TIGHT*, SLACK
            given level: LEVEL*, TILTED

            part G1 battery {volts}V "battery" at "battery box" reach 3min
            part F1 fuse {fuse}A "control fuse" at "control box" reach 2min
            part B1 limit "slack limit" safety at "mast" reach 8min
              open 1-2 when slack=SLACK
            part B2 limit "tilt limit" safety at "chassis" reach 5min
              open 1-2 when level=TILTED
            part S1 button "up" at "control box" reach 2min
              closed 1-2 when up=PRESSED
            part S2 button "down" at "control box" reach 2min
              closed 1-2 when down=PRESSED
            part D1 diode "up diode" at "control box" reach 3min
            part D2 diode "down diode" at "control box" reach 3min
            part K1 relay {volts}V "pump relay" at "control box" reach 2min
            part Y1 coil {volts}V {coil}ohm "up valve" at "valve block" reach 7min
            part Y2 coil {volts}V {coil}ohm "down valve" at "valve block" reach 7min
            part M1 motor {volts}V 12A "pump motor" at "tank" reach 7min hazard rotating
            part F2 fuse 30A "pump fuse" at "control box" reach 2min
            part SP1 splice "limit string" at "control box" reach 3min
            part SP2 splice "diode join" at "control box" reach 3min
            part GND1 stud "earth" at "chassis" reach 3min

            path G1.+ -[w1 RD 6mm2 1m]- F1 -[w2 RD 1.5mm2 4m]- B1 -[w3 RD 1.5mm2 4m]- B2 -[w4 RD 1.5mm2 2m]- SP1
            path SP1 -[w5 OG 1mm2 0.5m]- S1 -[w6 BU 1mm2 3m]- Y1 -[w7 BK 1mm2 1m]- GND1
            path SP1 -[w8 OG 1mm2 0.5m]- S2 -[w9 GN 1mm2 3m]- Y2 -[w10 BK 1mm2 1m]- GND1
            path S1.2 -[w11 BU 1mm2 0.3m]- D1 -[w12 VT 1mm2 0.3m]- SP2
            path S2.2 -[w13 GN 1mm2 0.3m]- D2 -[w14 VT 1mm2 0.3m]- SP2
            path SP2 -[w15 VT 1mm2 0.5m]- K1.86>85 -[w16 BK 1mm2 0.5m]- GND1
            path G1.+ -[w17 RD 10mm2 1m]- F2 -[w18 RD 6mm2 0.5m]- K1.30>87 -[w19 BN 6mm2 2m]- M1 -[w20 BK 6mm2 1m]- GND1
            path GND1 -[w21 BK 25mm2 1m]- G1.-

            function "rises": Y1 when up=PRESSED and slack=TIGHT and level=LEVEL
            function "lowers": Y2 when down=PRESSED and slack=TIGHT and level=LEVEL
            function "pump runs": M1 when up=PRESSED and slack=TIGHT and level=LEVEL
            interlock slack=SLACK stops "rises"
            interlock slack=SLACK stops "lowers"
            interlock level=TILTED stops "rises"
            """;
}
