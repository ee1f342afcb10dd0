namespace Zoltric.Core.Faults;

/// <summary>How a thing failed, as far as its repair is concerned.</summary>
public enum SiteKind
{
    /// <summary>Open, or with added resistance: a stretch that the current passes.</summary>
    Series,

    /// <summary>A net that touches ground.</summary>
    NetGrounded,

    /// <summary>A net that touches the supply.</summary>
    NetToSupply,

    /// <summary>A path of any ohms across it.</summary>
    Leaks,

    /// <summary>Open by turns.</summary>
    Intermittent,

    /// <summary>A source that does not give what it should.</summary>
    Source,

    /// <summary>Too few ohms: shorted turns, a stuck motor.</summary>
    Low,

    /// <summary>A module that does not fall asleep.</summary>
    Awake,

    /// <summary>A contact that stays closed.</summary>
    Closed,

    /// <summary>A part that touches its case.</summary>
    Grounded,

    /// <summary>Joints of a string, all aged together.</summary>
    Aged,

    /// <summary>Anything else, told apart by its words.</summary>
    Other,
}

/// <summary>
/// Where something is mended and how it failed: faults of one site are told apart by no repair. Two sites are the same when all that they
/// say is.
/// </summary>
/// <param name="Unit">A wire, pin, stud or part; of a net its first wire; of an aged string the load that it starves.</param>
/// <param name="Detail">What else tells it apart: the contact that comes and goes, fault words; empty where nothing does.</param>
public sealed record RepairSite(string Unit, SiteKind Kind, string Detail = "")
{
    /// <summary>Links of the part that it lies on, rising; empty where the whole part is meant.</summary>
    public IReadOnlyList<int> Links { get; init; } = [];

    /// <summary>A second site that is mended as well, or null.</summary>
    public RepairSite? And { get; init; }

    /// <summary>This site by itself and the second one.</summary>
    public IEnumerable<RepairSite> Each => And is { } second ? [this with { And = null }, second] : [this];

    /// <summary>Both as one, whichever comes first.</summary>
    public static RepairSite Of(RepairSite a, RepairSite b)
    {
        ArgumentNullException.ThrowIfNull(a);
        ArgumentNullException.ThrowIfNull(b);
        return string.CompareOrdinal(a.ToString(), b.ToString()) < 0 ? a with { And = b } : b with { And = a };
    }

    public bool Equals(RepairSite? other) =>
        other is not null
        && Unit == other.Unit
        && Kind == other.Kind
        && Detail == other.Detail
        && Links.SequenceEqual(other.Links)
        && Equals(And, other.And);

    public override int GetHashCode() => HashCode.Combine(Unit, Kind, Detail, Links.Count > 0 ? Links[0] : -1, And);

    public override string ToString() => $"{Unit} {Kind} {Detail} {string.Join(',', Links)}{(And is { } second ? $" + {second}" : "")}";
}
