using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Tests.Safety;

/// <summary>Machines of several voltages that the demo does not have; invented.</summary>
internal static class SafetySheets
{
    /// <summary>A 24 V control panel that switches a 230 V motor; the header speaks of the control alone.</summary>
    public const string Mixed = """
        sheet "Wash-down pump WP-1"
        machine "Wash-down pump WP-1" family industrial
        nominal 24V dc
        drawn from traced
        control main: ON*, OFF
        control pump: OFF*, ON
        given tank: FULL*, EMPTY
        part U1 psu 24V limit=5A "control supply" at "panel" reach 2min
        part T1 mains 230V "panel feed" at "wall" reach 2min
        part Q1 isolator "main switch" at "panel door" reach 1min
          closed 1-2 when main=ON
        part F1 fuse 10A "motor fuse" at "panel" reach 2min
        part F2 fuse 2A "control fuse" at "panel" reach 2min
        part S1 switch "pump switch" at "panel door" reach 1min
          closed 1-2 when pump=ON
        part B1 limit "tank level switch" at "tank" reach 6min
          closed 1-2 when tank=FULL
        part K1 contactor 24V 6W "pump contactor" at "panel" reach 2min
        part M1 motor 230V 4A "wash pump" at "pump room" reach 8min hazard rotating
        path T1.L -[w1 BN 2.5mm2 3m]- Q1 -[w2 BN 2.5mm2 1m]- F1 -[w3 BN 2.5mm2 1m]- K1.1>2 -[w4 BN 2.5mm2 8m]- M1 -[w5 BU 2.5mm2 8m]- T1.N
        path U1.+ -[w10 RD 1mm2 1m]- F2 -[w11 RD 1mm2 1m]- S1 -[w12 RD 1mm2 6m]- B1 -[w13 RD 1mm2 6m]- K1.A1>A2 -[w14 BU 1mm2 1m]- U1.-
        function "pump runs": M1 when main=ON and pump=ON and tank=FULL
        """;

    /// <summary>The same with the supply said to be separated.</summary>
    public static string MixedSeparated => Mixed.Replace("psu 24V limit=5A", "psu 24V limit=5A separated", StringComparison.Ordinal);

    /// <summary>A pallet truck on 72 V, its seat switch in the string.</summary>
    public const string Traction = """
        sheet "Yard truck YT-3"
        machine "Yard truck YT-3" family offroad
        nominal 72V dc
        drawn from maker
        control key: OFF*, ON
        given seat: EMPTY*, SAT
        part G1 battery 72V internal=20mohm "traction battery" at "under the hood" reach 2min
        part Q1 isolator "battery plug" at "under the hood" reach 1min
        part F1 fuse 10A blade "control fuse" at "dash" reach 4min
        part S1 switch "key switch" at "dash" reach 4min
          closed 1-2 when key=ON
        part S2 switch "seat switch" at "seat" reach 3min
          closed 1-2 when seat=SAT
        part K1 contactor 72V 20W "line contactor" at "behind the panel" reach 8min
        part M1 motor 72V 20A "drive motor" at "axle" reach 15min hazard rotating
        part GND1 stud "frame stud" at "frame" reach 2min
        path G1.+ -[w1 RD 16mm2 1m]- Q1 -[w2 RD 2.5mm2 1m]- F1 -[w3 RD 1mm2 2m]- S1 -[w4 RD 1mm2 2m]- S2 -[w5 RD 1mm2 3m]- K1.A1>A2 -[w6 BK 1mm2 2m]- GND1
        path Q1.2 -[w7 RD 10mm2 2m]- K1.1>2 -[w8 RD 10mm2 2m]- M1 -[w9 BK 10mm2 2m]- GND1 -[w10 BK 16mm2 1m]- G1.-
        function "truck drives": M1 when key=ON and seat=SAT
        interlock seat=EMPTY stops "truck drives"
        """;

    /// <summary>A three-phase conveyor with a 24 V control behind a transformer that is said to be separated.</summary>
    public const string Conveyor = """
        sheet "Salt conveyor SC-2"
        machine "Salt conveyor SC-2" family industrial
        nominal 400V ac
        drawn from maker
        control main: ON*, OFF
        control start: OFF*, RUN
        control estop: OUT*, PUSHED
        part T0 mains 400V 3ph "conveyor feed" at "wall" reach 2min
        part Q1 isolator "main switch, L1" at "cabinet door" reach 1min
          closed 1-2 when main=ON
        part Q2 isolator "main switch, L2" at "cabinet door" reach 1min
          closed 1-2 when main=ON
        part Q3 isolator "main switch, L3" at "cabinet door" reach 1min
          closed 1-2 when main=ON
        part F1 fuse 2A "primary fuse" at "cabinet" reach 2min
        part T1 transformer 400V:24V 100VA separated "control transformer" at "cabinet" reach 2min
        part F2 fuse 4A "control fuse" at "cabinet" reach 2min
        part S0 button "emergency stop" at "belt" reach 3min
          open 1-2 when estop=PUSHED
        part S1 switch "start switch" at "cabinet door" reach 1min
          closed 1-2 when start=RUN
        part K1 contactor 24V 6W "belt contactor" at "cabinet" reach 2min
        part M1 motor3 400V 3kW star "belt motor" at "belt head" reach 10min hazard rotating
        path T0.L1 -[w1 BN 4mm2 5m]- Q1 -[w2 BN 4mm2 1m]- K1.1>2 -[w3 BN 2.5mm2 9m]- M1.U
        path T0.L2 -[w4 BK 4mm2 5m]- Q2 -[w5 BK 4mm2 1m]- K1.3>4 -[w6 BK 2.5mm2 9m]- M1.V
        path T0.L3 -[w7 GY 4mm2 5m]- Q3 -[w8 GY 4mm2 1m]- K1.5>6 -[w9 GY 2.5mm2 9m]- M1.W
        path Q1.2 -[w10 BN 1.5mm2 1m]- F1 -[w11 BN 1.5mm2 1m]- T1.P1
        path T1.P2 -[w12 BK 1.5mm2 1m]- Q2.2
        path T1.S1 -[w13 RD 1mm2 1m]- F2 -[w14 RD 1mm2 5m]- S0 -[w15 RD 1mm2 5m]- S1 -[w16 RD 1mm2 1m]- K1.A1>A2 -[w17 BU 1mm2 1m]- T1.S2
        path T1.S2 -[w18 GNYE 1mm2 1m]- T0.PE
        function "belt runs": M1 when main=ON and start=RUN and estop=OUT
        """;

    public static Circuit Read(string text) => SheetReader.Read(text).Value.ShouldNotBeNull();
}
