namespace Zoltric.Core.Solving;

/// <summary>How a source behaves now; a diode is Giving while it blocks, else Conducting.</summary>
internal enum SourceMode { Giving, Taking, Limited, Conducting }

/// <summary>Everything that remembers: control positions, coils pulled in, fuses blown, source modes. Indexed as the circuit's lists.</summary>
internal sealed class MachineState
{
    public required int[] Positions { get; init; }
    public required bool[] PulledIn { get; init; }

    /// <summary>Module inputs that are on, by part and input.</summary>
    public required HashSet<(int Part, int Input)> InputsOn { get; set; }

    /// <summary>Seconds waited in the end; modules fall asleep by it.</summary>
    public double Waited { get; set; }

    /// <summary>By branch of the layout.</summary>
    public required HashSet<int> Blown { get; init; }
    public required Dictionary<int, SourceMode> Sources { get; set; }

    /// <summary>Filaments that are hot, by branch.</summary>
    public required HashSet<int> Glows { get; set; }

    /// <summary>Seconds since the last step; timers wait for it.</summary>
    public double Elapsed { get; set; }

    /// <summary>Coils that pulled in at any time since rest.</summary>
    public required bool[] HasClicked { get; init; }

    /// <summary>Coils that never came to rest.</summary>
    public required bool[] Chatters { get; init; }

    /// <summary>Coils that moved in the same instant where the one that is first decides the end.</summary>
    public required bool[] Races { get; init; }

    /// <summary>True when a fuse opened by the strokes of a chatter, not by a settled current.</summary>
    public bool BlewInStrokes { get; set; }

    /// <summary>Fuses that opened, with the settled amps that did it.</summary>
    public required List<(int Part, double Amps)> BlownAt { get; init; }

    public static MachineState AtRest(Circuits.Circuit c) => new()
    {
        Positions = [.. c.Controls.Select(k => k.Rest)],
        PulledIn = new bool[c.Parts.Count],
        InputsOn = [],
        Blown = [],
        Sources = [],
        Glows = [],
        HasClicked = new bool[c.Parts.Count],
        Chatters = new bool[c.Parts.Count],
        Races = new bool[c.Parts.Count],
        BlownAt = [],
    };

    public MachineState Clone() => new()
    {
        Positions = [.. Positions],
        PulledIn = [.. PulledIn],
        InputsOn = [.. InputsOn],
        Blown = [.. Blown],
        Sources = new(Sources),
        Glows = [.. Glows],
        HasClicked = [.. HasClicked],
        Chatters = [.. Chatters],
        Races = [.. Races],
        BlownAt = [.. BlownAt],
        Waited = Waited,
        Elapsed = Elapsed,
        BlewInStrokes = BlewInStrokes,
    };

    /// <summary>Takes over where another state ended.</summary>
    public void Become(MachineState o)
    {
        Array.Copy(o.PulledIn, PulledIn, PulledIn.Length);
        Array.Copy(o.HasClicked, HasClicked, HasClicked.Length);
        Array.Copy(o.Chatters, Chatters, Chatters.Length);
        Array.Copy(o.Races, Races, Races.Length);
        (InputsOn, Sources, Glows) = (o.InputsOn, o.Sources, o.Glows);
    }

    /// <summary>True when the same coils, inputs and fuses are in the same place.</summary>
    public bool EndsAs(MachineState o) => PulledIn.AsSpan().SequenceEqual(o.PulledIn) && Chatters.AsSpan().SequenceEqual(o.Chatters)
        && InputsOn.SetEquals(o.InputsOn) && Blown.SetEquals(o.Blown);

    /// <summary>Whether a coil is pulled in, a module powered, or with <c>TAG.inN</c> an input on.</summary>
    public bool Active(Circuits.Circuit c, string name)
    {
        var dot = name.IndexOf(".in", StringComparison.Ordinal);
        var tag = dot < 0 ? name : name[..dot];
        for (var i = 0; i < c.Parts.Count; i++)
        {
            if (c.Parts[i].Tag != tag) continue;
            if (dot < 0) return PulledIn[i];
            var inputs = c.Parts[i].Model.Inputs;
            for (var k = 0; k < inputs.Count; k++) if (inputs[k].Pin == name[(dot + 3)..]) return InputsOn.Contains((i, k));
        }
        return false;
    }
}
