namespace Zoltric.Core.Keeping;

/// <summary>
/// The one store of what is computed from sheets and can be computed again: machines with their runs, beliefs, findings. It has one budget
/// in bytes. What was used longest ago goes first. Safe for use by several requests at a time.
/// </summary>
/// <remarks>
/// Bytes are counted by what holds them, as numbers kept times their size; the runtime's own share comes on top. An entry may grow after it
/// was kept, so all are counted again whenever one is added.
/// </remarks>
/// <param name="budgetBytes">Most that all entries may hold together. The entry used last stays, whatever it holds.</param>
public sealed class ComputedStore(long budgetBytes)
{
    /// <summary>Budget where none is given, 768 MiB: the twelve demo machines at work.</summary>
    public const long DefaultBytes = 768L << 20;

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
            while (held > budgetBytes && _recent is { Count: > 1, Last: { } last })
            {
                held -= last.Value.Bytes();
                _recent.RemoveLast();
                _entries.Remove(last.Value.Name);
            }
            return value;
        }
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
