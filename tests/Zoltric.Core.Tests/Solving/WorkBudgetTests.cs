using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>A request that asks for too much ends with a word, in the same step every time, and spoils nothing for the next.</summary>
public class WorkBudgetTests
{
    private static FaultSpace Space(int relays) => new(new Machine(SheetReader.Read(RelayRing.Sheet(relays)).Value.ShouldNotBeNull()));

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
