namespace Zoltric.Instruments.Captures;

/// <summary>A contact that closes, seen as the volts behind it.</summary>
/// <param name="At">When it first touches, s.</param>
/// <param name="Bounces">How often it comes off again before it stays.</param>
/// <param name="Settled">From the first touch until it stays, s; 0 for one that does not bounce.</param>
/// <param name="Low">Volts before, and <paramref name="High"/> after.</param>
public sealed record ContactClosing(double At, int Bounces, double Settled, double Low, double High)
{
    /// <summary>Off below this share of the whole step, on above the other: what lies between belongs to the edge.</summary>
    private const double Off = 0.3,
        On = 0.7;

    /// <summary>Share of the capture at its beginning and at its end that is taken for before and after.</summary>
    private const double Edge = 0.02;

    /// <summary>With more than this it is no contact that bounces, but something that pulses; estimate.</summary>
    private const int MostBounces = 12;

    /// <summary>
    /// Finds it in volts that begin at rest and end higher. Null where they do not, or go up and down without coming to stay.
    /// </summary>
    public static ContactClosing? Find(double[] seconds, double[] volts)
    {
        ArgumentNullException.ThrowIfNull(seconds);
        ArgumentNullException.ThrowIfNull(volts);
        if (volts.Length < 20 || Array.Exists(volts, double.IsNaN))
            return null;
        var few = Math.Max(2, (int)(volts.Length * Edge));
        var (low, high) = (Measures.Median(volts[..few]), Measures.Median(volts[^few..]));
        // Less than a volt is noise, or a supply that moves.
        if (high - low < 1)
            return null;
        var (isOn, first, last, bounces) = (false, -1, -1, 0);
        for (var i = 0; i < volts.Length; i++)
        {
            var share = (volts[i] - low) / (high - low);
            if (!isOn && share > On)
            {
                isOn = true;
                first = first < 0 ? i : first;
                last = i;
            }
            else if (isOn && share < Off)
                (isOn, bounces) = (false, bounces + 1);
        }
        return first > few && isOn && bounces <= MostBounces
            ? new ContactClosing(seconds[first], bounces, bounces == 0 ? 0 : seconds[last] - seconds[first], low, high)
            : null;
    }
}
