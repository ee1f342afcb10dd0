namespace Zoltric.Core.Notation;

/// <summary>The nearest known spelling, by optimal string alignment distance (insert, delete, replace, swap neighbours).</summary>
public static class Spelling
{
    /// <summary>Nearest of the known words when it is near enough to be meant, else null.</summary>
    public static string? Nearest(string word, IEnumerable<string> known)
    {
        string? best = null;
        var limit = Math.Max(1, Math.Min(3, word.Length / 2)) + 1;
        if (word.Length > 60)
            return null;
        foreach (var k in known)
        {
            if (Math.Abs(k.Length - word.Length) >= limit)
                continue;
            var d = Distance(word.ToUpperInvariant(), k.ToUpperInvariant());
            if (d < limit)
                (best, limit) = (k, d);
        }
        return best;
    }

    /// <summary>"did you mean X?" or null.</summary>
    public static string? DidYouMean(string word, IEnumerable<string> known) =>
        Nearest(word, known) is { } near ? $"did you mean {near}?" : null;

    private static int Distance(string a, string b)
    {
        var d = new int[a.Length + 1, b.Length + 1];
        for (var i = 0; i <= a.Length; i++)
            d[i, 0] = i;
        for (var j = 0; j <= b.Length; j++)
            d[0, j] = j;
        for (var i = 1; i <= a.Length; i++)
        for (var j = 1; j <= b.Length; j++)
        {
            var cost = a[i - 1] == b[j - 1] ? 0 : 1;
            d[i, j] = Math.Min(Math.Min(d[i - 1, j] + 1, d[i, j - 1] + 1), d[i - 1, j - 1] + cost);
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                d[i, j] = Math.Min(d[i, j], d[i - 2, j - 2] + 1);
        }
        return d[a.Length, b.Length];
    }
}
