using System.Globalization;
using System.Text.RegularExpressions;

namespace Zoltric.Core.Practice;

/// <summary>What a fault code says by its published structure; the rest is the maker's.</summary>
/// <param name="Number">As it stands in the sheet's <c>code</c> lines and in reading lines.</param>
/// <param name="Says">In words, or null where the structure tells nothing.</param>
/// <param name="Source">The standard that the words rest on.</param>
public sealed partial record TroubleCode(string Number, string? Says, string? Source)
{
    /// <summary>
    /// Failure mode identifiers 0 to 31 of SAE J1939-73, in our own words, written from memory. 22 to 30 are reserved.
    /// </summary>
    public static IReadOnlyList<string> FailureModes { get; } =
    [
        "far above what is normal",
        "far below what is normal",
        "erratic or wrong data",
        "volts too high, or joined to supply",
        "volts too low, or joined to ground",
        "current too low, or open",
        "current too high, or grounded",
        "mechanism does not answer, or is out of adjustment",
        "frequency, pulse width or period not normal",
        "updated too seldom or too often",
        "changes faster than it can",
        "root cause not known",
        "device or component bad",
        "out of calibration",
        "special: see the maker's text",
        "a little above what is normal",
        "clearly above what is normal",
        "a little below what is normal",
        "clearly below what is normal",
        "data from the bus in error",
        "drifted high",
        "drifted low",
        "reserved",
        "reserved",
        "reserved",
        "reserved",
        "reserved",
        "reserved",
        "reserved",
        "reserved",
        "reserved",
        "condition exists",
    ];

    /// <summary>
    /// Reads <c>168-1</c>, <c>SPN 168 FMI 1</c>, <c>168/1</c> (SAE J1939-73) or <c>P0335</c> (ISO 15031-6); anything else is the maker's
    /// own.
    /// </summary>
    public static TroubleCode Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var trimmed = text.Trim();
        if (
            HeavyVehicle().Match(trimmed) is { Success: true } h
            && int.Parse(h.Groups[2].Value, CultureInfo.InvariantCulture) is <= 31 and var fmi
        )
            return new TroubleCode(
                $"{h.Groups[1].Value}-{fmi}",
                $"parameter {h.Groups[1].Value}: {FailureModes[fmi]}",
                "SAE J1939-73, from memory"
            );
        if (RoadVehicle().Match(trimmed.ToUpperInvariant()) is { Success: true } r)
            return new TroubleCode(r.Value, $"{System(r.Value[0])}, {Maker(r.Value)}{Group(r.Value)}", "ISO 15031-6, from memory");
        return new TroubleCode(trimmed, null, null);
    }

    private static string System(char letter) =>
        letter switch
        {
            'P' => "engine and drive line",
            'C' => "chassis",
            'B' => "body",
            _ => "network",
        };

    /// <summary>Second place: 0 set by the standard, 1 by the maker; 2 and 3 differ by letter.</summary>
    private static string Maker(string code) =>
        (code[0], code[1], code[2]) switch
        {
            (_, '0', _) => "set by the standard",
            ('P', '2', _) or ('P', '3', >= '4' and <= '9') => "set by the standard",
            (_, '1', _) or ('P', '3', _) or (_, '2', _) => "the maker's own",
            _ => "reserved",
        };

    /// <summary>Third place of the codes for engine and drive line.</summary>
    private static string Group(string code) =>
        code[0] != 'P' || code[1] is not ('0' or '2')
            ? ""
            : code[2] switch
            {
                '0' or '1' => ": fuel and air",
                '2' => ": fuel and air, injectors",
                '3' => ": ignition or misfire",
                '4' => ": exhaust after-treatment",
                '5' => ": vehicle speed, idling, inputs",
                '6' => ": control unit and its outputs",
                >= '7' and <= '9' => ": transmission",
                'A' or 'B' or 'C' => ": electric drive",
                _ => "",
            };

    [GeneratedRegex(
        @"^(?:SPN)?\s*(\d{1,6})\s*(?:-|/|,|\s+FMI\s*|\s+)\s*(\d{1,2})$",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex HeavyVehicle();

    [GeneratedRegex("^[PCBU][0-3][0-9A-F]{3}$", RegexOptions.CultureInvariant)]
    private static partial Regex RoadVehicle();
}
