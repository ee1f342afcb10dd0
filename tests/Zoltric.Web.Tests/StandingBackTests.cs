using Zoltric.Core.Keeping;
using Zoltric.Core.Solving;
using Zoltric.Web.Jobs;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Tests;

/// <summary>A program's work makes room for a technician's, and is not kept waiting for ever.</summary>
public sealed class StandingBackTests
{
    [Fact]
    public async Task Work_waits_as_long_as_a_technicians_is_in_hand()
    {
        var inHand = true;
        var work = new StandingBack(() => Volatile.Read(ref inHand), TimeSpan.FromMinutes(1), CancellationToken.None);
        var step = Task.Run(work.Wait, TestContext.Current.CancellationToken);
        await Task.Delay(200, TestContext.Current.CancellationToken);
        step.IsCompleted.ShouldBeFalse();
        Volatile.Write(ref inHand, false);
        await step.WaitAsync(TimeSpan.FromSeconds(10), TestContext.Current.CancellationToken);
    }

    [Fact]
    public async Task It_goes_on_once_it_has_waited_long_enough()
    {
        var work = new StandingBack(() => true, TimeSpan.FromMilliseconds(100), CancellationToken.None);
        for (var step = 0; step < 1000; step++)
            await Task.Run(work.Wait, TestContext.Current.CancellationToken)
                .WaitAsync(TimeSpan.FromSeconds(10), TestContext.Current.CancellationToken);
    }

    /// <summary>A program that stands back in the middle of a sheet kept a page of the same sheet waiting until it went on.</summary>
    [Fact]
    public async Task Who_stands_back_keeps_nobody_waiting_on_the_same_sheet()
    {
        var stop = TestContext.Current.CancellationToken;
        var text = await File.ReadAllTextAsync(Path.Combine(ServerProcess.Root, "scenario", "sheets", "QS-5.sheet"), stop);
        var sheet = new SheetLibrary(new ComputedStore(ComputedStore.DefaultBytes)).Get(text).Value.ShouldNotBeNull();
        using var inside = new ManualResetEventSlim();
        using var goOn = new ManualResetEventSlim();
        var program = Task.Run(
            () =>
            {
                WorkBudget.Begin(turn: () =>
                {
                    inside.Set();
                    goOn.Wait(stop);
                });
                return sheet.Space;
            },
            stop
        );
        inside.Wait(TimeSpan.FromSeconds(30), stop).ShouldBeTrue();
        var page = await Task.Run(() => sheet.Space, stop).WaitAsync(TimeSpan.FromSeconds(30), stop);
        program.IsCompleted.ShouldBeFalse();
        goOn.Set();
        (await program).ShouldBeSameAs(page);
    }

    [Fact]
    public async Task It_ends_when_nobody_waits_for_it()
    {
        using var gone = new CancellationTokenSource();
        var step = Task.Run(new StandingBack(() => true, TimeSpan.FromMinutes(1), gone.Token).Wait, TestContext.Current.CancellationToken);
        await gone.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(async () =>
            await step.WaitAsync(TimeSpan.FromSeconds(10), TestContext.Current.CancellationToken)
        );
    }
}
