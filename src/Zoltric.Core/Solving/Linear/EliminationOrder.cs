namespace Zoltric.Core.Solving.Linear;

/// <summary>
/// Fill-reducing order by minimum degree: the node with the fewest neighbours is eliminated next and its neighbours become
/// a clique. Source: the minimum degree idea of Tinney and Walker (1967); degrees are exact, which is cheap at circuit sizes.
/// </summary>
internal static class EliminationOrder
{
    /// <param name="n">Number of unknowns.</param>
    /// <param name="edges">Pairs of different unknowns; repeats do no harm.</param>
    /// <returns>For each position in the order, the unknown eliminated there, and the later unknowns its column touches.</returns>
    public static (int[] Order, int[][] Columns) MinimumDegree(int n, IEnumerable<(int A, int B)> edges)
    {
        var neighbours = new HashSet<int>[n];
        for (var i = 0; i < n; i++)
            neighbours[i] = [];
        foreach (var (a, b) in edges)
        {
            neighbours[a].Add(b);
            neighbours[b].Add(a);
        }
        var queue = new PriorityQueue<(int Node, int Degree), long>();
        void Enqueue(int node) => queue.Enqueue((node, neighbours[node].Count), ((long)neighbours[node].Count << 32) + node);
        for (var i = 0; i < n; i++)
            Enqueue(i);
        var order = new int[n];
        var columns = new int[n][];
        var gone = new bool[n];
        for (var k = 0; k < n; )
        {
            var (node, degree) = queue.Dequeue();
            // Entries outdated by later changes of degree are skipped; each change queued a fresh one.
            if (gone[node] || degree != neighbours[node].Count)
                continue;
            gone[node] = true;
            order[k] = node;
            var clique = neighbours[node].ToArray();
            columns[k] = clique;
            k++;
            foreach (var i in clique)
            {
                neighbours[i].Remove(node);
                foreach (var j in clique)
                    if (j != i)
                        neighbours[i].Add(j);
            }
            foreach (var i in clique)
                Enqueue(i);
        }
        return (order, columns);
    }
}
