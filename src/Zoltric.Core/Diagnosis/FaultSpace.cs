using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis;

/// <summary>What one test shows on one faulty machine.</summary>
/// <param name="Mean">V, A or Ω; meaningless for words.</param>
/// <param name="Spread">Standard deviation from part tolerances, same unit.</param>
/// <param name="Word">Set for words, OL and refusals.</param>
/// <param name="Share">For a function or load: share of its rated current or volts, so that the border between words is soft.</param>
/// <param name="State">Switching state it was computed in: values of two points are only joined by a curve within one state.</param>
/// <param name="Ghost">True where a point hangs on leakage: what it shows depends on damp and dirt, not on the sheet.</param>
internal readonly record struct Predicted(double Mean, double Spread, bool FollowsSupply, string? Word, double Share, int State, bool Ghost = false);

/// <summary>
/// Every single fault of a circuit with the values it may have, and what each test would show under each. Runs and predictions are
/// kept, bounded; a space serves several requests at a time.
/// </summary>
public sealed class FaultSpace
{
    /// <summary>Points laid between two neighbouring grid values when a reading is weighed.</summary>
    internal const int Fine = 32;
    private const int MostRuns = 60_000;
    private const int MostTests = 400;

    private readonly ConcurrentDictionary<(string Setup, int Suspect, int Point), OperatingPoint> _runs = new();
    private readonly ConcurrentDictionary<string, Curve[]> _curves = new();

    public FaultSpace(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        Machine = machine;
        Islands = new Islands(machine.Circuit);
        Suspects = FaultCatalogue.Of(machine);
        Sites = Suspects.Select(s => SiteOf(machine.Circuit, s)).ToList();
        FineStart = new int[Suspects.Count + 1];
        for (var i = 0; i < Suspects.Count; i++) FineStart[i + 1] = FineStart[i] + FineCount(i);
        Total = Suspects.Sum(s => s.Odds);
    }

    public Machine Machine { get; }
    internal Islands Islands { get; }
    public Circuit Circuit => Machine.Circuit;
    public IReadOnlyList<Suspect> Suspects { get; }

    /// <summary>What is mended and how it failed, by suspect: faults of one site are told apart by no repair.</summary>
    public IReadOnlyList<string> Sites { get; }
    internal int[] FineStart { get; }
    internal double Total { get; }

    internal int Points(int suspect) => Math.Max(1, Suspects[suspect].Values.Count);
    internal bool Curved(int suspect) => Suspects[suspect].Continuous && Points(suspect) > 1;
    private int FineCount(int suspect) => Curved(suspect) ? (Points(suspect) - 1) * Fine : Points(suspect);

    internal Fault FaultAt(int suspect, int point) => Suspects[suspect].Values.Count == 0 ? Suspects[suspect].Template : Suspects[suspect].With(Suspects[suspect].Values[point]);

    /// <summary>Value at a fine point, V or Ω.</summary>
    internal double ValueAt(int suspect, int fine)
    {
        var values = Suspects[suspect].Values;
        if (values.Count == 0) return double.NaN;
        if (!Curved(suspect)) return values[fine];
        return Within(suspect, fine / Fine, (fine % Fine + 0.5) / Fine);
    }

    /// <summary>Value a part of the way through a grid cell: even in the logarithm for ohms, even in volts.</summary>
    private double Within(int suspect, int cell, double t)
    {
        var values = Suspects[suspect].Values;
        var (a, b) = (values[cell], values[cell + 1]);
        return Suspects[suspect].Template.Dimension == Dimension.Ohm ? a * Math.Pow(b / a, t) : a + (b - a) * t;
    }

    internal int NearestPoint(int suspect, int fine) => Curved(suspect) ? fine / Fine + (fine % Fine >= Fine / 2 ? 1 : 0) : fine;

    private int _kept;

    /// <summary>Counts what is kept by itself: asking a concurrent dictionary for its count stops every other thread.</summary>
    private void Room()
    {
        if (Interlocked.Increment(ref _kept) <= MostRuns) return;
        _runs.Clear();
        _kept = 0;
    }

    internal OperatingPoint Run(Setup setup, int suspect, int point)
    {
        var key = (setup.ToString(), suspect, point);
        if (_runs.TryGetValue(key, out var known)) return known;
        Room();
        return _runs[key] = Machine.Run(setup, [FaultAt(suspect, point)]);
    }

