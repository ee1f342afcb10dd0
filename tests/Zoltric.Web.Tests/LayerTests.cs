using Mono.Cecil;
using Mono.Cecil.Cil;

namespace Zoltric.Web.Tests;

/// <summary>
/// Reads the compiled assemblies: every type that a method, field or signature names is an arrow from namespace to namespace. Arrows only
/// point to what stands before them in the one list below, so that there can be no cycle.
/// </summary>
public class LayerTests(ITestOutputHelper output)
{
    /// <summary>The namespaces from the bottom up; a page may use whatever stands before it and no other page.</summary>
    private static readonly string[] FromTheBottom =
    [
        "Zoltric.Core.Keeping",
        "Zoltric.Core.Solving.Linear",
        "Zoltric.Core.Circuits",
        "Zoltric.Core.Circuits.Kinds",
        "Zoltric.Core.Notation",
        "Zoltric.Core.Solving",
        "Zoltric.Core.Metering",
        "Zoltric.Core.Simulation",
        "Zoltric.Core.Routes",
        "Zoltric.Core.Faults",
        "Zoltric.Core.Safety",
        "Zoltric.Core.Diagnosis.Observation",
        "Zoltric.Core.Diagnosis.Hypotheses",
        "Zoltric.Core.Diagnosis.Posterior",
        "Zoltric.Core.Diagnosis.Planning",
        "Zoltric.Core.Diagnosis.Explanation",
        "Zoltric.Core.Diagnosis",
        "Zoltric.Core.Practice",
        "Zoltric.Core.Figures",
        "Zoltric.Core.Procedures",
        "Zoltric.Core.Training",
        "Zoltric.Core.Checking",
        "Zoltric.Core.Exchange",
        "Zoltric.Core.Patterns",
        "Zoltric.Core.Patterns.Library",
        "Zoltric.Drawing.Symbols",
        "Zoltric.Drawing.Schematic",
        "Zoltric.Drawing",
        "Zoltric.Instruments",
        "Zoltric.Instruments.Links",
        "Zoltric.Instruments.Meters",
        "Zoltric.Instruments.HandsFree",
        "Zoltric.Instruments.StandIns",
        "Zoltric.Instruments.Buses",
        "Zoltric.Instruments.Captures",
        "Zoltric.Instruments.Watching",
        "Zoltric.Instruments.Scopes",
        "Zoltric.Store",
        "Zoltric.Web.People",
        "Zoltric.Web.Forms",
        "Zoltric.Web.Upkeep",
        "Zoltric.Web.Wording",
        "Zoltric.Web.Sheets",
        "Zoltric.Web.Import",
        "Zoltric.Web.Jobs",
        "Zoltric.Web.Instruments",
        "Zoltric.Web.Procedures",
        "Zoltric.Web.Demo",
        "Zoltric.Web.Api",
        "Zoltric.Web.Pages",
        Page,
    ];

    /// <summary>Stands for any one folder below Pages.</summary>
    private const string Page = "Zoltric.Web.Pages.*";

    [Fact]
    public void Arrows_between_namespaces_only_go_down()
    {
        var arrows = new Dictionary<(string From, string To), string>();
        foreach (var name in new[] { "Zoltric.Core", "Zoltric.Drawing", "Zoltric.Instruments", "Zoltric.Store", "Zoltric.Web" })
        {
            using var module = ModuleDefinition.ReadModule(Path.Combine(AppContext.BaseDirectory, name + ".dll"));
            foreach (var type in module.GetTypes())
            foreach (var used in Used(type))
                if (NamespaceOf(type) is { } from && NamespaceOf(used) is { } to && from != to)
                    arrows.TryAdd((from, to), $"{Outer(type).Name} uses {Outer(used).Name}");
        }
        output.WriteLine($"{arrows.Count} arrows");
        arrows.Count.ShouldBeGreaterThan(60);
        Upward(arrows).ShouldBeEmpty();
    }

