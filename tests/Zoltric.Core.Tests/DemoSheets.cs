using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Tests;

/// <summary>The demo sheets, read from scenario/sheets of the checkout.</summary>
internal static class DemoSheets
{
    /// <summary>Sheets on direct current without modules or chargers.</summary>
    public static readonly string[] Direct = ["PR-3", "QS-5", "BP-2", "RG-1", "SL-9"];

    /// <summary>Sheets on direct current with modules, a bus or chargers.</summary>
    public static readonly string[] WithModules = ["BL-1", "LT-1", "BT-7", "PH-1", "TT-4", "LP-7", "BS-8"];

    /// <summary>Sheets that live on alternating current.</summary>
    public static readonly string[] Alternating = ["GH-2", "DO-4", "TD-2", "DR-6"];
    public static readonly string[] All = [.. Direct, .. WithModules, .. Alternating];

    public static string Root { get; } = FindRoot();

    public static string Text(string name) => File.ReadAllText(Path.Combine(Root, "scenario", "sheets", name + ".sheet"));

    public static Circuit Circuit(string name) => Read(Text(name));

    public static Circuit Read(string text)
    {
        var parsed = SheetReader.Read(text);
        parsed.Problems.ShouldBeEmpty();
        return parsed.Value.ShouldNotBeNull();
    }

    public static Reading Line(Circuit c, string text)
    {
        var parsed = ReadingReader.Read(c, text);
        parsed.Problems.ShouldBeEmpty();
        return parsed.Value!;
    }

    public static Fault Fault(Circuit c, string text)
    {
        var parsed = FaultReader.Read(c, text);
        parsed.Problems.ShouldBeEmpty();
        return parsed.Value!.Single();
    }

    /// <summary>True where long comparisons are asked for as a whole: <c>ZOLTRIC_WHOLE=1 ./test</c>.</summary>
    public static bool Whole { get; } = Environment.GetEnvironmentVariable("ZOLTRIC_WHOLE") == "1";

    private const int SampleOf = 3;

    /// <summary>
    /// Machines to compare: each fault, and none, in each setup; as a sample the sound machine in all of them and each fault in every
    /// third.
    /// </summary>
    public static IEnumerable<(Fault? Fault, Setup Setup)> Compared(IReadOnlyList<Fault?> faults, IReadOnlyList<Setup> setups) =>
        from f in Enumerable.Range(0, faults.Count)
        from s in Enumerable.Range(0, setups.Count)
        where Whole || faults[f] is null || (f + s) % SampleOf == 0
        select (faults[f], setups[s]);

    private static string FindRoot()
    {
        var at = new DirectoryInfo(AppContext.BaseDirectory);
        while (at is not null && !File.Exists(Path.Combine(at.FullName, "Zoltric.slnx")))
            at = at.Parent;
        return at?.FullName ?? throw new DirectoryNotFoundException("The checkout with Zoltric.slnx is not above the test folder.");
    }
}