    internal OperatingPoint Run(Setup setup, Representative r)
    {
        if (r.FinePoint is not { } fine) return Run(setup, r.Suspect, r.Point);
        // Fine points are kept beside grid points, counted downwards from -1.
        var key = (setup.ToString(), r.Suspect, -1 - fine);
        if (_runs.TryGetValue(key, out var known)) return known;
        Room();
        return _runs[key] = Machine.Run(setup, [Suspects[r.Suspect].With(ValueAt(r.Suspect, fine))]);
    }

    /// <summary>The healthy machine in a setup.</summary>
    internal OperatingPoint Healthy(Setup setup)
    {
        var key = (setup.ToString(), -1, 0);
        if (_runs.TryGetValue(key, out var known)) return known;
        return _runs[key] = Machine.Run(setup);
    }

    internal Predicted Predict(Test test, int suspect, int point)
    {
        if (test.Probe is Probe.Lamp or Probe.Amps) return Of(Meter.Read(Machine, test, [FaultAt(suspect, point)]), 0, 0);
        return Predict(test, Run(test.Setup, suspect, point));
    }

    /// <summary>
    /// The same without spread, and for volts without the meter's load: a point tied to the reference is not loaded by 10 MΩ, and a floating
    /// one shows next to nothing that could be relied on.
    /// </summary>
    internal Predicted Quick(Test test, Representative r)
    {
        if (test.Probe is not Probe.Volts { Function: not VoltsFunction.LowImpedance } v) return Predict(test, r);
        var op = Run(test.Setup, r);
        var (p, q) = (op.Node(v.P), v.Q is { } t ? op.Node(t) : -1);
        var volts = v.Function == VoltsFunction.Ac ? op.AcVolts(p, q).Magnitude : op.Volts(p) - op.Volts(q);
        return new Predicted(op.Tied(p, q) ? volts : 0, 0, true, null, double.NaN, 0);
    }

    internal Predicted Predict(Test test, Representative r) =>
        test.Probe is Probe.Lamp or Probe.Amps ? Predict(test, r.Suspect, r.Point) : Predict(test, Run(test.Setup, r));

    private static Predicted Predict(Test test, OperatingPoint op)
    {
        var predicted = Of(Meter.Read(op, test), ShareOf(op, test.Probe), op.StateKey);
        return predicted.Word is null && Floats(op, test.Probe) ? predicted with { Ghost = true } : predicted;
    }

    internal static bool Floats(OperatingPoint op, Probe probe) => probe switch
    {
        Probe.Volts v => !op.Tied(op.Node(v.P), v.Q is { } q ? op.Node(q) : -1),
        Probe.Drop d => !op.Tied(Meter.TipNode(op, d.X.P, false), Meter.TipNode(op, d.X.Q, false)),
        _ => false,
    };

    private static Predicted Of(Shown shown, double share, int state) => shown.Value is { } v
        ? new Predicted(v, shown.Spread, shown.FollowsSupply, null, share, state)
        : new Predicted(0, 0, false, shown.Refused ? "refused" : shown.Text, share, state);

    private static double ShareOf(OperatingPoint op, Probe probe) => probe switch
    {
        Probe.Sees { IsFunction: true } s when op.Circuit.FindFunction(s.What) is { Test: FunctionTest.LoadWorks l } f && op.Holds(f.When) =>
            LoadState.Share(op, Meter.IndexOf(op.Circuit, l.Tag)),
        Probe.Sees { IsFunction: false } s => LoadState.Share(op, Meter.IndexOf(op.Circuit, s.What)),
        Probe.Hears h => PullShare(op, Meter.IndexOf(op.Circuit, h.Tag)),
        _ => double.NaN,
    };

    /// <summary>
    /// For a coil: 1 when it clicked for good, half when a fuse went in the same breath so that it may or may not have been heard, else its
    /// volts as a share of pull-in.
    /// </summary>
    private static double PullShare(OperatingPoint op, int part)
    {
        if (op.Circuit.Parts[part].Model.Coil is not { } coil) return double.NaN;
        if (op.Blown.Count > 0) return MayHaveClicked;
        return op.HasClicked(part) ? double.NaN : op.LinkOpen(part, coil.Link) ? 0 : Math.Abs(op.LinkVolts(part, coil.Link)) / coil.PullInVolts;
    }

    internal const double MayHaveClicked = -1;

