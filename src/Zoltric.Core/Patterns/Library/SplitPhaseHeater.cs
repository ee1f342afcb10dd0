namespace Zoltric.Core.Patterns.Library;

public sealed class SplitPhaseHeater : Pattern
{
    public override string Name => "Heater on two legs with a motor switch";
    public override IReadOnlyList<string> Families => ["appliance"];
    public override IReadOnlyList<string> Complaints => ["no heat", "turns but stays cold", "dryer does not heat"];

    public override IReadOnlyList<PatternField> Fields =>
        [
            new("machine", "Which machine is it?", "My machine"),
            new("watts", "Heater, watts at 240 V", "5400"),
            new("motor", "Drum motor, amps at 120 V", "5"),
        ];

    protected override string Template =>
        """
            sheet "{machine}: heat"
            machine "{machine}" family appliance
            nominal 240V ac
            drawn from memory

            control plug: IN*, OUT
            control timer: OFF*, DRY
            given door: SHUT*, OPEN
            given drum: COOL*, HOT
            given duct: CLEAR*, BLOCKED

            part T0 mains 120/240V split "outlet" at "wall" reach 3min hazard mains
            part Q1 breaker 30A "breaker, leg 1" at "panel" reach 4min
              closed 1-2 when plug=IN
            part Q2 breaker 30A "breaker, leg 2" at "panel" reach 4min
              closed 1-2 when plug=IN
            part S1 switch "timer" at "console" reach 8min
              closed 1-2 when timer=DRY
              closed 3-4 when timer=DRY
            part S2 switch "door switch" safety at "door frame" reach 6min
              closed 1-2 when door=SHUT
            part B1 thermostat "thermostat" at "blower housing" reach 12min
              closed 1-2 when drum=COOL
            part B2 cutout 120C "duct cut-out" safety at "heater duct" reach 14min
              closed 1-2 when duct=CLEAR
            part E1 heater 240V {watts}W "heater" at "heater duct" reach 14min hazard hot
            part M1 motor 120V {motor}A "motor" at "bottom" reach 15min hazard rotating
            part K1 relay 120V 4000ohm din "motor switch" at "on the motor" reach 15min
            part SPN splice "neutral" at "console" reach 8min

            path T0.L1 -[w1 BK 10awg 10m]- Q1 -[w2 BK 10awg 2m]- S1.1>2 -[w3 BN 14awg 1m]- S2 -[w4 BN 14awg 1m]- M1 -[w5 WH 14awg 1m]- SPN
            path M1.1 -[w6 OG 14awg 0.1m]- K1.A1>A2 -[w7 WH 14awg 0.1m]- M1.2
            path Q1.2 -[w8 BK 10awg 2m]- S1.3>4 -[w9 BU 10awg 1m]- B1 -[w10 VT 10awg 0.5m]- B2 -[w11 VT 10awg 0.5m]- E1 -[w12 RD 10awg 1m]- K1.11>14 -[w13 RD 10awg 2m]- Q2.2
            path Q2.1 -[w14 RD 10awg 10m]- T0.L2
            path SPN -[w15 WH 10awg 12m]- T0.N

            function "drum turns": M1 when plug=IN and timer=DRY and door=SHUT
            function "heats": E1 when plug=IN and timer=DRY and door=SHUT and drum=COOL and duct=CLEAR
            interlock door=OPEN stops "drum turns"
            """;
}
