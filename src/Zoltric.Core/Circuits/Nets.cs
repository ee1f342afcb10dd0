using System.Numerics;
using System.Runtime.CompilerServices;

namespace Zoltric.Core.Circuits;

/// <summary>
/// Most volts that can stand between two points, alternating and direct each, in any state of the contacts, with any one thing broken, and
/// with any source that is thought to be off.
/// </summary>
/// <param name="AcVolts">V effective.</param>
/// <param name="DcVolts">V.</param>
public readonly record struct Exposure(double AcVolts, double DcVolts)
{
    public static Exposure None { get; }

    public static Exposure operator +(Exposure a, Exposure b) => new(a.AcVolts + b.AcVolts, a.DcVolts + b.DcVolts);

    public static Exposure Largest(Exposure a, Exposure b) => new(Math.Max(a.AcVolts, b.AcVolts), Math.Max(a.DcVolts, b.DcVolts));

    /// <summary>The same volts with any kind of meter in mind: the larger of the two.</summary>
    public double Volts => Math.Max(AcVolts, DcVolts);
}

/// <summary>A wire of a two-wire bus.</summary>
/// <param name="High">True for the high one.</param>
/// <param name="Traffic">Share of the time that its modules together drive it.</param>
public readonly record struct BusWire(bool High, double Traffic);

/// <summary>
/// A galvanic section: all nets that metal, contacts, fuses and loads can join. Transformers and supplies part sections; the protective
/// conductor does not join them.
/// </summary>
/// <param name="Sources">Tags of the sources that feed it directly.</param>
/// <param name="Own">What its own sources and windings can put between two of its points.</param>
/// <param name="Feeders">Tags of all sources that can reach it: its own, and those behind a transformer or a fault across a
/// separation.</param>
public sealed record GalvanicSection(int Index, IReadOnlyList<string> Sources, Exposure Own, IReadOnlyList<string> Feeders)
{
    /// <summary>What one fault across a separation that is not stated can add.</summary>
    public Exposure ByFault { get; init; }

    /// <summary>What a capacitor with a winding adds, and what stays in it.</summary>
    public Exposure ByCapacitor { get; init; }

    /// <summary>All that can stand at its points.</summary>
    public Exposure Exposure => Own + ByCapacitor + ByFault;

    /// <summary>True where alternating volts can stand with nothing broken.</summary>
    public bool HasAc => Own.AcVolts > 0;

    public bool HasDc => Own.DcVolts > 0;
}

/// <summary>
/// Nets of a circuit and the volts that can stand on them.
/// </summary>
/// <remarks>
/// A net is what wires, bonds, studs and seated pins join. A section is what any link can join as well, open or not. Within a section no
/// point of a network of sources and resistances lies outside the span of its sources (maximum principle), whatever is open, closed or
/// grounded within it, but for a capacitor, which is allowed for by a factor. Sources that conductors join have one set of potentials;
/// clusters that only a contact or a load joins add their spans. So the figure is a bound for every state and every fault inside the
/// section, and nothing has to be run. A transformer makes its other side a source of the stated volts, in both directions. A fault
/// across a winding or a supply, or between neighbouring pins of two sections, adds the other side's volts unless the part says
/// <c>separated</c> (double insulation, IEC 61558-2-6; SELV and PELV, IEC 61140; from memory). A <c>psu</c> without an input on the
/// sheet is taken to be fed by the alternating sources of the sheet, if it has any.
/// </remarks>
public sealed class Nets
{
    private static readonly ConditionalWeakTable<Circuit, Nets> Made = [];

    /// <summary>The nets of a circuit, made once.</summary>
    public static Nets Of(Circuit circuit) => Made.GetValue(circuit, c => new Nets(c));

    private readonly Dictionary<Terminal, int> _net = [];
    private readonly Dictionary<Terminal, int> _sectionOf = [];
    private readonly Terminal _reference;
    private readonly int _referenceSection;
    private readonly Dictionary<int, Terminal> _commons = [];

    public Circuit Circuit { get; }
    public Connectivity Connectivity { get; }
    public IReadOnlyList<GalvanicSection> Sections { get; }

    /// <summary>Pairs of neighbouring pins that belong to different sections and are not said to be separated.</summary>
    public IReadOnlyList<(Terminal A, Terminal B)> UnseparatedPins { get; }

