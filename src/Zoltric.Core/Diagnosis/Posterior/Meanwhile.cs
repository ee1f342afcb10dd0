using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>What the machine was seen to do in the setup in which a reading was taken.</summary>
/// <param name="Dead">A function was last seen dead in it.</param>
/// <param name="Jumping">It is a figure that stood still, nothing moved, where something was seen to come and go by itself.</param>
/// <param name="Turned">What was last seen dead in it is seen to work, moved by hand or not.</param>
internal readonly record struct Meanwhile(bool Dead, bool Jumping, bool Turned)
{
    public static Meanwhile Of(IReadOnlyList<Weighed> evidence, Reading reading, int period)
    {
        var same = evidence
            .Where(e => e.Period == period && e.Reading.Test.Setup.Equals(reading.Test.Setup))
            .Select(e => e.Reading)
            .ToList();
        return new(
            reading.Test.Probe is not (Probe.Sees or Probe.Hears)
                && same.LastOrDefault(r => r.Test.Probe is Probe.Sees { IsFunction: true })
                    is { Doubtful: false, Result: ReadingResult.Word { Answer: Answer.Dead } },
            reading is { Result: ReadingResult.Number or ReadingResult.OverLimit, Test.Setup.Moved.Count: 0 }
                && same.Any(r =>
                    r is { Doubtful: false, Result: { ComesAndGoes: true } or ReadingResult.Word { Answer: Answer.Chatters } }
                ),
            reading is { Doubtful: false, Test.Probe: Probe.Sees, Result: ReadingResult.Word { Answer: Answer.Works } }
                && evidence
                    .LastOrDefault(e =>
                        e.Period == period && e.Reading.Result is not null && e.Reading.Test.Unmoved == reading.Test.Unmoved
                    )
                    ?.Reading
                    is { Doubtful: false, Result: ReadingResult.Word { Answer: Answer.Dead } }
        );
    }
}
