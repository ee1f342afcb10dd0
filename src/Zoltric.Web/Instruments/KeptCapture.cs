using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Drawing;
using Zoltric.Instruments.Captures;
using Zoltric.Store;

namespace Zoltric.Web.Instruments;

/// <summary>What is said of one channel.</summary>
/// <param name="On">The probe it lay on, as in a reading line: <c>V T1.1</c>, <c>clamp w13</c>; empty where it is not said.</param>
/// <param name="Per">What one unit of the file stands for: 10 for a clamp of 100 mV an ampere.</param>
public sealed record ChannelSaid(string Name, string On, double Per)
{
    /// <summary>What was done while it was watched; null where nobody said so.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<SaidMark>? Marks { get; init; }
}

/// <summary>Something done at an instant of a capture, s.</summary>
public sealed record SaidMark(double At, string What);

/// <summary>A figure of a capture that can be kept as a reading.</summary>
public sealed record CaptureLine(string Line, string Says);

/// <summary>A capture as it is looked at: its file read, its channels scaled, and what is measured on them.</summary>
public sealed class KeptCapture
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    private KeptCapture(CaptureRow row, Capture capture, IReadOnlyList<ChannelSaid> said) => (Row, Capture, Said) = (row, capture, said);

    public CaptureRow Row { get; }
    public Capture Capture { get; }
    public IReadOnlyList<ChannelSaid> Said { get; }

    /// <summary>What was done while it was watched.</summary>
    public IReadOnlyList<SaidMark> Marks => [.. Said.SelectMany(s => s.Marks ?? [])];

    public IReadOnlyList<ChartMark> ChartMarks => [.. Marks.Select(m => new ChartMark(m.At, m.What))];

    /// <summary>Null where the file cannot be read any more.</summary>
    public static KeptCapture? Of(CaptureRow row, string text)
    {
        ArgumentNullException.ThrowIfNull(row);
        if (CaptureFile.Read(text).Capture is not { } raw)
            return null;
        var known = Known(row.Channels);
        var said = raw.Channels.Select((c, i) => i < known.Count ? known[i] : new ChannelSaid(c.Name, "", 1)).ToList();
        return new KeptCapture(row, new Capture(raw.Seconds, [.. raw.Channels.Zip(said, (c, s) => Scaled(c, s))]), said);
    }

    /// <summary>Those of a job that can be read, the first so many.</summary>
    public static async Task<IReadOnlyList<KeptCapture>> All(CaptureStore captures, long job, int most)
    {
        ArgumentNullException.ThrowIfNull(captures);
        var kept = new List<KeptCapture>();
        foreach (var row in (await captures.All(job)).Take(most))
            if (await captures.Text(row.Id) is { } text && Of(row, text) is { } capture)
                kept.Add(capture);
        return kept;
    }

    /// <summary>What was said; nothing where it came in with a job file and is of another form.</summary>
    private static List<ChannelSaid> Known(string channels)
    {
        try
        {
            var said = JsonSerializer.Deserialize<List<ChannelSaid?>>(channels, Json) ?? [];
            return said.TrueForAll(s => s is { Name: not null, On: not null } && s.Marks?.All(m => m is { What: not null }) != false)
                ? [.. said.OfType<ChannelSaid>()]
                : [];
        }
        catch (JsonException)
        {
            return [];
        }
    }

    private static CaptureChannel Scaled(CaptureChannel channel, ChannelSaid said)
    {
        var unit = IsAmps(said.On) ? "A" : channel.Unit;
        return channel.Scaled(said.Per is var per && double.IsFinite(per) && per != 0 ? per : 1, unit) with
        {
            Name = said.On.Length > 0 ? said.On : said.Name,
        };
    }

    private static bool IsAmps(string on) =>
        on.StartsWith("clamp ", StringComparison.Ordinal) || on.StartsWith("A ", StringComparison.Ordinal);

    public static string Write(IEnumerable<ChannelSaid> said) => JsonSerializer.Serialize(said, Json);

    /// <summary>Figures of a channel; null where it has none.</summary>
    public Measures? Of(CaptureChannel channel)
    {
        ArgumentNullException.ThrowIfNull(channel);
        return Measures.Of(Capture.Seconds, channel.Values);
    }

    /// <summary>Volts and amps of one feed, where one channel of each is there.</summary>
    public FeedVerdict? Feed =>
        Capture.Channels.FirstOrDefault(c => c.Unit == "V") is { } volts && Capture.Channels.FirstOrDefault(c => c.Unit == "A") is { } amps
            ? FeedVerdict.Of(volts.Values, amps.Values)
            : null;

    /// <summary>What does not look like what it is said to be: a ground clip off, a scale that is wrong.</summary>
    public IEnumerable<string> Doubts(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        foreach (var c in Capture.Channels)
        {
            if (Of(c) is not { } m)
                continue;
            var most = Math.Max(Math.Abs(m.Min), Math.Abs(m.Max));
            if (c.Unit == "V" && most > TooManyTimes * circuit.NominalVolts)
                yield return $"{c.Name} shows {most:0.#} V on a machine of {circuit.NominalVolts:0.#} V. Is the probe's factor right, or "
                    + "was a coil switched off?";
            if (
                c.Unit == "V"
                && Math.Abs(m.Mean) < Little * circuit.NominalVolts
                && m.Min < 0
                && m.Max > 0
                && m.PeakToPeak < circuit.NominalVolts / 2
            )
                yield return $"{c.Name} swings about zero. Is its ground clip on?";
            if (c.Unit == "A" && most > MostAmps)
                yield return $"{c.Name} shows {most:0} A. Is the clamp's factor right: 100 mV an ampere is 10, 10 mV is 100?";
            if (c.Values.Any(double.IsNaN))
                yield return $"{c.Name} was over its range at times; those instants have no say.";
        }
        if (Feed is null && Capture.Channels.Any(c => c.Unit == "V") && Capture.Channels.Any(c => c.Unit == "A"))
            yield return "The volts do not follow the amps: another wire in the clamp, its arrow turned round, or the ground clip off.";
    }

    private const double TooManyTimes = 4,
        Little = 0.05,
        MostAmps = 2500;

    /// <summary>Figures as reading lines, where it is said what a channel lay on.</summary>
    public IEnumerable<CaptureLine> Lines(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        foreach (var (channel, said) in Capture.Channels.Zip(Said))
        {
            if (said.On.Length == 0 || Of(channel) is not { } m)
                continue;
            foreach (
                var (word, value, says) in channel.Unit == "A"
                    ? new[] { ("peak", m.Max, "the most"), ("mean", m.Mean, "in the mean") }
                    :
                    [
                        ("min", m.Min, "the least"),
                        ("max", m.Max, "the most"),
                        ("mean", m.Mean, "in the mean"),
                        ("ripple", m.Ripple, "what alternates on it"),
                    ]
            )
            {
                var figure = value.ToString("0.####", CultureInfo.InvariantCulture);
                var line = $"{Row.Setup} : {said.On} {word} = {figure}{channel.Unit}".TrimStart();
                if (ReadingReader.Read(circuit, line).Value is { } reading)
                    yield return new CaptureLine(reading.ToString(), says);
            }
        }
    }
}
