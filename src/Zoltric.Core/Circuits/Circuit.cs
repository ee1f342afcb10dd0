namespace Zoltric.Core.Circuits;

/// <summary>Where a sheet comes from: how far it may be trusted.</summary>
public enum Provenance
{
    Traced,
    Maker,
    Sister,
    Memory,
}

/// <summary>A sheet as a model: immutable, and all that is computed is computed from it.</summary>
public sealed record Circuit
{
    public required string Title { get; init; }
    public string? Machine { get; init; }
    public string? Family { get; init; }
    public double NominalVolts { get; init; } = 12;
    public bool Alternating { get; init; }
    public Provenance DrawnFrom { get; init; } = Provenance.Maker;
    public Terminal? Reference { get; init; }

    /// <summary>Where a short to frame goes, as stated; null where the sheet is silent.</summary>
    public Terminal? Frame { get; init; }

    // Boxed: two requests may ask at once, and a terminal of its own is not written in one go.
    private object? _framePoint;

    /// <summary>
    /// Where a short to frame goes: as stated; else, on direct current, the stud on the way home at which most wires meet, so that the
    /// battery's own lead carries the current home; else the reference.
    /// </summary>
    public Terminal FramePoint => (Terminal)(_framePoint ??= Frame ?? GroundStud() ?? ReferencePoint);

    /// <summary>
    /// Where a short to frame from this point goes: as <see cref="FramePoint"/>, but to the protective earth where mains can stand on the
    /// point and nothing is stated.
    /// </summary>
    public Terminal FrameFor(Terminal point) =>
        Frame
        ?? (
            Nets.Of(this).SourcesAt(point).FirstOrDefault(s => FindPart(s)?.Kind.IsMains == true) is { } mains
                ? new Terminal(mains, "PE")
                : FramePoint
        );

    private Terminal? GroundStud()
    {
        if (Alternating || Parts.Any(p => p.Kind.IsMains))
            return null;
        var nets = Nets.Of(this);
        var studs = Parts
            .Where(p => p.Kind.IsGroundStud && nets.SameNet(new Terminal(p.Tag, ""), ReferencePoint))
            .Select(p =>
                (
                    Terminal: new Terminal(p.Tag, ""),
                    Wires: Wires.Count(w => w.From.Tag == p.Tag || w.To.Tag == p.Tag)
                        + Bonds.Count(b => b.A.Tag == p.Tag || b.B.Tag == p.Tag)
                )
            )
            .Where(s => s.Wires > 1)
            .ToList();
        return studs.Count == 0 ? null : studs.MaxBy(s => s.Wires).Terminal;
    }

    public IReadOnlyList<Control> Controls { get; init; } = [];
    public IReadOnlyList<Part> Parts { get; init; } = [];

    /// <summary>True where the path through a pin enters at its half b, as with <c>&lt;</c>.</summary>
    public bool EntersAtHalfB(string tag, string pin) =>
        Paths.Any(p => p.Hops.Any(h => h.Enter.Tag == tag && h.Enter.Name == pin + "b" && h.Leave.Name == pin + "a"));

    /// <summary>Paths as written; wires and bonds come from them.</summary>
    public IReadOnlyList<PathRoute> Paths { get; init; } = [];
    public IReadOnlyList<Wire> Wires { get; init; } = [];
    public IReadOnlyList<Bond> Bonds { get; init; } = [];
    public IReadOnlyList<MachineFunction> Functions { get; init; } = [];
    public IReadOnlyList<Interlock> Interlocks { get; init; } = [];
    public IReadOnlyList<FaultCode> Codes { get; init; } = [];

    /// <summary>Places by name, and the list they are places in: a circuit made from another one finds its own.</summary>
    private sealed record Index(object Of, Dictionary<string, int> Places)
    {
        public static int Place<T>(
            ref Index? known,
            IReadOnlyList<T> list,
            Func<T, string> name,
            string wanted,
            StringComparer? comparer = null
        )
        {
            if (known is not { } index || index.Of != list)
            {
                var places = new Dictionary<string, int>(list.Count, comparer ?? StringComparer.Ordinal);
                for (var i = 0; i < list.Count; i++)
                    places.TryAdd(name(list[i]), i);
                known = index = new Index(list, places);
            }
            return index.Places.TryGetValue(wanted, out var at) ? at : -1;
        }
    }

    private Index? _parts,
        _wires,
        _functions;

