namespace Zoltric.Web.Instruments;

/// <summary>What the screens of a hands-free trace show at one moment.</summary>
/// <param name="Figure">What the meter shows, with its unit; empty for nothing yet.</param>
/// <param name="Stage">by-hand, tips-off, set-machine, settling, move, watching, confirm, or trouble.</param>
/// <param name="Say">What to do now, in words.</param>
/// <param name="Kept">Readings kept since it was begun.</param>
/// <param name="Judgement">Of the last one kept: ok, low, high, unsure; empty for none.</param>
/// <param name="Mark">Of what stands in the job: with another one the order is another.</param>
/// <param name="Meter">What it calls itself; empty until it has said so.</param>
/// <param name="Jumped">True where the figure changed while something was moved.</param>
/// <param name="Supply">What a second meter on the supply shows, in words; empty for none.</param>
/// <param name="At">When the meter gave it, Unix milliseconds.</param>
public sealed record MeterShown(
    string Figure,
    string Stage,
    string Say,
    int Kept,
    string Judgement,
    string Mark,
    string Meter,
    bool Jumped,
    string Supply,
    long At
)
{
    public static MeterShown Nothing { get; } = new("", "settling", "The meter is being called.", 0, "", "", "", false, "", 0);
}
