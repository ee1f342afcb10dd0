using Zoltric.Core.Exchange;
using Zoltric.Core.Practice;

namespace Zoltric.Core.Tests.Practice;

/// <summary>
/// Codes by their published structures: SAE J1939-73 (parameter and failure mode 0 to 31) and ISO 15031-6 (letter, who sets it, group). All
/// of them written from memory, none checked against the printed standard.
/// </summary>
public class TroubleCodeTests
{
    [Theory]
    [InlineData("168-1", "168-1", "far below")]
    [InlineData("SPN 168 FMI 1", "168-1", "far below")]
    [InlineData("spn168 fmi 4", "168-4", "joined to ground")]
    [InlineData("639/9", "639-9", "seldom")]
    [InlineData("520 5", "520-5", "open")]
    [InlineData("520-3", "520-3", "supply")]
    [InlineData("520-6", "520-6", "grounded")]
    [InlineData("520-31", "520-31", "condition exists")]
    [InlineData("P0335", "P0335", "set by the standard: ignition")]
    [InlineData("p0562", "P0562", "speed, idling")]
    [InlineData("P1135", "P1135", "the maker's own")]
    [InlineData("P0606", "P0606", "control unit")]
    [InlineData("P0730", "P0730", "transmission")]
    [InlineData("U0100", "U0100", "network, set by the standard")]
    [InlineData("C1201", "C1201", "chassis, the maker's own")]
    [InlineData("B0001", "B0001", "body, set by the standard")]
    public void Published_structures_are_read(string text, string number, string says)
    {
        var code = TroubleCode.Read(text);
        code.Number.ShouldBe(number);
        code.Says!.ShouldContain(says, Case.Insensitive);
        code.Source!.ShouldContain("from memory");
    }

    [Theory, InlineData("31"), InlineData("E-21b"), InlineData("520-32"), InlineData("P4000"), InlineData("")]
    public void A_code_of_the_makers_own_stays_as_it_is(string text) => TroubleCode.Read(text).ShouldBe(new TroubleCode(text, null, null));

    [Fact]
    public void Reserved_failure_modes_stand_at_22_to_30()
    {
        TroubleCode.FailureModes.Count.ShouldBe(32);
        Enumerable.Range(0, 32).Where(i => TroubleCode.FailureModes[i] == "reserved").ShouldBe(Enumerable.Range(22, 9));
    }

    [Theory]
    [InlineData("168-1 active 3\n639-9 stored\n31\n")]
    [InlineData("code;status;count\r\n168-1;active;3\r\n639-9;stored;\r\n31;active;")]
    [InlineData("\"168-1\",\"active\",3\n\"639-9\",\"previously active\"\n31, active")]
    [InlineData("SPN 168 FMI 1\tactive\tx3\nSPN 639 FMI 9\tinactive\n31")]
    [InlineData("[{\"code\":\"168-1\",\"status\":\"active\",\"count\":3},{\"code\":\"639-9\",\"status\":\"stored\"},{\"code\":31}]")]
    public void A_list_is_read_in_the_forms_that_readers_write(string text)
    {
        var (codes, problems) = CodeList.Read(text);
        problems.ShouldBeEmpty();
        codes.Select(c => $"{c.Code.Number} {c.Status} {c.Count}").ShouldBe(["168-1 active 3", "639-9 stored ", "31 active "]);
    }

    [
        Theory,
        InlineData("168-1 active\nno code here at all\n"),
        InlineData("[{\"number\":1}]"),
        InlineData("[1,"),
        InlineData("[{\"code\":\"\\ud800\"}]"),
        InlineData("[[[[[[[[]]]]]]]]")
    ]
    public void What_cannot_be_read_is_said(string text) => CodeList.Read(text).Problems.ShouldNotBeEmpty();
}