    /// <summary>Sections that one fault can join: across a transformer, a supply, or from pin to pin.</summary>
    private readonly List<(int A, int B)> _faultJoins = [];

    private Nets(Circuit circuit)
    {
        Circuit = circuit;
        Connectivity = new Connectivity(circuit);
        _busWires = new(BusWires);
        Label(_net, e => e.IsConductor);
        var sections = Label(_sectionOf, e => !IsProtective(e));
        _reference = circuit.Sources.Any() ? circuit.ReferencePoint : default;
        _referenceSection = _sectionOf.GetValueOrDefault(_reference, -1);
        UnseparatedPins = [.. NeighboursApart()];
        var own = new Exposure[sections];
        var feeders = new List<string>[sections];
        for (var s = 0; s < sections; s++)
            (own[s], feeders[s]) = (SpanOf(s), [.. SourcesOf(s)]);
        var windings = Windings().ToList();
        var rectified = SectionsWith(l => l is Link.Diode);
        // Twice over: a winding on a winding passes its volts on.
        for (var round = 0; round < 2; round++)
            foreach (var (from, to, volts) in windings)
                if (own[from].AcVolts > 0 && own[to].AcVolts < volts && from != to)
                {
                    own[to] = own[to] with { AcVolts = own[to].AcVolts + volts };
                    feeders[to].AddRange(feeders[from].Except(feeders[to]));
                }
        // Behind a rectifier a charged capacitor may hold the peak.
        foreach (var s in rectified)
            own[s] = own[s] with { DcVolts = own[s].DcVolts + Math.Sqrt(2) * own[s].AcVolts };
        foreach (var part in circuit.Parts.Where(p => !p.Has(Separated)))
        {
            if (part.Model.Coupling is { } c)
                _faultJoins.Add(
                    (
                        SectionOf(new Terminal(part.Tag, part.Model.Links[c.Primary].A)),
                        SectionOf(new Terminal(part.Tag, part.Model.Links[c.Secondary].A))
                    )
                );
            else if (part.Kind.Converts)
                foreach (var input in InputsOf(part))
                    _faultJoins.Add((input, SectionOf(new Terminal(part.Tag, "+"))));
        }
        foreach (var (a, b) in UnseparatedPins)
            _faultJoins.Add((SectionOf(a), SectionOf(b)));
        // A winding in series with a capacitor stands at more than the mains, and what is switched off at its peak stays charged.
        var byCapacitor = new Exposure[sections];
        foreach (var s in SectionsWith(l => l is Link.Reactance { Microfarads: not null }))
            byCapacitor[s] = new Exposure((CapacitorRise - 1) * own[s].AcVolts, CapacitorRise * Math.Sqrt(2) * own[s].AcVolts);
        var byFault = new Exposure[sections];
        foreach (var (a, b) in _faultJoins.Where(j => j.A != j.B && j.A >= 0 && j.B >= 0).Distinct())
        {
            byFault[a] = Exposure.Largest(byFault[a], own[b]);
            byFault[b] = Exposure.Largest(byFault[b], own[a]);
            feeders[a].AddRange(feeders[b].Except(feeders[a]).ToList());
            feeders[b].AddRange(feeders[a].Except(feeders[b]).ToList());
        }
        Sections =
        [
            .. Enumerable
                .Range(0, sections)
                .Select(s => new GalvanicSection(s, [.. SourcesOf(s)], own[s], feeders[s])
                {
                    ByFault = byFault[s],
                    ByCapacitor = byCapacitor[s],
                }),
        ];
        foreach (var part in circuit.Parts.Where(p => p.Kind.IsSource || p.Model.Coupling is not null))
        foreach (var common in Returns(part))
            if (_sectionOf.TryGetValue(common, out var at))
                _commons.TryAdd(at, common);
    }

    /// <summary>
    /// Volts across a run capacitor or its winding over those of the mains, at most: 1.7 is usual, so its can says 440 V on 230 V. Common
    /// practice, no source.
    /// </summary>
    private const double CapacitorRise = 2;

    private HashSet<int> SectionsWith(Func<Link, bool> has) =>
        [.. Circuit.Parts.SelectMany(p => p.Model.Links.Where(has).Select(l => SectionOf(Connectivity.At(p, l.A)))).Where(s => s >= 0)];

    /// <summary>The word that says a part's two sides, or its pins, share no fault.</summary>
    public const string Separated = "separated";

