using Zoltric.Web.Api;

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
