namespace Zoltric.Core.Procedures;

/// <summary>Several pins in one step: what was found at each comes to one answer, with what was found behind it.</summary>
public static class StepPins
{
    public const string All = "all",
        Some = "some",
        None = "none";

    /// <summary>More pins than any plug of a procedure has.</summary>
    public const int Most = 60;

    /// <summary>What pins are found to be, in the words of a tick.</summary>
    public const string Good = "good",
        Bad = "bad";

    /// <summary>
    /// The answer of a step: <c>some (A1.5 good, A1.9 0.2 V)</c>.
    /// </summary>
    /// <param name="found">For each pin a value with or without its unit, OL, or good and bad.</param>
    /// <returns>The answer, or what is missing or not understood as a sentence.</returns>
    public static (string? Answer, string? Problem) Answer(ProcedureStep step, IReadOnlyList<string> found)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(found);
        var good = 0;
        var said = new List<string>();
        for (var i = 0; i < step.Pins.Count; i++)
        {
            var pin = step.Pins[i];
            var text = i < found.Count ? found[i].Trim() : "";
            if (text.Length is 0 or > 40)
                return (null, $"Say of {pin.Name} what it shows, or tick good or bad.");
            if (IsGood(pin, text) is not { } fine)
                return (null, $"“{text}” at {pin.Name} is no value{(pin.Good.Word is null ? $" in the unit of “{pin.Good}”" : "")}.");
            good += fine ? 1 : 0;
            said.Add($"{pin.Name} {text}");
        }
        var word =
            good == step.Pins.Count ? All
            : good == 0 ? None
            : Some;
        return ($"{word} ({string.Join(", ", said)})", null);
    }

    /// <summary>Whether what was found at a pin is good; null where it cannot be told.</summary>
    public static bool? IsGood(StepPin pin, string found)
    {
        ArgumentNullException.ThrowIfNull(pin);
        ArgumentNullException.ThrowIfNull(found);
        if (found.Equals(Good, StringComparison.OrdinalIgnoreCase))
            return true;
        if (found.Equals(Bad, StringComparison.OrdinalIgnoreCase))
            return false;
        if (pin.Good.Takes(found))
            return true;
        if (pin.Good.Word is not null)
            return false;
        // Any value in its unit that is not taken is bad.
        return new AnswerRule { Dimension = pin.Good.Dimension }.Takes(found) ? false : null;
    }

    /// <summary>The word before what stands in brackets behind it.</summary>
    internal static string WordOf(string answer) =>
        answer.IndexOf(" (", StringComparison.Ordinal) is > 0 and var at && answer.EndsWith(')') ? answer[..at] : answer;
}
