using System.Globalization;
using System.Text;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>A request that asks for too much ends with a word, in the same step every time, and spoils nothing for the next.</summary>
public class WorkBudgetTests
{
    /// <summary>Relays in a ring, each fed by the one before, every other by its resting contact.</summary>
    private static string Ring(int relays)
    {
        var s = new StringBuilder("sheet \"Ring\"\nnominal 12V dc\ncontrol go: OFF*, ON\npart G1 battery 12V\npart F1 fuse 30A\n");
        s.Append("part S1 switch\n  closed 1-2 when go=ON\npart H1 lamp 12V 5W\npath G1.+ - F1 - S1 - H1 - G1.-\n");
        for (var i = 0; i < relays; i++)
            s.Append(CultureInfo.InvariantCulture, $"part K{i} relay 12V 85ohm\n");
        for (var i = 0; i < relays; i++)
            s.Append(CultureInfo.InvariantCulture, $"path S1.2 - K{i}.30>87{(i % 2 == 0 ? "a" : "")} - K{(i + 1) % relays}.86>85 - G1.-\n");
        return s.Append("function \"lamp lights\": H1 when go=ON\n").ToString();
    }

    private static FaultSpace Space(int relays) => new(new Machine(SheetReader.Read(Ring(relays)).Value.ShouldNotBeNull()));

    [Fact]
    public void What_asks_for_too_much_is_told_so()
    {
        WorkBudget.Begin(20_000, gone: TestContext.Current.CancellationToken);
        Should.Throw<TooMuchWorkException>(() => Diagnostician.Diagnose(Space(11), [])).Message.ShouldContain("without coming to rest");
    }

    [Fact]
    public void Work_that_nobody_waits_for_ends_and_what_comes_after_is_right()
    {
        var space = Space(5);
        using var gone = new CancellationTokenSource();
        gone.Cancel();
        WorkBudget.Begin(gone: gone.Token);
        Should.Throw<OperationCanceledException>(() => Diagnostician.Diagnose(space, []));
        WorkBudget.Begin(cores: 1, gone: TestContext.Current.CancellationToken);
        var after = Diagnostician.Diagnose(space, []);
        WorkBudget.Begin(gone: TestContext.Current.CancellationToken);
        var fresh = Diagnostician.Diagnose(Space(5), []);
        after.Suspects.Select(g => (g.Unit, g.Share)).ShouldBe(fresh.Suspects.Select(g => (g.Unit, g.Share)));
    }
}
