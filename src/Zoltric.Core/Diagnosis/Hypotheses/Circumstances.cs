using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Faults;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>When the machine fails, as people say it.</summary>
[Flags]
public enum Circumstances
{
    None = 0,
    Hot = 1,
    Cold = 2,
    Wet = 4,
    Moving = 8,
    Standing = 16,
    NowAndThen = 32,
}

/// <summary>How circumstances shift the odds of each fault before any reading: mildly, since people say them loosely.</summary>
public static class CircumstanceWords
{
    private static readonly (string Word, Circumstances Is)[] Words =
    [
        ("hot", Circumstances.Hot),
        ("cold", Circumstances.Cold),
        ("wet", Circumstances.Wet),
        ("moving", Circumstances.Moving),
        ("standing", Circumstances.Standing),
        ("now-and-then", Circumstances.NowAndThen),
    ];

    /// <summary>The words of the contract.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Words.Select(w => w.Word)];

    /// <summary>What a word means, or null for a word that is none.</summary>
    public static Circumstances? Of(string word)
    {
        foreach (var (name, meaning) in Words)
            if (name.Equals(word, StringComparison.OrdinalIgnoreCase))
                return meaning;
        return null;
    }

    /// <summary>True where they speak of something that comes and goes.</summary>
    public static bool ComeAndGo(Circumstances c) =>
        (c & (Circumstances.NowAndThen | Circumstances.Moving | Circumstances.Hot | Circumstances.Wet)) != 0;

    /// <summary>Factor on the odds of a suspect. Common practice, no source; sizes are estimates.</summary>
    internal static double Factor(Circuit circuit, Suspect s, Circumstances c)
    {
        if (c == Circumstances.None)
            return 1;
        var part = circuit.FindPart(s.Template.Target.Split(':', '/')[0]);
        var comesAndGoes = s.Template.ComesAndGoes;
        var leaks = Fault.MayTouch(s.Template.Kind) || s.Template.Kind == FaultKind.Leaks;
        var joint = part is null || part.Kind is PinRow || part.Model.IsPoint;
        var factor = 1.0;
        void When(Circumstances one, bool fits, double by)
        {
            if ((c & one) != 0 && fits)
                factor *= by;
        }

        When(Circumstances.NowAndThen, comesAndGoes, 4);
        // What has blown by itself stays so.
        When(Circumstances.NowAndThen, s is { Template.Kind: FaultKind.Blown, Also: null }, 0.25);
        When(Circumstances.Moving, comesAndGoes, 3);
        When(Circumstances.Moving, joint && s.Template.Kind == FaultKind.Open, 1.5);
        When(Circumstances.Hot, comesAndGoes, 2);
        When(Circumstances.Hot, part?.Kind is Thermostat or Cutout or Overload || part?.Model.Load is not null, 1.5);
        When(Circumstances.Cold, comesAndGoes, 1.5);
        When(Circumstances.Cold | Circumstances.Standing, part?.Kind is Battery, 2);
        When(Circumstances.Wet, leaks, 3);
        When(Circumstances.Wet, comesAndGoes || joint && s.Template.Kind == FaultKind.Resists, 1.5);
        When(Circumstances.Standing, s.Template.Kind is FaultKind.Leaks or FaultKind.Awake, 2);
        return factor;
    }
}
