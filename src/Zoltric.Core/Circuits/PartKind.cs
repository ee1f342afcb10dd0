namespace Zoltric.Core.Circuits;

/// <summary>
/// One kind of part. Each kind is one file in Kinds/ that answers the same short list: the word, the values it takes, and the
/// <see cref="PartModel"/>: terminals, links, state rule, load rule, fault modes. Its symbol has the same name in Zoltric.Drawing.
/// </summary>
public abstract class PartKind
{
    /// <summary>The word in the notation.</summary>
    public abstract string Word { get; }

    /// <summary>How a technician says it.</summary>
    public virtual string Spoken => Word;

    /// <summary>True for what is heard to hum on alternating volts when it is fed and stands.</summary>
    public virtual bool HumsOnMains => false;

    /// <summary>Dimensions of the values it takes without a name.</summary>
    public virtual IReadOnlyList<Dimension> Takes => [];

    /// <summary>Names and dimensions of the values it takes by name.</summary>
    public virtual IReadOnlyDictionary<string, Dimension> TakesNamed => NoNames;

    /// <summary>True for kinds whose contacts are stated by <c>closed</c> and <c>open</c> lines.</summary>
    public virtual bool TakesContactLines => false;

    /// <summary>Bare words with a meaning of their own, such as <c>3ph</c>, even when they look like a number.</summary>
    public virtual IReadOnlyList<string> OwnWords => [];

    /// <summary>True for switchgear whose auxiliary contacts the sheet may name: <c>aux 13-14,21-22</c>.</summary>
    public virtual bool TakesAuxiliaries => false;

    /// <summary>A terminal that the part itself needs named on the sheet, such as a charger's <c>field 15</c>, or null.</summary>
    public virtual string? TakesLead => null;

    /// <summary>True for modules: supply, input, output and sleeps lines.</summary>
    public virtual bool TakesModuleLines => false;

    /// <summary>True for kinds that may end in <c>when …</c>.</summary>
    public virtual bool TakesCondition => false;

    /// <summary>True for kinds that can be unplugged or have their wires taken off as one.</summary>
    public virtual bool Unplugs => true;

    /// <summary>True for what is seen or heard at work from where one stands: light, a turning motor, a horn.</summary>
    public virtual bool ShowsItself => false;

    /// <summary>Share of its ohms at work that an ohmmeter meets, where that is far less; null for none.</summary>
    protected virtual double? AtRest => null;

    /// <summary>
    /// How widely that share strays, as a standard deviation of the logarithm: copper of motors, a fiftieth to nearly all; estimate.
    /// </summary>
    protected virtual double AtRestLogSpread => 0.8;

    /// <summary>That share of a part, or null where the sheet states its ohms: those are what an ohmmeter meets.</summary>
    protected double? RestShare(Part part) => part.Value(Dimension.Ohm) is null ? AtRest : null;

    public virtual bool IsSource => false;

    /// <summary>True for the grid: what the sheet cannot switch off and what a short to frame comes home to by the earth.</summary>
    public virtual bool IsMains => false;

    /// <summary>Energy that every part of this kind holds with its source off, in the words of <c>hazard</c>.</summary>
    public virtual IReadOnlyList<string> StoredEnergy => [];

    /// <summary>True for a supply that makes its volts out of another section's.</summary>
    public virtual bool Converts => false;

    /// <summary>True where transistors and diodes stand between its terminals: an ohmmeter reads them as it likes.</summary>
    public virtual bool IsElectronic => Converts;

    /// <summary>True for rows of pins, each of two halves.</summary>
    public virtual bool HasHalves => false;

    /// <summary>True for rows of pins that come apart: plugs, not terminal strips.</summary>
    public virtual bool ComesApart => false;

    /// <summary>True for a bolt on the frame.</summary>
    public virtual bool IsGroundStud => false;

    public abstract PartModel Describe(Part part);

    protected static readonly IReadOnlyDictionary<string, Dimension> NoNames = new Dictionary<string, Dimension>();

    public override string ToString() => Word;

    /// <summary>Every kind, by listing the folder Kinds/.</summary>
    public static IReadOnlyDictionary<string, PartKind> All { get; } =
        typeof(PartKind)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(PartKind)) && !t.IsAbstract)
            .Select(t => (PartKind)Activator.CreateInstance(t)!)
            .ToDictionary(k => k.Word, StringComparer.Ordinal);
}