    /// <summary>Number of the net a terminal lies on; a terminal that nothing reaches has a net of its own.</summary>
    public int NetOf(Terminal t) => _net.TryGetValue(t.Bare, out var n) ? n : -1;

    /// <summary>Number of the section a terminal lies in, or -1.</summary>
    public int SectionOf(Terminal t) => _sectionOf.TryGetValue(t.Bare, out var s) ? s : -1;

    public GalvanicSection? FindSection(Terminal t) => SectionOf(t) is >= 0 and var s ? Sections[s] : null;

    /// <summary>Terminals on the same net.</summary>
    public IEnumerable<Terminal> OnNet(int net) => _net.Where(t => t.Value == net).Select(t => t.Key);

    private readonly Lazy<Dictionary<int, BusWire>> _busWires;

    /// <summary>The wire of a two-wire bus that a terminal is on; null elsewhere.</summary>
    public BusWire? BusWireAt(Terminal t) => _busWires.Value.TryGetValue(NetOf(t), out var wire) ? wire : null;

    private Dictionary<int, BusWire> BusWires()
    {
        var wires = new Dictionary<int, BusWire>();
        foreach (var part in Circuit.Parts)
            if (part.Model.Bus is { } bus)
                foreach (var (link, high) in new[] { (bus.High, true), (bus.Low, false) })
                {
                    var net = NetOf(Connectivity.At(part, part.Model.Links[link].A));
                    var known = wires.GetValueOrDefault(net, new BusWire(high, 0));
                    wires[net] = known with { Traffic = known.Traffic + bus.Share };
                }
        return wires;
    }

    public bool SameNet(Terminal a, Terminal b) => a == b || NetOf(a) is >= 0 and var n && n == NetOf(b);

    /// <summary>
    /// Most volts that can stand between a point and anything a person or a lead may touch with it: its own section, and earth.
    /// </summary>
    public Exposure At(Terminal t) => FindSection(t)?.Exposure ?? Exposure.None;

    /// <summary>Most volts between two points.</summary>
    public Exposure Between(Terminal p, Terminal q)
    {
        if (SameNet(p, q))
            return Exposure.None;
        return SectionOf(p) == SectionOf(q) ? At(p) : At(p) + At(q);
    }

    /// <summary>Tags of the sources that can put volts on a point, off or not.</summary>
    public IReadOnlyList<string> Feeders(Terminal t) => FindSection(t)?.Feeders ?? [];

    /// <summary>Feeders with nothing broken across a separation.</summary>
    public IReadOnlyList<string> SourcesAt(Terminal t) => FindSection(t)?.Sources ?? [];

    /// <summary>The dial for volts at a point: alternating where its section works on alternating volts, else direct.</summary>
    public VoltsFunction FunctionAt(Terminal t) => FindSection(t) is { HasAc: true } ? VoltsFunction.Ac : VoltsFunction.Dc;

    /// <summary>
    /// True for a motor that is heard to hum when it is fed and stands: any on three phases or with a start winding, and a plain one on
    /// alternating volts.
    /// </summary>
    public bool MayHum(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Model.Hums || part.Kind.HumsOnMains && FunctionAt(new Terminal(part.Tag, part.Model.Terminals[0])) == VoltsFunction.Ac;
    }

    /// <summary>Where the black tip goes for a point: null for the reference, else the return of its own side.</summary>
    public Terminal? CommonOf(Terminal t)
    {
        var section = SectionOf(t);
        if (section < 0 || section == _referenceSection || SameNet(t, _reference))
            return null;
        // The control common that is bonded to the reference is the reference.
        if (!_commons.TryGetValue(section, out var common) || SameNet(common, t))
            return null;
        return common;
    }

    /// <summary>Sections that a source feeds with nothing broken.</summary>
    public IEnumerable<int> SectionsOf(string source) => Sections.Where(s => s.Sources.Contains(source)).Select(s => s.Index);

    private int Label(Dictionary<Terminal, int> into, Func<Connectivity.Edge, bool> passes)
    {
        var next = 0;
        foreach (var t in Connectivity.Terminals)
        {
            if (into.ContainsKey(t))
                continue;
            foreach (var r in Connectivity.Reach(t, passes))
                into[r] = next;
            next++;
        }
        return next;
    }

    /// <summary>The bond of neutral and protective conductor inside a mains source.</summary>
    private static bool IsProtective(Connectivity.Edge e) => e is { Part.Kind.IsMains: true, Link.Name: "PE" };

