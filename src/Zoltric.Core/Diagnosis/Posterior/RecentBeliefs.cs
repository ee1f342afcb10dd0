using System.Runtime.CompilerServices;
using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>
/// What the last few runs of readings came to on one space: one more reading than last time is the common case. Bounded; goes with
/// the space.
/// </summary>
internal sealed class RecentBeliefs
{
    private const int Most = 5;
    private static readonly ConditionalWeakTable<FaultSpace, RecentBeliefs> Made = [];

    private readonly Lock _gate = new();
    private readonly LinkedList<(string Key, Belief Belief)> _beliefs = new();

    public static RecentBeliefs Of(FaultSpace space) => Made.GetOrCreateValue(space);

    /// <summary>The belief of that key, if it was worked out lately; null otherwise.</summary>
    public Belief? Find(string key)
    {
        lock (_gate)
        {
            for (var node = _beliefs.First; node is not null; node = node.Next)
                if (node.Value.Key == key)
                {
                    _beliefs.Remove(node);
                    _beliefs.AddFirst(node);
                    return node.Value.Belief;
                }
            return null;
        }
    }

    public void Keep(string key, Belief belief)
    {
        lock (_gate)
        {
            _beliefs.AddFirst((key, belief));
            if (_beliefs.Count > Most)
                _beliefs.RemoveLast();
        }
    }
}
