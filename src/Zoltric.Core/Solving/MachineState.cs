namespace Zoltric.Core.Solving;

/// <summary>How a source behaves now; a diode is Giving while it blocks, else Conducting.</summary>
internal enum SourceMode { Giving, Taking, Limited, Conducting }

/// <summary>Everything that remembers: control positions, coils pulled in, fuses blown, source modes. Indexed as the circuit's lists.</summary>
internal sealed class MachineState
{
    public required int[] Positions { get; init; }
    public required bool[] PulledIn { get; init; }

    /// <summary>By branch of the layout.</summary>
    public required HashSet<int> Blown { get; init; }
    public required Dictionary<int, SourceMode> Sources { get; init; }

    /// <summary>Seconds since the last step; timers wait for it.</summary>
    public double Elapsed { get; set; }

    /// <summary>Coils that pulled in at any time since rest.</summary>
    public required bool[] HasClicked { get; init; }

    /// <summary>Coils that never came to rest.</summary>
    public required bool[] Chatters { get; init; }

    /// <summary>Fuses that opened, with the settled amps that did it.</summary>
    public required List<(int Part, double Amps)> BlownAt { get; init; }

    public static MachineState AtRest(Circuits.Circuit c) => new()
    {
        Positions = [.. c.Controls.Select(k => k.Rest)],
        PulledIn = new bool[c.Parts.Count],
        Blown = [],
        Sources = [],
        HasClicked = new bool[c.Parts.Count],
        Chatters = new bool[c.Parts.Count],
        BlownAt = [],
    };
}
