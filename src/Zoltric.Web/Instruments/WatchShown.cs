namespace Zoltric.Web.Instruments;

/// <summary>What the screens of a long watch show at one moment.</summary>
/// <param name="Seconds">s from the beginning.</param>
/// <param name="Value">In the unit of the watch; null for over limit and for nothing.</param>
/// <param name="Figure">The same as it is read, with its unit.</param>
/// <param name="Supply">Volts of the supply; null where they are not watched.</param>
/// <param name="Stage">watching, dial, or trouble.</param>
/// <param name="Say">What to do now, in words.</param>
/// <param name="Spread">Least, mean and most so far, in words.</param>
/// <param name="Jumped">True where the figure has just changed by more than the meter's accuracy.</param>
/// <param name="Marks">Things done so far.</param>
/// <param name="At">When the meter gave it, Unix milliseconds.</param>
public sealed record WatchShown(
    double Seconds,
    double? Value,
    string Figure,
    double? Supply,
    string Stage,
    string Say,
    string Spread,
    bool Jumped,
    int Marks,
    long At
)
{
    public static WatchShown Nothing { get; } = new(0, null, "", null, "watching", "The meter is being called.", "", false, 0, 0);
}