    private IEnumerable<string> SourcesOf(int section) =>
        Circuit
            .Parts.Where(p => p.Model.Links.Any(l => l is Link.Source && SectionOf(new Terminal(p.Tag, l.A)) == section))
            .Select(p => p.Tag);

    /// <summary>
    /// Span of the sources of a section: clusters joined by conductors have one set of potentials, clusters joined otherwise add up.
    /// </summary>
    private Exposure SpanOf(int section)
    {
        var links = Circuit
            .Parts.SelectMany(p =>
                p.Model.Links.OfType<Link.Source>().Select(l => (A: new Terminal(p.Tag, l.A), B: new Terminal(p.Tag, l.B), Link: l))
            )
            .Where(l => SectionOf(l.A) == section)
            .ToList();
        var potential = new Dictionary<int, (Complex Ac, double Dc)>();
        var (ac, dc) = (0.0, 0.0);
        foreach (var start in links)
        {
            if (potential.ContainsKey(NetOf(start.A)))
                continue;
            var cluster = new List<int>();
            Set(NetOf(start.A), (Complex.Zero, 0));
            for (var i = 0; i < cluster.Count; i++)
                foreach (var l in links)
                {
                    var (a, b) = (NetOf(l.A), NetOf(l.B));
                    if (a == cluster[i] && !potential.ContainsKey(b))
                        Set(b, (potential[a].Ac - l.Link.Ac, potential[a].Dc - l.Link.Emf));
                    if (b == cluster[i] && !potential.ContainsKey(a))
                        Set(a, (potential[b].Ac + l.Link.Ac, potential[b].Dc + l.Link.Emf));
                }
            ac += cluster.Max(x => cluster.Max(y => (potential[x].Ac - potential[y].Ac).Magnitude));
            dc += cluster.Max(x => potential[x].Dc) - cluster.Min(x => potential[x].Dc);

            void Set(int net, (Complex, double) at)
            {
                potential[net] = at;
                cluster.Add(net);
            }
        }
        return new Exposure(ac, dc);
    }

    /// <summary>Each winding as a source on its other side, with the volts stated for it, both ways.</summary>
    private IEnumerable<(int From, int To, double Volts)> Windings()
    {
        foreach (var part in Circuit.Parts)
        {
            if (part.Model.Coupling is not { } c)
                continue;
            var (p, s) = (
                SectionOf(new Terminal(part.Tag, part.Model.Links[c.Primary].A)),
                SectionOf(new Terminal(part.Tag, part.Model.Links[c.Secondary].A))
            );
            var stated = part.Values.Where(v => v.Dimension == Dimension.Volt).Select(v => v.Value).ToList();
            var primary = stated.Count >= 2 ? stated[0] : part.NominalVolts;
            yield return (p, s, primary / c.Ratio);
            yield return (s, p, primary);
        }
    }

    /// <summary>
    /// Sections that feed a supply: by its input terminals where it has them, else every section with alternating sources.
    /// </summary>
    private IEnumerable<int> InputsOf(Part psu)
    {
        if (psu.Model.Terminals.Contains("L"))
            return [SectionOf(new Terminal(psu.Tag, "L"))];
        return Circuit.Parts.Where(p => p.Kind.IsMains).Select(p => SectionOf(new Terminal(p.Tag, p.Model.Links[0].A))).Distinct();
    }

    private IEnumerable<(Terminal, Terminal)> NeighboursApart()
    {
        foreach (var row in Circuit.Parts.Where(p => p.Kind.HasHalves && !p.Has(Separated)))
        foreach (var link in row.Model.Links)
        {
            if (!int.TryParse(link.Name, out var n))
                continue;
            var (a, b) = (new Terminal(row.Tag, $"{n}a", true), new Terminal(row.Tag, $"{n + 1}a", true));
            if (Wired(a) && Wired(b) && SectionOf(a) != SectionOf(b))
                yield return (a, b);
        }

        bool Wired(Terminal pin) =>
            Connectivity.From(pin).Any(e => e.Part is null)
            || Connectivity.From(pin with { Name = pin.Name[..^1] + "b" }).Any(e => e.Part is null);
    }

    private static IEnumerable<Terminal> Returns(Part part) =>
        (part.Model.Coupling is not null ? ["P2", "S2"] : part.Model.Terminals.Where(t => t is "-" or "N")).Select(t => new Terminal(
            part.Tag,
            t
        ));
}
