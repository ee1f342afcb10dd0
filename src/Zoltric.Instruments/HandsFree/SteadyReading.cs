using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;

namespace Zoltric.Instruments.HandsFree;

/// <summary>
/// Tells when a stream of readings has come to rest: for 0.8 s the span of what was shown stayed within the accuracy of the meter at that
/// value, on at least four readings. OL rests as a number does. The rule is ours; docs/instruments.md says why.
/// </summary>
public sealed class SteadyReading(MeterClass accuracy, Dimension dimension)
{
    /// <summary>How long it must have stood.</summary>
    public static readonly TimeSpan Rest = TimeSpan.FromMilliseconds(800);

    private const int Fewest = 4;

    private readonly Queue<(double Value, TimeSpan At)> _window = new();

    /// <summary>What it may span at a value, in the unit of the value: accuracy to either side.</summary>
    public double Within(double value) => 2 * accuracy.Band(value, dimension);

    /// <summary>Adds one reading; the resting value where it has come to rest.</summary>
    /// <param name="value">Infinite for OL.</param>
    public Steady? Add(double value, TimeSpan at)
    {
        if (double.IsNaN(value))
            throw new ArgumentException("Not a number is no reading.", nameof(value));
        // What is older than the rest, but for one reading, has no say.
        _window.Enqueue((value, at));
        while (_window.Count > Fewest && _window.Skip(1).First().At <= at - Rest)
            _window.Dequeue();
        var values = _window.Select(w => w.Value).ToList();
        if (values.Count < Fewest || at - _window.Peek().At < Rest)
            return null;
        if (values.TrueForAll(double.IsInfinity))
            return new Steady(double.PositiveInfinity, 0, values.Count);
        if (values.Exists(double.IsInfinity))
            return null;
        var (low, high) = (values.Min(), values.Max());
        var mean = values.Average();
        return high - low <= Within(mean) ? new Steady(mean, high - low, values.Count) : null;
    }

    public void Clear() => _window.Clear();
}

/// <summary>A value that rests.</summary>
/// <param name="Value">The mean, V or Ω; infinite for OL.</param>
/// <param name="Span">Highest less lowest, same unit.</param>
/// <param name="Readings">How many it was taken from.</param>
public readonly record struct Steady(double Value, double Span, int Readings)
{
    public bool IsOverload => double.IsInfinity(Value);

    /// <summary>Lowest and highest of what was watched while something was moved; both null for a value that rests.</summary>
    public (double Low, double High)? Watched { get; init; }
}
