using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Drawing.Symbols;

namespace Zoltric.Core.Tests;

/// <summary>Keeps the shape of docs/architecture.md.</summary>
public partial class ArchitectureTests
{
    private static readonly string Source = Path.Combine(DemoSheets.Root, "src");

    private static IEnumerable<(string File, string Text)> Files(string project) =>
        Directory
            .EnumerateFiles(Path.Combine(Source, project), "*.cs", SearchOption.AllDirectories)
            .Where(f =>
                !f.Contains($"{Path.DirectorySeparatorChar}obj{Path.DirectorySeparatorChar}", StringComparison.Ordinal)
                && !f.Contains($"{Path.DirectorySeparatorChar}bin{Path.DirectorySeparatorChar}", StringComparison.Ordinal)
            )
            .Select(f => (f, File.ReadAllText(f)));

    [Fact]
    public void The_core_knows_no_web_no_database_no_drawing_no_clock_and_no_files()
    {
        var wrong = Files("Zoltric.Core")
            .SelectMany(f => Outside().Matches(f.Text).Select(m => $"{Path.GetFileName(f.File)}: {m.Value}"))
            .ToList();
        wrong.ShouldBeEmpty();
    }

    [Fact]
    public void Projects_reference_only_what_the_architecture_allows()
    {
        string[] References(string project) =>
            [
                .. ProjectReference()
                    .Matches(File.ReadAllText(Path.Combine(Source, project, project + ".csproj")))
                    .Select(m => m.Groups[1].Value)
                    .Order(),
            ];
        References("Zoltric.Core").ShouldBeEmpty();
        References("Zoltric.Drawing").ShouldBe(["Zoltric.Core"]);
        References("Zoltric.Store").ShouldBeEmpty();
        References("Zoltric.Instruments").ShouldBe(["Zoltric.Core"]);
        References("Zoltric.Web").ShouldBe(["Zoltric.Core", "Zoltric.Drawing", "Zoltric.Instruments", "Zoltric.Store"]);
    }

    [Fact]
    public void Every_kind_has_its_file_and_its_symbol()
    {
        Symbol.All.Keys.Order().ShouldBe(PartKind.All.Keys.Order());
        foreach (var kind in PartKind.All.Values)
        {
            File.Exists(Path.Combine(Source, "Zoltric.Core", "Circuits", "Kinds", kind.GetType().Name + ".cs")).ShouldBeTrue(kind.Word);
            Symbol.All[kind.Word].GetType().Name.ShouldBe(kind.GetType().Name);
        }
    }

    [GeneratedRegex(
        @"Microsoft\.AspNetCore|System\.Data|Sqlite|Dapper|<svg|DateTime\b|DateTimeOffset|TimeProvider|Stopwatch|"
            + @"Environment\.Tick|\bFile\.|Directory\.|HttpClient|Console\."
    )]
    private static partial Regex Outside();

    [GeneratedRegex(@"<ProjectReference Include=""[^""]*/([A-Za-z.]+)\.csproj""")]
    private static partial Regex ProjectReference();
}
