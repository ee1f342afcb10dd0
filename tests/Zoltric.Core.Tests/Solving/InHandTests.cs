using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

public sealed class InHandTests
{
    private static readonly TimeSpan Long = TimeSpan.FromSeconds(20);

    [Fact]
    public async Task What_several_ask_for_at_once_is_worked_out_once()
    {
        var inHand = new InHand<string>();
        using var begun = new ManualResetEventSlim();
        using var goOn = new ManualResetEventSlim();
        var made = 0;
        string Make()
        {
            Interlocked.Increment(ref made);
            begun.Set();
            goOn.Wait(Long).ShouldBeTrue();
            return "it";
        }
        var first = Task.Run(() => inHand.Get("key", Make), TestContext.Current.CancellationToken);
        begun.Wait(Long, TestContext.Current.CancellationToken).ShouldBeTrue();
        var others = Enumerable.Range(0, 3).Select(_ => Task.Run(() => inHand.Get("key", Make))).ToList();
        // Another key is nobody's business.
        inHand.Get("other", () => "other").ShouldBe("other");
        await Task.Delay(100, TestContext.Current.CancellationToken);
        goOn.Set();
        (await Task.WhenAll(others.Append(first))).ShouldAllBe(x => x == "it");
        made.ShouldBe(1);
        // Nothing is kept of it.
        inHand.Get("key", () => "anew").ShouldBe("anew");
    }

    [Fact]
    public async Task Who_waited_for_work_that_failed_does_it()
    {
        var inHand = new InHand<string>();
        using var begun = new ManualResetEventSlim();
        using var goOn = new ManualResetEventSlim();
        var first = Task.Run(() => inHand.Get("key", () =>
                {
                    begun.Set();
                    goOn.Wait(Long).ShouldBeTrue();
                    throw new TooMuchWorkException("too much");
                }), TestContext.Current.CancellationToken);
        begun.Wait(Long, TestContext.Current.CancellationToken).ShouldBeTrue();
        var second = Task.Run(() => inHand.Get("key", () => "mine"), TestContext.Current.CancellationToken);
        await Task.Delay(100, TestContext.Current.CancellationToken);
        goOn.Set();
        await Should.ThrowAsync<TooMuchWorkException>(() => first);
        (await second).ShouldBe("mine");
    }

    [Fact]
    public async Task Nobody_waits_for_work_that_makes_way_for_others()
    {
        var inHand = new InHand<string>();
        using var begun = new ManualResetEventSlim();
        using var goOn = new ManualResetEventSlim();
        var standsBack = Task.Run(
            () =>
            {
                WorkBudget.Begin(turn: () => { });
                return inHand.Get("key", () =>
                {
                    begun.Set();
                    goOn.Wait(Long).ShouldBeTrue();
                    return "late";
                });
            },
            TestContext.Current.CancellationToken
        );
        begun.Wait(Long, TestContext.Current.CancellationToken).ShouldBeTrue();
        inHand.Get("key", () => "at once").ShouldBe("at once");
        goOn.Set();
        (await standsBack).ShouldBe("late");
    }
}
