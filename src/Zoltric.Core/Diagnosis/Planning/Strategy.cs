namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>Schools of fault finding; the default weighs what a test tells against what it costs.</summary>
public enum Strategy
{
    BestValue,
    Forwards,
    Backwards,
    SplitMiddle,
    CheapestFirst,
}

public static class Strategies
{
    private static readonly (string Word, Strategy Strategy)[] Words =
    [
        ("best", Strategy.BestValue),
        ("forwards", Strategy.Forwards),
        ("backwards", Strategy.Backwards),
        ("middle", Strategy.SplitMiddle),
        ("cheapest", Strategy.CheapestFirst),
    ];

    public static IEnumerable<string> All => Words.Select(w => w.Word);

    public static bool TryParse(string? word, out Strategy strategy)
    {
        strategy = Strategy.BestValue;
        if (string.IsNullOrWhiteSpace(word))
            return true;
        foreach (var (w, s) in Words)
            if (w.Equals(word, StringComparison.OrdinalIgnoreCase))
            {
                strategy = s;
                return true;
            }
        return false;
    }
}