    /// <summary>What the test shows along every suspect's values.</summary>
    internal Curve[] Curves(Test test)
    {
        var key = test.ToString();
        if (_curves.TryGetValue(key, out var known)) return known;
        if (_curves.Count > MostTests) _curves.Clear();
        var all = new Curve[Suspects.Count];
        Parallel.For(0, Suspects.Count, s =>
        {
            var points = new Predicted[Points(s)];
            for (var p = 0; p < points.Length; p++) points[p] = Predict(test, s, p);
            all[s] = new Curve(points, Curved(s) ? cell => BoundaryIn(test, s, cell, points[cell].State) : null);
        });
        return _curves[key] = all;
    }

    /// <summary>Halvings of a cell that hold a change of switching state: the border is found to 1/64 of it.</summary>
    private const int Halvings = 6;

    private readonly ConcurrentDictionary<(string Setup, int Suspect, int Cell), (double T, OperatingPoint Before, OperatingPoint After)> _borders = new();

    /// <summary>Where within a cell the machine changes state, and what the test shows just before and just after.</summary>
    private (double T, Predicted Before, Predicted After)? BoundaryIn(Test test, int suspect, int cell, int stateBefore)
    {
        if (test.Probe is Probe.Lamp or Probe.Amps) return null;
        var key = (test.Setup.ToString(), suspect, cell);
        if (!_borders.TryGetValue(key, out var border))
        {
            var (low, high) = (0.0, 1.0);
            var (before, after) = (Run(test.Setup, suspect, cell), Run(test.Setup, suspect, cell + 1));
            for (var i = 0; i < Halvings; i++)
            {
                var t = (low + high) / 2;
                var op = Machine.Run(test.Setup, [Suspects[suspect].With(Within(suspect, cell, t))]);
                if (op.StateKey == stateBefore) (low, before) = (t, op);
                else (high, after) = (t, op);
            }
            if (_borders.Count > MostRuns / 2) _borders.Clear();
            _borders[key] = border = ((low + high) / 2, before, after);
        }
        return (border.T, Predict(test, border.Before), Predict(test, border.After));
    }

    /// <summary>
    /// Wires that share a terminal are one net to every meter: a wire of it rubbed through to ground is found by eye along the net, whichever it is.
    /// </summary>
    private static string NetOf(Circuit circuit, string wire)
    {
        var seen = new HashSet<string> { wire };
        var queue = new Queue<string>([wire]);
        while (queue.TryDequeue(out var id))
        {
            var w = circuit.FindWire(id)!;
            foreach (var t in new[] { w.From, w.To })
                if (t.Name.Length > 0)
                    foreach (var other in circuit.Wires)
                        if ((other.From == t || other.To == t) && seen.Add(other.Id)) queue.Enqueue(other.Id);
        }
        return seen.Min(StringComparer.Ordinal)!;
    }

    private static string SiteOf(Circuit circuit, Suspect s)
    {
        if (s.Template.Words == "grounded" && circuit.FindWire(s.Template.Target) is not null) return NetOf(circuit, s.Template.Target) + "|net";
        if (circuit.FindPart(s.Template.Target) is not { } part || part.Model.IsPoint)
            return s.RepairUnit + (s.Template.Words is "open" or "resists" ? "|series" : "|" + s.Template.Words);
        if (part.Kind.IsSource) return s.RepairUnit + "|source";
        var mode = part.Model.Faults.First(m => m.Words == s.Template.Words);
        return s.RepairUnit + mode.Effect switch
        {
            FaultEffect.Open o => "|series " + Series(o.Links),
            FaultEffect.Series e => "|series " + Series(e.Links),
            FaultEffect.SetOhms e => $"|low {string.Join(',', e.Links)}",
            FaultEffect.Closed e => $"|closed {string.Join(',', e.Links)}",
            FaultEffect.Seized => "|stuck",
            FaultEffect.Grounded => "|grounded",
            FaultEffect.Short e => $"|low {e.First},{e.Last}",
            _ => "|other",
        };

        // Links that meet at a point inside the part are one stretch to every probe.
        string Series(int[] links)
        {
            var model = part.Model;
            bool Inside(string name) => !model.Terminals.Contains(name);
            var all = links.ToHashSet();
            foreach (var l in links)
                for (var k = 0; k < model.Links.Count; k++)
                    foreach (var end in new[] { model.Links[k].A, model.Links[k].B })
                        if (Inside(end) && (model.Links[l].A == end || model.Links[l].B == end)) all.Add(k);
            return string.Join(',', all.Order());
        }
    }
}