    /// <summary>Place of a part in <see cref="Parts"/>; -1 when there is none.</summary>
    public int IndexOf(string tag) => Index.Place(ref _parts, Parts, p => p.Tag, tag);

    public Part? FindPart(string tag) => IndexOf(tag) is >= 0 and var at ? Parts[at] : null;

    public Wire? FindWire(string id) => Index.Place(ref _wires, Wires, w => w.Id, id) is >= 0 and var at ? Wires[at] : null;

    public Control? FindControl(string name) => Controls.FirstOrDefault(c => c.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    public MachineFunction? FindFunction(string name) =>
        Index.Place(ref _functions, Functions, f => f.Name, name, StringComparer.OrdinalIgnoreCase) is >= 0 and var at
            ? Functions[at]
            : null;

    public IEnumerable<Part> Sources => Parts.Where(p => p.Kind.IsSource);

    /// <summary>Every source off.</summary>
    public IReadOnlyList<Intervention> SourcesOff => [.. Sources.Select(s => new Intervention.Off(s.Tag))];

    /// <summary>The point volts are read against: as stated, else the first source's negative or neutral.</summary>
    public Terminal ReferencePoint =>
        Reference ?? (Sources.First() is var s && s.Model.Terminals.Contains("-") ? new Terminal(s.Tag, "-") : new Terminal(s.Tag, "N"));

    /// <summary>How volts are read on this sheet.</summary>
    /// <summary>Frequency of what alternates, Hz: the first mains that says it, else 50.</summary>
    public double Hertz =>
        Parts.Where(p => p.Kind.IsMains).Select(p => p.Value(Dimension.Hertz)).FirstOrDefault(h => h is > 0) ?? Defaults.Hertz;

    public VoltsFunction VoltsFunction => Alternating ? VoltsFunction.Ac : VoltsFunction.Dc;

    // Derived look-ups stay out of equality; two sheets are equal when they say the same.
    public bool Equals(Circuit? o) =>
        o is not null
        && Title == o.Title
        && Machine == o.Machine
        && Family == o.Family
        && NominalVolts.Equals(o.NominalVolts)
        && Alternating == o.Alternating
        && DrawnFrom == o.DrawnFrom
        && Reference == o.Reference
        && Frame == o.Frame
        && Controls.Count == o.Controls.Count
        && Controls
            .Zip(o.Controls)
            .All(p =>
                p.First.Name == p.Second.Name
                && p.First.Rest == p.Second.Rest
                && p.First.Given == p.Second.Given
                && p.First.Positions.SequenceEqual(p.Second.Positions)
                && p.First.Held.SetEquals(p.Second.Held)
            )
        && Parts.SequenceEqual(o.Parts)
        && Wires.SequenceEqual(o.Wires)
        && Bonds.SequenceEqual(o.Bonds)
        && Functions.SequenceEqual(o.Functions)
        && Interlocks.SequenceEqual(o.Interlocks)
        && Codes.Count == o.Codes.Count
        && Codes.Zip(o.Codes).All(p => p.First.Code == p.Second.Code && p.First.About.SequenceEqual(p.Second.About));

    public override int GetHashCode() => HashCode.Combine(Title, Parts.Count, Wires.Count);
}

/// <summary>One <c>path</c> statement: the points it runs through, in order.</summary>
public sealed record PathRoute(IReadOnlyList<PathHop> Hops);

/// <summary>One hop: how it is reached from the one before (null for the first), where it is entered and where it is left.</summary>
public sealed record PathHop(PathJoin? Join, Terminal Enter, Terminal Leave);

/// <summary>The join before a hop: a wire by its id, or metal to metal.</summary>
public sealed record PathJoin(string? WireId);

/// <summary>What a person notices: a load that works, or a value in a range.</summary>
public sealed record MachineFunction(string Name, FunctionTest Test, Condition? When, Setup? After);

public abstract record FunctionTest
{
    public sealed record LoadWorks(string Tag) : FunctionTest;

    /// <summary>A probe whose reading lies between the limits (infinite where not stated), in base units.</summary>
    public sealed record Measured(Probe Probe, double Low, double High) : FunctionTest;
}

/// <summary><c>interlock gear=ENGAGED stops "engine cranks"</c>.</summary>
public sealed record Interlock(Condition When, string Stops);

/// <summary><c>code 520-4 "brine valve, low" about Y4, w40</c>.</summary>
public sealed record FaultCode(string Code, string? Meaning, IReadOnlyList<string> About);
