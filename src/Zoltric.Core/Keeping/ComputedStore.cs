namespace Zoltric.Core.Keeping;

/// <summary>Counts uses, so that what was used longest ago can be told. Safe for use by several requests at a time.</summary>
internal static class Uses
{
    private static long _last;

    public static long Next() => Interlocked.Increment(ref _last);
}

/// <summary>Something kept that can give back a part of what it holds, and makes it again when it is asked for.</summary>
public interface IGivesBack
{
    /// <summary>When the part that it would give back was used last, by a count of uses; null where it has none.</summary>
    long? OldestUse { get; }

    /// <summary>Bytes of all parts that it could give back.</summary>
    long PartBytes { get; }

    /// <summary>Gives back the part that was used longest ago; the bytes that it held.</summary>
    long DropOldest();
}

/// <summary>
/// The one store of what is computed from sheets and can be computed again: machines with their runs, beliefs, findings. It has one budget
/// in bytes. What was used longest ago goes first, runs before what was concluded from them. Safe for use by several requests at a time.
/// </summary>
/// <remarks>
/// Bytes are counted by what holds them, as numbers kept times their size; the runtime's own share comes on top. An entry may grow after it
/// was kept, so all are counted again whenever one is added.
/// </remarks>
/// <param name="budgetBytes">Most that all entries may hold together. The entry used last stays, whatever it holds.</param>
public sealed class ComputedStore(long budgetBytes)
{
    /// <summary>Budget where none is given, 640 MiB: the twelve demo machines at work.</summary>
    public const long DefaultBytes = 640L << 20;

    /// <summary>One over the share of the budget that parts which can be given back keep at least; an estimate.</summary>
    private const int ShareOfParts = 4;

    private sealed record Entry((string Sheet, string Key) Name, object Value, Func<long> Bytes);

    private readonly Lock _gate = new();

    /// <summary>Used last, first.</summary>
    private readonly LinkedList<Entry> _recent = new();
    private readonly Dictionary<(string Sheet, string Key), LinkedListNode<Entry>> _entries = [];

    /// <summary>Bytes that all entries hold now.</summary>
    public long HeldBytes
    {
        get
        {
            lock (_gate)
                return _recent.Sum(e => e.Bytes());
        }
    }

    /// <summary>Where everything of one sheet is kept.</summary>
    /// <param name="sheet">What tells it from others: its text with the odds it is weighed by.</param>
    public Shelf ShelfOf(string sheet) => new(this, sheet);

    /// <summary>Lets go of everything of one sheet.</summary>
    /// <param name="sheet">As for <see cref="ShelfOf"/>.</param>
    public void Drop(string sheet)
    {
        lock (_gate)
            foreach (var node in _entries.Where(e => e.Key.Sheet == sheet).Select(e => e.Value).ToList())
                Remove(node);
    }

    private void Remove(LinkedListNode<Entry> node)
    {
        _recent.Remove(node);
        _entries.Remove(node.Value.Name);
    }

    internal object? Find((string Sheet, string Key) name)
    {
        lock (_gate)
            return _entries.TryGetValue(name, out var node) ? Used(node).Value : null;
    }

    internal object Keep((string Sheet, string Key) name, object value, Func<long> bytes)
    {
        lock (_gate)
        {
            // What another request made in the meantime serves both.
            if (_entries.TryGetValue(name, out var known))
                return Used(known).Value;
            Used(_entries[name] = _recent.AddFirst(new Entry(name, value, bytes)));
            var held = _recent.Sum(e => e.Bytes());
            if (held > budgetBytes)
                held = GiveBack(held);
            while (held > budgetBytes && _recent is { Count: > 1, Last: { } last })
            {
                held -= last.Value.Bytes();
                Remove(last);
            }
            return value;
        }
    }

    /// <summary>
    /// Runs go before what was concluded from them, as a screen that is shown again needs only the latter, but for a quarter of the
    /// budget. Bytes that are held afterwards.
    /// </summary>
    private long GiveBack(long held)
    {
        var givers = _recent.Select(e => e.Value).OfType<IGivesBack>().ToList();
        var parts = givers.Sum(g => g.PartBytes);
        while (
            held > budgetBytes
            && parts > budgetBytes / ShareOfParts
            && givers.MinBy(g => g.OldestUse ?? long.MaxValue) is { OldestUse: not null } oldest
        )
        {
            var given = oldest.DropOldest();
            (held, parts) = (held - given, parts - given);
        }
        return held;
    }

    /// <summary>
    /// Moves an entry to the front, and the sheet that it was computed from before it: a sheet goes after all that needs it.
    /// </summary>
    private Entry Used(LinkedListNode<Entry> node)
    {
        ToFront(node);
        if (_entries.TryGetValue((node.Value.Name.Sheet, Shelf.Sheets), out var sheet) && sheet != node)
            ToFront(sheet);
        return node.Value;

        void ToFront(LinkedListNode<Entry> used)
        {
            _recent.Remove(used);
            _recent.AddFirst(used);
        }
    }
}

/// <summary>What is kept of one sheet, by key.</summary>
public sealed class Shelf
{
    /// <summary>Key of the sheet itself.</summary>
    public const string Sheets = "sheet";

    private readonly ComputedStore _store;

    private readonly string _sheet;

    internal Shelf(ComputedStore store, string sheet) => (_store, _sheet) = (store, sheet);

    /// <summary>A shelf with a store to itself.</summary>
    public static Shelf Alone() => new ComputedStore(ComputedStore.DefaultBytes).ShelfOf("");

    /// <summary>What was kept under that key; null where nothing is.</summary>
    public T? Find<T>(string key)
        where T : class => _store.Find((_sheet, key)) as T;

    /// <summary>Keeps a value, and gives it back, or the one that is there already.</summary>
    /// <param name="bytes">What it holds, asked for whenever the budget is looked at.</param>
    public T Keep<T>(string key, T value, Func<long> bytes)
        where T : class => (T)_store.Keep((_sheet, key), value, bytes);
}
