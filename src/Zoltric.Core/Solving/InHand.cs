using System.Collections.Concurrent;

namespace Zoltric.Core.Solving;

/// <summary>
/// What is being worked out now, by key: who asks for the same meanwhile waits for it, and it is worked out once. Nobody waits for work
/// that makes way for others or may be cut off; such work is done beside. Safe for use by several requests at a time.
/// </summary>
public sealed class InHand<T>
    where T : class
{
    private readonly ConcurrentDictionary<string, TaskCompletionSource<T?>> _inHand = new();

    /// <summary>What is made; by whoever asked first where that one is at it.</summary>
    /// <param name="make">Makes it. When it fails, it does so for who asked first, and those who waited try for themselves.</param>
    public T Get(string key, Func<T> make)
    {
        ArgumentNullException.ThrowIfNull(make);
        if (!WorkBudget.GoesThrough)
            return make();
        // Those who wait must not go on on the thread that has made it.
        var mine = new TaskCompletionSource<T?>(TaskCreationOptions.RunContinuationsAsynchronously);
        var first = _inHand.GetOrAdd(key, mine);
        if (first != mine)
            return first.Task.GetAwaiter().GetResult() ?? make();
        T? made = null;
        try
        {
            return made = make();
        }
        finally
        {
            _inHand.TryRemove(key, out _);
            mine.SetResult(made);
        }
    }
}
