namespace Zoltric.Web.Jobs;

/// <summary>
/// Work that waits between two steps while a technician's is in hand, a program's not for ever: once it has waited for as long as it may,
/// it goes on beside.
/// </summary>
/// <param name="inHand">Whether a technician's work is in hand; asked before every step, so it must be cheap.</param>
/// <param name="most">How long it waits in all, on all its threads together.</param>
/// <param name="gone">Ends the waiting when nobody waits for the work any more.</param>
public sealed class StandingBack(Func<bool> inHand, TimeSpan most, CancellationToken gone)
{
    /// <summary>Longer than technicians are answered without a pause; shorter than a program gives up. An estimate.</summary>
    public static readonly TimeSpan Most = TimeSpan.FromSeconds(20);

    /// <summary>For what is weighed ahead of an answer: nobody waits for it. An estimate.</summary>
    public static readonly TimeSpan MostForAhead = TimeSpan.FromSeconds(2);

    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(20);
    private readonly long _most = most.Ticks;
    private long _waited;

    /// <exception cref="OperationCanceledException">When nobody waits for the work any more.</exception>
    public void Wait()
    {
        while (inHand() && Interlocked.Read(ref _waited) < _most)
        {
            if (gone.WaitHandle.WaitOne(Look))
                gone.ThrowIfCancellationRequested();
            Interlocked.Add(ref _waited, Look.Ticks);
        }
    }
}
