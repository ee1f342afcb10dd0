using Zoltric.Core.Circuits;

namespace Zoltric.Core.Figures;

/// <summary>One table of what the trade agrees on.</summary>
/// <param name="Source">Standard and edition where one is known, else that it is common practice; and whether it is from memory.</param>
/// <param name="Rows">What stands on the machine, and what it means.</param>
public sealed record ReferenceTable(string Name, string Title, string Source, IReadOnlyList<(string Mark, string Means)> Rows);

/// <summary>Terminal numbers, letters, colours, failure modes, limits. Written from memory where the source says so.</summary>
public static class ReferenceTables
{
    public static IReadOnlyList<ReferenceTable> All => Made.Value;

    private static readonly Lazy<IReadOnlyList<ReferenceTable>> Made = new(() => Tables());

    private static IReadOnlyList<ReferenceTable> Tables() =>
        [
            new(
                "vehicle",
                "Terminals on vehicles",
                "DIN 72552, from memory",
                [
                    ("15", "switched plus, from the key"),
                    ("30", "plus straight from the battery"),
                    ("31", "ground, minus of the battery"),
                    ("31b", "ground by a switch"),
                    ("49", "flasher unit, in"),
                    ("49a", "flasher unit, out"),
                    ("50", "starter control"),
                    ("53", "wiper motor, plus"),
                    ("54", "brake lamps"),
                    ("56a", "main beam"),
                    ("56b", "dipped beam"),
                    ("58", "side and tail lamps"),
                    ("61", "charge lamp"),
                    ("85", "relay coil, towards ground as a rule"),
                    ("86", "relay coil, towards plus as a rule"),
                    ("87", "relay, makes"),
                    ("87a", "relay, breaks"),
                    ("B+", "alternator, to the battery"),
                    ("D+", "alternator, charge lamp and field"),
                    ("DF", "alternator, field"),
                ]
            ),
            new(
                "switchgear",
                "Terminals on switchgear",
                "EN 50005, EN 50011 and IEC 60947, from memory",
                [
                    ("A1, A2", "coil"),
                    ("1–2, 3–4, 5–6", "main poles, in and out: also L1–T1, L2–T2, L3–T3"),
                    ("13–14", "auxiliary, makes (function digits 3–4)"),
                    ("21–22", "auxiliary, breaks (function digits 1–2)"),
                    ("11–12–14", "change-over: 11 common, 12 breaks, 14 makes"),
                    ("55–56", "auxiliary, breaks, delayed"),
                    ("67–68", "auxiliary, makes, delayed"),
                    ("95–96", "overload, breaks when it trips"),
                    ("97–98", "overload, makes when it trips"),
                    ("U, V, W", "motor"),
                    ("U1–U2, V1–V2, W1–W2", "the two ends of each winding of a motor for star and delta"),
                ]
            ),
            new(
                "letters",
                "Letters of parts",
                "IEC 81346-2 and its forerunners, from memory; makers differ",
                [
                    ("A", "module, controller"),
                    ("B", "sensor, limit switch"),
                    ("C", "capacitor"),
                    ("E", "heater, lamp as a light"),
                    ("F", "fuse, breaker, overload"),
                    ("G", "battery, generator, supply"),
                    ("H", "signal lamp, horn"),
                    ("K", "relay, contactor"),
                    ("M", "motor"),
                    ("Q", "power switch, isolator; contactor too in newer drawings"),
                    ("R", "resistor, diode in newer drawings"),
                    ("S", "switch worked by hand"),
                    ("T", "transformer, supply"),
                    ("X", "plug, terminal strip"),
                    ("Y", "valve, brake, clutch"),
                ]
            ),
            new(
                "colours",
                "Wire colours",
                "IEC 60757 letters; use by IEC 60446, older wiring and vehicles differ",
                [
                    ("BK", "black"),
                    ("BN", "brown"),
                    ("RD", "red"),
                    ("OG", "orange"),
                    ("YE", "yellow"),
                    ("GN", "green"),
                    ("BU", "blue"),
                    ("VT", "violet"),
                    ("GY", "grey"),
                    ("WH", "white"),
                    ("PK", "pink"),
                    ("TQ", "turquoise"),
                    ("GNYE", "green and yellow: protective conductor, nothing else"),
                ]
            ),
            new(
                "modes",
                "Failure mode identifiers on trucks",
                "SAE J1939-73, from memory",
                [
                    ("0", "above the normal range, most severe"),
                    ("1", "below the normal range, most severe"),
                    ("2", "erratic, intermittent or wrong"),
                    ("3", "volts above normal, or shorted high"),
                    ("4", "volts below normal, or shorted low"),
                    ("5", "current below normal, or open"),
                    ("6", "current above normal, or grounded"),
                    ("7", "mechanical part does not answer"),
                    ("8", "frequency, pulse width or period wrong"),
                    ("9", "message comes too seldom"),
                    ("10", "changes too fast"),
                    ("11", "cause not known"),
                    ("12", "bad unit"),
                    ("13", "out of calibration"),
                    ("14", "special instructions"),
                    ("15", "above the normal range, least severe"),
                    ("16", "above the normal range, moderately"),
                    ("17", "below the normal range, least severe"),
                    ("18", "below the normal range, moderately"),
                    ("19", "data from the network in error"),
                    ("20", "drifted high"),
                    ("21", "drifted low"),
                    ("31", "condition is there"),
                ]
            ),
            new(
                "socket",
                "Pins of diagnostic sockets",
                "ISO 15031-3 (cars, 16 pins) and SAE J1939-13 (trucks, 9 pins), from memory",
                [
                    ("16 pins: 4, 5", "ground"),
                    ("16 pins: 16", "plus from the battery"),
                    ("16 pins: 6, 14", "two-wire bus, high and low"),
                    ("16 pins: 7", "one-wire line"),
                    ("9 pins: A", "ground"),
                    ("9 pins: B", "plus from the battery"),
                    ("9 pins: C, D", "two-wire bus, high and low"),
                    ("9 pins: E", "shield of the bus"),
                    ("9 pins: F, G", "older data link, plus and minus"),
                ]
            ),
            new(
                "limits",
                "What a sound joint loses under load",
                "common practice, no source; the maker's figure goes before it",
                [
                    ("0.1 V", "a closed contact; more is worn"),
                    ("0.2 V", "a whole feed or way home of a small load"),
                    ("0.2 V", "a starter's cable or ground while it cranks, on 12 V"),
                    ("0.3 V", "a starter's contact: bad from here on"),
                    ("12.6 V", "a full 12 V battery at rest; 12.2 V is half"),
                    ("9.6 V", "least while it cranks, 12 V battery at 20 °C"),
                    ("13.8 to 14.6 V", "charging, 12 V system"),
                    ("50 mA", "drain at rest that is usually allowed for each battery"),
                ]
            ),
            new(
                "gauges",
                "Wire gauges",
                "ASTM B258: diameter 0.127 mm · 92^((36 − n)/39); ohms at 20 °C by IEC 60028",
                [.. Gauges.Select(n => (n < 1 ? $"{1 - n}/0 awg" : $"{n} awg", Gauge(n)))]
            ),
            new(
                "sections",
                "Wire sections",
                "IEC 60228 sizes, ohms at 20 °C by IEC 60028; largest fuse in a loom: common practice, from memory",
                [
                    .. Sections.Select(mm2 =>
                        (
                            $"{mm2:0.##} mm²",
                            $"{1000 * Conductor.Ohms(mm2, 1):0.##} mΩ a metre, largest fuse {Conductor.LargestFuse(mm2):0.#} A"
                        )
                    ),
                ]
            ),
            new(
                "blades",
                "Blade fuses",
                "Colours: ISO 8820-3, from memory; cold ohms: typical data-sheet values, from memory, ± 20 %",
                [
                    .. Blades.Select(b =>
                        (
                            $"{b.Amps:0.#} A, {b.Colour}",
                            $"{1000 * Defaults.FuseElementOhms(b.Amps):0.#} mΩ cold: that many mV across it an amp"
                        )
                    ),
                ]
            ),
        ];

    private static readonly int[] Gauges = [20, 18, 16, 14, 12, 10, 8, 6, 4, 2, 1, 0, -1, -2, -3];

    private static readonly double[] Sections = [0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120];

    private static readonly (double Amps, string Colour)[] Blades =
    [
        (3, "violet"),
        (5, "tan"),
        (7.5, "brown"),
        (10, "red"),
        (15, "blue"),
        (20, "yellow"),
        (25, "natural"),
        (30, "green"),
    ];

    private static string Gauge(int n)
    {
        var mm2 = Conductor.AwgSquareMillimetres(n);
        return $"{mm2:0.##} mm², {1000 * Conductor.Ohms(mm2, 1):0.##} mΩ a metre";
    }
}