    [Fact]
    public void An_upward_arrow_a_cycle_and_an_unknown_room_are_found()
    {
        Dictionary<(string, string), string> One(string from, string to) => new() { [(from, to)] = "A uses B" };
        Upward(One("Zoltric.Core.Diagnosis", "Zoltric.Core.Circuits")).ShouldBeEmpty();
        Upward(One("Zoltric.Core.Solving", "Zoltric.Core.Diagnosis.Posterior")).ShouldHaveSingleItem();
        Upward(One("Zoltric.Web.Pages.Trace", "Zoltric.Web.Pages.Repair")).ShouldHaveSingleItem();
        Upward(One("Zoltric.Core.Attic", "Zoltric.Core.Circuits")).ShouldHaveSingleItem();
        var both = One("Zoltric.Core.Notation", "Zoltric.Core.Circuits");
        both[("Zoltric.Core.Circuits", "Zoltric.Core.Notation")] = "B uses A";
        Upward(both).ShouldHaveSingleItem();
    }

    private static List<string> Upward(Dictionary<(string From, string To), string> arrows) =>
        arrows
            .Where(a => Place(a.Key.From) is var from && Place(a.Key.To) is var to && (from < 0 || to < 0 || to >= from))
            .Select(a => $"{a.Key.From} → {a.Key.To}: {a.Value}")
            .ToList();

    private static int Place(string name) =>
        Array.IndexOf(
            FromTheBottom,
            name.StartsWith("Zoltric.Web.Pages.", StringComparison.Ordinal) && name != "Zoltric.Web.Pages.Shared" ? Page
                : name == "Zoltric.Web.Pages.Shared" ? "Zoltric.Web.Pages"
                : name
        );

    private static TypeReference Outer(TypeReference t) => t.DeclaringType is { } outer ? Outer(outer) : t;

    /// <summary>Namespace of our own types; null for others, and for what the compiler puts beside the program's entry.</summary>
    private static string? NamespaceOf(TypeReference t) =>
        Outer(t).Namespace is { } n && n.StartsWith("Zoltric.", StringComparison.Ordinal) && n != "Zoltric.Web" ? n : null;

    private static IEnumerable<TypeReference> Used(TypeDefinition type)
    {
        IEnumerable<TypeReference?> direct =
        [
            type.BaseType,
            .. type.Interfaces.Select(i => i.InterfaceType),
            .. type.Fields.Select(f => f.FieldType),
            .. type.CustomAttributes.Select(a => a.AttributeType),
            .. type.Methods.SelectMany(OfMethod),
        ];
        return direct.OfType<TypeReference>().SelectMany(Plain).Distinct();
    }

    private static IEnumerable<TypeReference?> OfMethod(MethodDefinition method) =>
        [
            method.ReturnType,
            .. method.Parameters.Select(p => p.ParameterType),
            .. method.HasBody ? method.Body.Variables.Select(v => v.VariableType) : [],
            .. method.HasBody ? method.Body.Instructions.SelectMany(OfInstruction) : [],
        ];

    private static IEnumerable<TypeReference?> OfInstruction(Instruction i) =>
        i.Operand switch
        {
            TypeReference t => [t],
            MethodReference m =>
            [
                m.DeclaringType,
                m.ReturnType,
                .. m.Parameters.Select(p => p.ParameterType),
                .. m is GenericInstanceMethod g ? g.GenericArguments : [],
            ],
            FieldReference f => [f.DeclaringType, f.FieldType],
            _ => [],
        };

    /// <summary>A type without its arrays, references and arguments, and those arguments.</summary>
    private static IEnumerable<TypeReference> Plain(TypeReference t) =>
        t switch
        {
            GenericParameter => [],
            GenericInstanceType g => g.GenericArguments.SelectMany(Plain).Concat(Plain(g.ElementType)),
            TypeSpecification s => Plain(s.ElementType),
            _ => [t],
        };
}
