using Zoltric.Instruments.Captures;

namespace Zoltric.Instruments.Watching;

/// <summary>Something that was done while a figure was watched.</summary>
/// <param name="At">s from the beginning; never before the mark before it.</param>
/// <param name="Setup">What it did to the machine, as in a reading line before the colon: <c>pull F3</c>; empty for what has no such
/// word.</param>
/// <param name="Wakes">True where it wakes what sleeps: a door, the key, a fuse put back.</param>
public sealed record WatchMark(double At, string What, string Setup, bool Wakes)
{
    /// <summary>True where everything that was taken out is in again.</summary>
    public bool PutsBack { get; init; }

    /// <summary>What the tips lie on from then on, as a probe of a reading line; null where they stay.</summary>
    public string? On { get; init; }
}

/// <summary>From one mark to the next.</summary>
/// <param name="Mark">What it begins with; null for the beginning.</param>
/// <param name="Length">s.</param>
/// <param name="Level">The middle of its later half: what it came to.</param>
/// <param name="Least">Lowest figure in it; not a number where there was none.</param>
/// <param name="Most">Highest; infinite where it went over limit.</param>
public sealed record WatchStretch(WatchMark? Mark, double From, double Length, double Level, double Least, double Most);

/// <summary>
/// A figure watched for minutes to hours as a meter gives it: what it is, where it went, and what was done meanwhile. Not safe to use from
/// several threads.
/// </summary>
public sealed class LongWatch(string name, string unit)
{
    /// <summary>With more figures than this, every four become their lowest and highest.</summary>
    private const int MostHeld = 400_000;

    private readonly List<double> _seconds = [],
        _values = [],
        _supply = [];
    private readonly List<WatchMark> _marks = [];
    private double _sum;
    private long _counted;

    public string Name => name;
    public string Unit => unit;
    public int Count => _seconds.Count;

    /// <summary>s from the beginning to the last figure.</summary>
    public double Length => _seconds.Count == 0 ? 0 : _seconds[^1];

    /// <summary>Infinite for over limit; not a number before the first.</summary>
    public double Now => _values.Count == 0 ? double.NaN : _values[^1];

    /// <summary>Volts of the supply with the last figure; not a number where they are not watched.</summary>
    public double Supply => _supply.Count == 0 ? double.NaN : _supply[^1];

    public double Least { get; private set; } = double.PositiveInfinity;
    public double Most { get; private set; } = double.NegativeInfinity;

    /// <summary>Of the figures that were none over limit.</summary>
    public double Mean => _counted == 0 ? double.NaN : _sum / _counted;

    public IReadOnlyList<WatchMark> Marks => _marks;

    /// <summary>Takes one figure.</summary>
    /// <param name="seconds">From the beginning, later than the one before.</param>
    /// <param name="supply">Volts of the supply at the same time; null where they are not watched.</param>
    public void Add(double seconds, double value, double? supply = null)
    {
        if (_seconds.Count > 0 && seconds <= _seconds[^1] || double.IsNaN(value))
            return;
        _seconds.Add(seconds);
        _values.Add(value);
        _supply.Add(supply ?? double.NaN);
        (Least, Most) = (Math.Min(Least, value), Math.Max(Most, value));
        if (double.IsFinite(value))
            (_sum, _counted) = (_sum + value, _counted + 1);
        if (_seconds.Count > MostHeld)
            Thin();
    }

    /// <summary>Takes the last so many figures back: the dial was turned before them.</summary>
    public void Withdraw(int figures)
    {
        var from = Math.Max(0, _seconds.Count - figures);
        for (var i = from; i < _values.Count; i++)
            if (double.IsFinite(_values[i]))
                (_sum, _counted) = (_sum - _values[i], _counted - 1);
        foreach (var list in (List<double>[])[_seconds, _values, _supply])
            list.RemoveRange(from, list.Count - from);
        (Least, Most) = (_values.Append(double.PositiveInfinity).Min(), _values.Append(double.NegativeInfinity).Max());
    }

    /// <summary>Notes that something was done now.</summary>
    public void Mark(WatchMark mark)
    {
        ArgumentNullException.ThrowIfNull(mark);
        _marks.Add(mark with { At = Math.Max(mark.At, _marks.Count == 0 ? 0 : _marks[^1].At), On = mark.On ?? On });
    }

