namespace Zoltric.Core.Circuits;

/// <summary>One part as the sheet states it: kind, values, place and cautions. What it does electrically is <see cref="Model"/>.</summary>
public sealed record Part(string Tag, PartKind Kind)
{
    public string? Label { get; init; }
    public string? Place { get; init; }

    /// <summary>Where it is, or its tag where the sheet does not say.</summary>
    public string PlaceOrTag => Place ?? Tag;

    /// <summary>Minutes to get a probe there for the first time.</summary>
    public double ReachMinutes { get; init; } = 1;
    public bool ReachGiven { get; init; }
    public bool Sealed { get; init; }
    public bool Safety { get; init; }
    public double Odds { get; init; } = 1;
    public (double Low, double High)? GoodOhms { get; init; }
    public IReadOnlyList<string> Hazards { get; init; } = [];

    /// <summary>Values written without a name, <c>12V 85ohm</c>.</summary>
    public IReadOnlyList<Quantity> Values { get; init; } = [];

    /// <summary>Values written with a name, <c>pullin=7.5V</c>.</summary>
    public IReadOnlyDictionary<string, Quantity> Named { get; init; } = new Dictionary<string, Quantity>();

    /// <summary>Bare words such as <c>blade</c> or <c>din</c>.</summary>
    public IReadOnlyList<string> Words { get; init; } = [];

    /// <summary><c>closed 1-2 when …</c> and <c>open 1-2 when …</c> lines, in order.</summary>
    public IReadOnlyList<ContactLine> Contacts { get; init; } = [];

    /// <summary>Auxiliary contacts by <c>aux</c>, as pairs of terminals.</summary>
    public IReadOnlyList<(string A, string B)> Auxiliaries { get; init; } = [];

    /// <summary>Names of a plug's two halves by side, <c>cab|chassis</c>, or null.</summary>
    public (string First, string Second)? Sides { get; init; }

    /// <summary>Name of the extra terminal that the kind takes, a charger's field lead.</summary>
    public string? Lead { get; init; }

    /// <summary>Supply, input, output and sleeps lines of a module, in order.</summary>
    public IReadOnlyList<ModuleLine> ModuleLines { get; init; } = [];

    /// <summary>When a charger gives, or null for always.</summary>
    public Condition? When { get; init; }

    /// <summary>Pins of a connector or strip.</summary>
    public int Pins { get; init; }

    /// <summary>Nominal volts of the machine, which ratings fall back on.</summary>
    public double NominalVolts { get; init; } = 12;

    private PartModel? _model;

    /// <summary>Terminals, links, coil, load and fault modes, derived once from the kind.</summary>
    public PartModel Model => _model ??= GoodOhms is { } good ? Kind.Describe(this).Within(good) : Kind.Describe(this);

    public bool Has(string word) => Words.Contains(word);

    /// <summary>The unnamed value of that dimension, or null.</summary>
    public double? Value(Dimension dimension)
    {
        foreach (var v in Values)
            if (v.Dimension == dimension)
                return v.Value;
        return null;
    }

    public double? NamedValue(string name) => Named.TryGetValue(name, out var v) ? v.Value : null;

    /// <summary>Label when there is one, else the tag: for sentences.</summary>
    public string Spoken => Label is { Length: > 0 } ? $"{Tag} {Label}" : $"{Tag} {Kind.Spoken}";

    // The cached model is derived, so it stays out of equality.
    public bool Equals(Part? other) =>
        other is not null
        && Tag == other.Tag
        && Kind == other.Kind
        && Label == other.Label
        && Place == other.Place
        && ReachMinutes.Equals(other.ReachMinutes)
        && Sealed == other.Sealed
        && Safety == other.Safety
        && Odds.Equals(other.Odds)
        && GoodOhms == other.GoodOhms
        && Hazards.SequenceEqual(other.Hazards)
        && Values.SequenceEqual(other.Values)
        && Named.OrderBy(n => n.Key).SequenceEqual(other.Named.OrderBy(n => n.Key))
        && Words.SequenceEqual(other.Words)
        && Contacts.SequenceEqual(other.Contacts)
        && Auxiliaries.SequenceEqual(other.Auxiliaries)
        && Lead == other.Lead
        && Sides == other.Sides
        && When == other.When
        && ModuleLines.SequenceEqual(other.ModuleLines)
        && Pins == other.Pins
        && NominalVolts.Equals(other.NominalVolts);

    public override int GetHashCode() => Tag.GetHashCode(StringComparison.Ordinal);
}

/// <summary>One <c>closed A-B when …</c> or <c>open A-B when …</c> line.</summary>
public sealed record ContactLine(bool Closed, string A, string B, Condition? When);
