using System.Runtime.ExceptionServices;

namespace Zoltric.Core.Solving;

/// <summary>A request asks for more than one request is given.</summary>
public sealed class TooMuchWorkException(string message) : Exception(message);

/// <summary>
/// What one request may make the solver do, in steps and not in time, so that the same request ends in the same way on every machine. It
/// holds for everything that is begun in it, on whatever thread.
/// </summary>
public sealed class WorkBudget
{
    /// <summary>
    /// Ten times and more what the demo's largest machine takes from cold with every fault of it, and more than a ring of 51 relays or a
    /// board of sixty lamps with a relay each; an estimate.
    /// </summary>
    public const long UsualSteps = 12_000_000;

    private static readonly AsyncLocal<WorkBudget?> Ambient = new();
    private readonly long _most;
    private readonly CancellationToken _gone;
    private readonly Action? _turn;
    private long _spent;

    private WorkBudget(long most, int? cores, Action? turn, CancellationToken gone) =>
        (_most, Cores, _turn, _gone) = (most, cores, turn, gone);

    /// <summary>That of the work in hand; null where none was set.</summary>
    internal static WorkBudget? Current => Ambient.Value;

    /// <summary>True for work that neither makes way for others nor is cut off: who needs the same may wait for it.</summary>
    public static bool GoesThrough => Current is not { } mine || mine._turn is null && !mine._gone.CanBeCanceled;

    /// <summary>Steps spent so far.</summary>
    public long Spent => Interlocked.Read(ref _spent);

    /// <summary>Cores that it may use at once; null for all.</summary>
    internal int? Cores { get; }

    /// <summary>Sets the budget of what is begun from here on in this request.</summary>
    /// <param name="most">Steps; one is a machine made consistent at one instant, more for a large one.</param>
    /// <param name="cores">Cores that it may use at once; null for all.</param>
    /// <param name="turn">Asked before each step, on the thread that takes it; may keep it waiting while others have their turn.</param>
    /// <param name="gone">Ends the work when nobody waits for it any more.</param>
    public static WorkBudget Begin(long most = UsualSteps, int? cores = null, Action? turn = null, CancellationToken gone = default) =>
        Ambient.Value = new WorkBudget(most, cores, turn, gone);

    /// <exception cref="TooMuchWorkException">When more has been spent than there is.</exception>
    /// <exception cref="OperationCanceledException">When nobody waits for it any more.</exception>
    internal void Spend(long steps)
    {
        _gone.ThrowIfCancellationRequested();
        _turn?.Invoke();
        if (Interlocked.Add(ref _spent, steps) > _most)
            throw new TooMuchWorkException(
                "This machine asks for more than one request is given: its relays switch one after the other without coming to rest, in "
                    + "every fault anew, or it is very large. Take the part of the sheet that the complaint is about."
            );
    }

    /// <summary>Does it for each index, on as many cores as the request may use; what was too much is thrown as it is.</summary>
    internal static void For(int from, int to, Action<int> body)
    {
        try
        {
            Parallel.For(from, to, new ParallelOptions { MaxDegreeOfParallelism = Current?.Cores ?? -1 }, body);
        }
        catch (AggregateException e) when (Ended(e) is { } ended)
        {
            ended.Throw();
        }
    }

    /// <summary>The same for each item.</summary>
    internal static void ForEach<T>(IEnumerable<T> items, Action<T> body)
    {
        try
        {
            Parallel.ForEach(items, new ParallelOptions { MaxDegreeOfParallelism = Current?.Cores ?? -1 }, body);
        }
        catch (AggregateException e) when (Ended(e) is { } ended)
        {
            ended.Throw();
        }
    }

    private static ExceptionDispatchInfo? Ended(AggregateException e) =>
        e.Flatten().InnerExceptions.FirstOrDefault(x => x is TooMuchWorkException or OperationCanceledException) is { } one
            ? ExceptionDispatchInfo.Capture(one)
            : null;
}
