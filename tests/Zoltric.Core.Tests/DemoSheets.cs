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

    private static string FindRoot()
    {
        var at = new DirectoryInfo(AppContext.BaseDirectory);
        while (at is not null && !File.Exists(Path.Combine(at.FullName, "Zoltric.slnx")))
            at = at.Parent;
        return at?.FullName ?? throw new DirectoryNotFoundException("The checkout with Zoltric.slnx is not above the test folder.");
    }
}
