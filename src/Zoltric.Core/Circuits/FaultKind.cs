namespace Zoltric.Core.Circuits;

/// <summary>What fault words mean, apart from where and how much. Text stands in the notation and in the kinds of part alone.</summary>
public enum FaultKind
{
    /// <summary>Words that are told apart by their effect only.</summary>
    Other,

    /// <summary>A wire, pin, stud or whole part that is open.</summary>
    Open,

    /// <summary>A fuse that is open.</summary>
    Blown,

    /// <summary>A single contact, pole or winding that is open.</summary>
    PartlyOpen,

    /// <summary>Ohms in series.</summary>
    Resists,

    /// <summary>Touches ground.</summary>
    Grounded,

    /// <summary>Touches the supply.</summary>
    ToSupply,

    /// <summary>A pin or wire that touches another.</summary>
    Shorts,

    /// <summary>Two wires that have changed places at one end.</summary>
    Crossed,

    /// <summary>A load with too few ohms.</summary>
    Shorted,

    /// <summary>Open by turns.</summary>
    Intermittent,

    /// <summary>A path of any ohms across it.</summary>
    Leaks,

    /// <summary>Draws current and does not move.</summary>
    Seized,

    /// <summary>A coil with other ohms than it should have.</summary>
    CoilOhms,

    /// <summary>A contact that stays closed.</summary>
    Welded,

    /// <summary>A module that does not fall asleep.</summary>
    Awake,

    /// <summary>Less of something than there should be: capacity, flame current.</summary>
    Lessened,
}

/// <summary>Reads the kind out of fault words.</summary>
public static class FaultKinds
{
    /// <summary>The kind of fault words without tag and value.</summary>
    public static FaultKind Of(string words) =>
        words switch
        {
            "open" => FaultKind.Open,
            "blown" => FaultKind.Blown,
            "resists" => FaultKind.Resists,
            "grounded" => FaultKind.Grounded,
            "to-supply" => FaultKind.ToSupply,
            "shorts" => FaultKind.Shorts,
            Fault.Crossed => FaultKind.Crossed,
            "shorted" => FaultKind.Shorted,
            Fault.Intermittent => FaultKind.Intermittent,
            Fault.Leaks => FaultKind.Leaks,
            "seized" => FaultKind.Seized,
            "coil" => FaultKind.CoilOhms,
            "awake" => FaultKind.Awake,
            "weak" or "dirty" => FaultKind.Lessened,
            _ when words.StartsWith("welded", StringComparison.Ordinal) => FaultKind.Welded,
            _ when Fault.Opening(words) is not null => FaultKind.PartlyOpen,
            _ => FaultKind.Other,
        };
}
