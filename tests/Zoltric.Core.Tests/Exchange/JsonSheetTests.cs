using NJsonSchema;
using Zoltric.Core.Exchange;

namespace Zoltric.Core.Tests.Exchange;

/// <summary>The JSON twin: equal to the text, valid by the published schema, and refused with its place where it is wrong.</summary>
public class JsonSheetTests
{
    public static TheoryData<string> Sheets => [.. DemoSheets.All];

    private static Task<JsonSchema> Schema() =>
        JsonSchema.FromJsonAsync(
            File.ReadAllText(Path.Combine(DemoSheets.Root, "src", "Zoltric.Web", "wwwroot", "schema", "sheet.json")),
            TestContext.Current.CancellationToken
        );

    [Theory, MemberData(nameof(Sheets))]
    public async Task Every_demo_sheet_is_its_own_twin_and_valid_by_the_schema(string sheet)
    {
        var circuit = DemoSheets.Circuit(sheet);
        var json = JsonSheet.Write(circuit);
        (await Schema()).Validate(json).ShouldBeEmpty();
        var read = JsonSheet.Read(json);
        read.Problems.ShouldBeEmpty();
        read.Value.ShouldBe(circuit);
    }

    [Fact]
    public async Task The_schema_refuses_what_is_no_sheet()
    {
        var schema = await Schema();
        schema.Validate("""{"parts":[]}""").ShouldNotBeEmpty();
        schema.Validate("""{"title":"x","parts":[{"tag":"K 1","kind":"relay"}]}""").ShouldNotBeEmpty();
        schema.Validate("""{"title":"x","parts":[],"wires":[]}""").ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("{", "line 1", "not JSON")]
    [InlineData("[]", "/", "one object")]
    [InlineData("""{"title":"x","wires":[]}""", "/wires", "no such member")]
    [InlineData("""{"title":"a\"b","parts":[]}""", "/title", "no quotes")]
    [InlineData("""{"title":"x","parts":[{"tag":"G1","kind":"batery"}]}""", "/parts/0", "did you mean battery")]
    [InlineData(
        """{"title":"x","parts":[{"tag":"G1","kind":"battery","values":["12V\npart G2 battery"]}]}""",
        "/parts/0/values/0",
        "line break"
    )]
    [InlineData(
        """{"title":"x","parts":[{"tag":"G1","kind":"battery"}],"paths":[{"hops":[{"at":"G1.+"},{"at":"G9.-"}]}]}""",
        "/paths/0",
        "G9"
    )]
    [InlineData(
        """{"title":"x","parts":[{"tag":"G1","kind":"battery"}],"paths":[{"hops":[{"at":"G1.+"}]}]}""",
        "/paths/0/hops",
        "two hops"
    )]
    public void What_is_wrong_is_said_with_its_place(string json, string where, string what)
    {
        var problems = JsonSheet.Read(json).Problems;
        problems.ShouldNotBeEmpty();
        problems[0].ToString().ShouldContain(where);
        problems[0].ToString().ShouldContain(what);
    }
}
