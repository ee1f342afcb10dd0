namespace Zoltric.Core.Circuits;

/// <summary>What an eye, an ear, a lamp, a beeper or a code reader answers, and what a meter says that shows no figure.</summary>
public enum Answer : byte
{
    Works,
    Weak,
    Dead,
    StuckOn,
    Flickers,
    Clicks,
    Silent,
    Chatters,

    /// <summary>A motor that is fed and stands, or a coil whose armature does not close on its pole.</summary>
    Hums,
    Beep,
    Bright,
    Dim,
    Off,
    Good,
    Bad,
    Unsure,
    Active,
    Stored,
    Absent,

    /// <summary>Phases follow each other clockwise, or the other way, or one is missing.</summary>
    Right,
    Left,
    None,

    /// <summary>More than the meter can show.</summary>
    OverLimit,

    /// <summary>Not to be tested so; no result of a reading.</summary>
    Refused,
}

/// <summary>Answers as the notation writes them.</summary>
public static class AnswerText
{
    private static readonly Dictionary<Answer, string> Written = Enum.GetValues<Answer>()
        .ToDictionary(
            a => a,
            a =>
                a switch
                {
                    Answer.StuckOn => "stuck-on",
                    Answer.OverLimit => "OL",
                    _ => a.ToString().ToLowerInvariant(),
                }
        );

    private static readonly Dictionary<string, Answer> Read = Written
        .Append(new(Answer.Hums, "buzzes"))
        .ToDictionary(w => w.Value, w => w.Key, StringComparer.Ordinal);

    public static string Text(this Answer answer) => Written[answer];

    public static bool TryParse(string text, out Answer answer) => Read.TryGetValue(text, out answer);
}