    /// <summary>What the tips lie on now; null for where they lay first.</summary>
    public string? On => _marks.Count == 0 ? null : _marks[^1].On;

    /// <summary>When something last woke: the beginning, or the last mark that wakes; s from the beginning.</summary>
    public double AwakeSince => _marks.LastOrDefault(m => m.Wakes)?.At ?? 0;

    /// <summary>Of every four figures the lowest and the highest stay, in their order.</summary>
    private void Thin()
    {
        var n = 0;
        for (var i = 0; i + 3 < _seconds.Count; i += 4)
        {
            var (low, high) = (i, i);
            for (var k = i + 1; k < i + 4; k++)
                (low, high) = (_values[k] < _values[low] ? k : low, _values[k] >= _values[high] ? k : high);
            foreach (var k in low < high ? [low, high] : (int[])[high, low])
                (_seconds[n], _values[n], _supply[n++]) = (_seconds[k], _values[k], _supply[k]);
        }
        foreach (var list in (List<double>[])[_seconds, _values, _supply])
            list.RemoveRange(n, list.Count - n);
    }

    /// <summary>What was seen between the marks; the first from the beginning, the last as far as it has gone.</summary>
    public IReadOnlyList<WatchStretch> Stretches()
    {
        var stretches = new List<WatchStretch>();
        for (var m = -1; m < _marks.Count; m++)
        {
            var (from, to) = (m < 0 ? 0 : _marks[m].At, m + 1 < _marks.Count ? _marks[m + 1].At : Length);
            var (first, end) = (From(from), m + 1 < _marks.Count ? From(to) : _seconds.Count);
            var (least, most) = (double.NaN, double.NaN);
            for (var i = first; i < end; i++)
                (least, most) = (
                    double.IsNaN(least) ? _values[i] : Math.Min(least, _values[i]),
                    double.IsNaN(most) ? _values[i] : Math.Max(most, _values[i])
                );
            stretches.Add(
                new WatchStretch(m < 0 ? null : _marks[m], from, Math.Max(0, to - from), Middle((first + end) / 2, end), least, most)
            );
        }
        return stretches;
    }

    /// <summary>First figure not before an instant.</summary>
    private int From(double seconds) => _seconds.BinarySearch(seconds) is >= 0 and var i ? i : ~_seconds.BinarySearch(seconds);

    private double Middle(int from, int to) => to <= from ? double.NaN : Measures.Median(_values.GetRange(from, to - from));

    /// <summary>The draw stage by stage; null for what is no current, or not long enough.</summary>
    public DrainWatch? Drain() =>
        unit == "A" ? DrainWatch.Of([.. _seconds], [.. _values.Select(v => double.IsFinite(v) ? v : double.NaN)]) : null;

    /// <summary>Of this many stretches of time the lowest and highest each, for a screen: seconds, figures, volts of the supply.</summary>
    public (double[] Seconds, double[] Values, double[] Supply) Shown(int columns)
    {
        var wide = Math.Max(1, (_seconds.Count + columns - 1) / columns);
        if (wide <= 2)
            return ([.. _seconds], [.. _values], [.. _supply]);
        var at = new List<int>();
        for (var i = 0; i < _seconds.Count; i += wide)
        {
            var (low, high) = (i, i);
            for (var k = i; k < Math.Min(i + wide, _seconds.Count); k++)
                (low, high) = (_values[k] < _values[low] ? k : low, _values[k] > _values[high] ? k : high);
            at.Add(Math.Min(low, high));
            if (low != high)
                at.Add(Math.Max(low, high));
        }
        double[] Of(List<double> all) => [.. at.Select(k => all[k])];
        return (Of(_seconds), Of(_values), Of(_supply));
    }

    /// <summary>As a capture of the job: the figures, and the supply where it was watched. Null for fewer than two.</summary>
    /// <param name="per">Units for one that the meter showed, which the file keeps as shown: 10 for a clamp of 100 mV an ampere.</param>
    /// <param name="shownIn">Unit the meter showed.</param>
    public Capture? ToCapture(double per, string shownIn)
    {
        if (_seconds.Count < 2)
            return null;
        var figures = new CaptureChannel(name, shownIn, [.. _values.Select(v => double.IsFinite(v) ? v / per : double.NaN)]);
        return new Capture(
            [.. _seconds],
            _supply.Exists(double.IsFinite) ? [figures, new CaptureChannel("supply", "V", [.. _supply])] : [figures]
        );
    }
}
