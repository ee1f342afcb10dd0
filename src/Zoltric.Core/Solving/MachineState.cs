using System.Runtime.InteropServices;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>How a source behaves now; a diode is Giving while it blocks, on its Foot below its forward volts, else Conducting.</summary>
internal enum SourceMode : byte
{
    Giving,
    Taking,
    Limited,
    Conducting,
    Foot,
}

/// <summary>
/// Everything that remembers. What conductances depend on (control positions, coils, modes of branches, who sleeps) is one row of bytes, so
/// that two equal rows are one switching state; what was heard and seen on the way stands beside it.
/// </summary>
internal sealed class MachineState
{
    public StateIndex Index { get; }

    /// <summary>The switching state, by the places of <see cref="StateIndex"/>.</summary>
    public byte[] Switches { get; }

    /// <summary>Seconds waited in the end; modules fall asleep by it.</summary>
    public double Waited { get; private set; }

    /// <summary>Seconds since the last step; timers wait for it.</summary>
    public double Elapsed { get; set; }

    /// <summary>Coils that pulled in at any time since rest, by mover.</summary>
    public bool[] HasClicked { get; }

    /// <summary>Coils that never came to rest, by mover.</summary>
    public bool[] Chatters { get; }

    /// <summary>Coils that moved in the same instant where the one that is first decides the end, by mover.</summary>
    public bool[] Races { get; }

    /// <summary>True when a fuse opened by the strokes of a chatter, not by a settled current.</summary>
    public bool BlewInStrokes { get; set; }

    /// <summary>Fuses that opened, with the settled amps that did it.</summary>
    public List<(int Part, double Amps)> BlownAt { get; }

    /// <summary>A machine at rest.</summary>
    public MachineState(StateIndex index)
    {
        Index = index;
        Switches = new byte[index.Length];
        for (var i = 0; i < index.Circuit.Controls.Count; i++)
            Switches[i] = (byte)index.Circuit.Controls[i].Rest;
        (HasClicked, Chatters, Races, BlownAt) = (
            new bool[index.Movers.Length],
            new bool[index.Movers.Length],
            new bool[index.Movers.Length],
            []
        );
    }

    private MachineState(MachineState o)
    {
        Index = o.Index;
        Switches = [.. o.Switches];
        (HasClicked, Chatters, Races, BlownAt) = ([.. o.HasClicked], [.. o.Chatters], [.. o.Races], [.. o.BlownAt]);
        (Waited, Elapsed, BlewInStrokes) = (o.Waited, o.Elapsed, o.BlewInStrokes);
    }

    public MachineState Clone() => new(this);

    /// <summary>Takes over where another state ended.</summary>
    public void Become(MachineState o)
    {
        o.Switches.CopyTo(Switches, 0);
        o.HasClicked.CopyTo(HasClicked, 0);
        o.Chatters.CopyTo(Chatters, 0);
        o.Races.CopyTo(Races, 0);
    }

    /// <summary>Goes back to an earlier state, clicks and all.</summary>
    public void Return(MachineState earlier) => Become(earlier);

    /// <summary>True when the same controls, coils and fuses are in the same place and the same coils chatter.</summary>
    public bool EndsAs(MachineState o) => Switches.AsSpan().SequenceEqual(o.Switches) && Chatters.AsSpan().SequenceEqual(o.Chatters);

    /// <summary>Equal for states that are the same.</summary>
    public int Key()
    {
        var hash = new HashCode();
        hash.AddBytes(Switches);
        hash.AddBytes(MemoryMarshal.AsBytes(HasClicked.AsSpan()));
        return hash.ToHashCode();
    }

    /// <summary>True when nothing at all tells this state from another; where a fuse went, its current does.</summary>
    public bool IsSame(MachineState o) =>
        BlownAt.Count == 0
        && o.BlownAt.Count == 0
        && Waited == o.Waited
        && Elapsed == o.Elapsed
        && BlewInStrokes == o.BlewInStrokes
        && EndsAs(o)
        && HasClicked.AsSpan().SequenceEqual(o.HasClicked)
        && Races.AsSpan().SequenceEqual(o.Races);

    public int Position(int control) => Switches[control];

    public void Move(int control, int position) => Switches[control] = (byte)position;

    public bool Held(int mover) => Switches[Index.FirstMover + mover] != 0;

    public void Hold(int mover, bool on)
    {
        Switches[Index.FirstMover + mover] = on ? (byte)1 : (byte)0;
        if (on)
            HasClicked[mover] = true;
    }

    /// <summary>Whether a part's coil is pulled in or a module powered.</summary>
    public bool PulledIn(int part) => Index.MoverOfPart[part] is >= 0 and var m && Held(m);

    /// <summary>Mode of a source or diode branch; Giving for any other branch.</summary>
    public SourceMode Mode(int branch) =>
        branch < Index.ModeOfBranch.Length && Index.ModeOfBranch[branch] is >= 0 and var p ? (SourceMode)Switches[p] : SourceMode.Giving;

    public void SetMode(int branch, SourceMode mode) => Switches[Index.ModeOfBranch[branch]] = (byte)mode;

    /// <summary>A fuse that has opened, a filament that glows.</summary>
    public bool Flag(int branch) => Switches[Index.ModeOfBranch[branch]] != 0;

    public void SetFlag(int branch, bool on) => Switches[Index.ModeOfBranch[branch]] = on ? (byte)1 : (byte)0;

    /// <summary>Lets the machine stand for so long; parts with a time to sleep fall asleep by it.</summary>
    public void Wait(double seconds)
    {
        Waited = seconds;
        var parts = Index.Circuit.Parts;
        for (var i = 0; i < parts.Count; i++)
            if (
                parts[i].Model.Bus is { } bus && seconds >= bus.SleepAfter
                || parts[i].Model.Links.Any(l => l is Link.Resistance r && seconds >= r.SleepAfter)
            )
                Switches[Index.SleeperOfPart[i]] = 1;
    }

    public bool Asleep(int part) => Index.SleeperOfPart[part] is >= 0 and var p && Switches[p] != 0;

    /// <summary>Whether a coil is pulled in, a module powered, or with <c>TAG.inN</c> an input on.</summary>
    public bool Active(string name) => Index.Active(name) is >= 0 and var m && Held(m);

    public string PositionOf(string control) =>
        Index.Control(control) is >= 0 and var i ? Index.Circuit.Controls[i].Positions[Switches[i]] : "";

    public bool Holds(Condition? condition) => condition is null || condition.Holds(_positionOf ??= PositionOf, _active ??= Active);

    // Made once: conditions are asked for often.
    private Func<string, string>? _positionOf;
    private Func<string, bool>? _active;
}
