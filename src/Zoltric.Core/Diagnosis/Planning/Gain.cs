using System.Buffers;
using System.Collections.Concurrent;
using System.Numerics;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Faults;
using Zoltric.Core.Metering;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>
/// Expected drop of entropy over repair sites from one test, in bits: the mutual information between site and reading, with readings
/// sorted into bins about one standard deviation wide. Source: minimum-entropy probing (de Kleer and Williams, 1987).
/// </summary>
internal sealed class Gain : IDisposable
{
    private readonly FaultSpace _space;
    private readonly ReadingsByPoint _remembered;
    private readonly Representative[] _points;
    private readonly int[] _site;

    /// <summary>By point, its share of all weight and the factors of its supply and of its mains.</summary>
    private readonly double[] _weight,
        _supply,
        _mains;
    private readonly double[] _siteWeight;
    private readonly double _total;
    private readonly double _floor;
    private readonly double _asDrawn;
    private readonly double[] _siteTerms;
    private readonly double _siteTerm;
    private readonly ConcurrentDictionary<Setup, Prepared> _runs = new();

    /// <summary>By point, the new fuses that it has blown since they were put in; null where it has blown none.</summary>
    private readonly string[]?[]? _gone;

    /// <summary>
    /// Every point run in one setup. Where many volts are read in it, by point the trees of nodes that its conductors tie, and for direct
    /// ones the potentials node by node, all points of a node side by side. Where many ohms are read, which points are dead all over.
    /// </summary>
    private sealed record Prepared(OperatingPoint[] Runs, int[][]? Trees, float[]? Volts, bool[]? Dead);

    /// <summary>Relative spread assumed when ranking; the evidence itself is weighed exactly.</summary>
    private const double Relative = 0.03;

    /// <param name="readings">What was read so far.</param>
    /// <param name="against">
    /// Sites that are to be told from all others, which then count as one: whether it is these, and not which of the others it is. Null
    /// tells each from each.
    /// </param>
    public Gain(FaultSpace space, Weights weights, IReadOnlyList<Reading> readings, IReadOnlySet<RepairSite>? against = null)
    {
        (_space, _remembered) = (space, new ReadingsByPoint(space, readings));
        var number = new Dictionary<RepairSite, int>();
        int NumberOf(RepairSite site) => number.TryGetValue(site, out var n) ? n : number[site] = number.Count;
        var sites = weights
            .Representatives.Select(p => space.Sites[p.Counts])
            .Select(site =>
                against is null ? NumberOf(site)
                : against.Contains(site) ? 0
                : 1
            )
            .ToArray();
        // Site by site, so that what one site may show is gathered in one go.
        _points = weights.Representatives.ToArray();
        Array.Sort(sites, _points);
        _site = sites;
        // The last site is "not on the sheet".
        _siteWeight = new double[(against is null ? number.Count : 2) + 1];
        for (var i = 0; i < _points.Length; i++)
            _siteWeight[_site[i]] += _points[i].Weight;
        _siteWeight[^1] = weights.OffSheet;
        _total = _siteWeight.Sum();
        _weight = Array.ConvertAll(_points, p => p.Weight / _total);
        _supply = Array.ConvertAll(_points, p => 1 + p.Supply);
        _mains = Array.ConvertAll(_points, p => 1 + p.Mains);
        _siteTerms = Array.ConvertAll(_siteWeight, w => AnswerHistogram.Term(w / _total));
        _siteTerm = _siteTerms.Sum();
        if (readings.Any(r => r.Test.Probe is Probe.Replaced) && FusesGone.After(space, readings, _ => false) is { } gone)
            _gone = Array.ConvertAll(_points, p => gone.Open(p.Suspect, p.Point, isNew: true) is { Length: > 0 } open ? open : null);
        _asDrawn = weights.AsDrawn;
        _floor = 0.0035 * space.Circuit.NominalVolts;
    }

    public IReadOnlyList<Representative> Points => _points;

    /// <summary>Gives the tables back: large ones that are left to the collector stand about until it looks at everything.</summary>
    public void Dispose()
    {
        foreach (var setup in _runs.Keys)
            if (_runs.TryRemove(setup, out var made) && made.Volts is { Length: > 0 } volts)
                ArrayPool<float>.Shared.Return(volts);
    }

    /// <summary>
    /// What the test would show on a machine not as drawn that has not changed since it was read; null where nothing bears on it.
    /// </summary>
    public Predicted? Remembered(Test test) => _remembered.Find(test);

    /// <summary>Readings of a kind in a setup from which on a table for all points is less work than looking each one up.</summary>
    private const int ManyReadings = 20;

    /// <summary>Every representative run in the setup of each test, side by side; once per setup.</summary>
    public void Prepare(IEnumerable<Test> tests)
    {
        // Setups side by side too: the first run in each makes its network.
        WorkBudget.ForEach(tests.GroupBy(t => t.Setup, t => t.Probe).ToList(), of => Prepare(of.Key, [.. of]));
    }

    private void Prepare(Setup setup, Probe[] probes)
    {
        if (_runs.ContainsKey(setup))
            return;
        var all = new OperatingPoint[_points.Length];
        WorkBudget.For(0, all.Length, i => all[i] = _space.Run(_gone?[i] is { } open ? BlownAgain.Pulled(setup, open) : setup, _points[i]));
        bool Many(Func<Probe, bool> read) => all.Length > 0 && _gone is null && probes.Count(read) >= ManyReadings;
        bool ManyVolts(VoltsFunction function) => Many(p => p.VoltsOn(_space.Circuit)?.Function == function);
        var (direct, alternating) = (ManyVolts(VoltsFunction.Dc), ManyVolts(VoltsFunction.Ac));
        _runs[setup] = new Prepared(
            all,
            direct || alternating ? Array.ConvertAll(all, run => run.Trees()) : null,
            direct ? SideBySide.Volts(all) : null,
            Many(p => p.OhmsAcross is not null) ? Array.ConvertAll(all, Meter.IsDead) : null
        );
    }

    /// <summary>What the test shows on each representative; null where it is refused.</summary>
    public Predicted?[] Values(Test test)
    {
        var all = new Predicted?[_points.Length];
        for (var i = 0; i < all.Length; i++)
        {
            var x = Value(test, i);
            all[i] = x.Word == Answer.Refused ? null : x;
        }
        return all;
    }

    /// <summary>What the test shows on one representative.</summary>
    public Predicted Value(Test test, int point)
    {
        var open = _gone?[point];
        if (open is not null && OnTheFuse(test, point, open) is { } shown)
            return shown;
        var x =
            _runs.TryGetValue(test.Setup, out var prepared) && Prediction.Quick(test, prepared.Runs[point]) is { } quick
                ? quick
                : _space.Quick(open is null ? test : BlownAgain.Pulled(test, open), _points[point]);
        return x.FollowsSupply ? x with { Mean = x.Mean + x.Gain * (x.OfMains ? _points[point].Mains : _points[point].Supply) } : x;
    }

    /// <summary>What a meter shows on one of these fuses, which are blown, or from its terminal; null for every other test.</summary>
    private Predicted? OnTheFuse(Test test, int point, string[] open) =>
        Array.Find(open, f => BlownAgain.IsAt(test, f)) is { } itself
            ? _space.BlownAlone(itself) is { } alone
                ? _space.Predict(test, alone, 0)
                : null
            : BlownAgain.OhmsFrom(test, open)
                ? _space.Quick(test, _points[point])
                : null;

    /// <summary>Bits; 0 when refused anywhere.</summary>
    public double Bits(Test test)
    {
        var dimension = test.Probe.Dimension;
        var bins = AnswerHistogram.Borrow();
        if (!AddAtNodes(bins, test) ?? !AddValues(bins, test, dimension))
            return 0;
        // A machine not as drawn reads as the suspects or a sound one would as a rule, else it may show anything: each answer met
        // elsewhere, or for volts also anything between none and the supply.
        var sound = Prediction.Quick(test, _space.Healthy(test.Setup)) is { Word: null } healthy
            ? Centre(healthy.Mean, dimension)
            : (int?)null;
        var remembered = _remembered.Find(test) is { } was ? Centre(was.Mean, dimension) : (int?)null;
        bins.SpreadOffSheet(
            _siteWeight[^1] / _total,
            _asDrawn,
            sound,
            remembered,
            dimension == Dimension.Volt ? Centre(_space.Circuit.NominalVolts, dimension) : -1
        );
        // Slips blunt every test alike.
        return Math.Max(0, bins.Information(_siteTerm)) * (1 - 2 * Likelihood.Slip);
    }

    /// <summary>False where one of them refuses the test.</summary>
    private bool AddValues(AnswerHistogram bins, Test test, Dimension dimension)
    {
        var words = new List<Answer>();
        for (var i = 0; i < _points.Length; i++)
        {
            var x = Value(test, i);
            if (x.Word == Answer.Refused)
                return false;
            if (x.Word is { } word)
            {
                var n = words.IndexOf(word);
                if (n < 0)
                {
                    n = words.Count;
                    words.Add(word);
                }
                bins.AddWord(Math.Min(n, AnswerHistogram.MostWords - 1), _weight[i]);
            }
            else
                bins.Add(Centre(x.Mean, dimension), _weight[i]);
            EndSite(bins, i);
        }
        return true;
    }

    [ThreadStatic]
    private static double[]? _shown;

    /// <summary>The same from nodes that are looked up once for all points; null where the test is not read so.</summary>
    private bool? AddAtNodes(AnswerHistogram bins, Test test)
    {
        // With a fuse pulled here and in there the nodes are not the same.
        if (_gone is not null || !_runs.TryGetValue(test.Setup, out var prepared) || prepared.Runs is not [var first, ..] runs)
            return null;
        if (test.Probe.Loads)
            return null;
        if (test.Probe.OhmsAcross is { } across)
            return AddOhms(bins, prepared, Meter.TipsOf(first, across));
        if (test.Probe.VoltsOn(_space.Circuit) is not { Function: not VoltsFunction.LowImpedance } volts)
            return null;
        var (count, (p, q), alternating) = (runs.Length, Meter.NodesOf(first, volts), volts.Function == VoltsFunction.Ac);
        AddVolts(
            bins,
            alternating ? _mains : _supply,
            prepared switch
            {
                { Trees: { } trees } when alternating => i => runs[i].Tied(trees[i], p, q) ? runs[i].AcVolts(p, q).Magnitude : 0,
                { Trees: { } trees, Volts: { } table } when !alternating => i =>
                    runs[i].Tied(trees[i], p, q) ? At(table, p, i) - At(table, q, i) : 0,
                _ => i => Prediction.QuickVolts(runs[i], volts.Function, p, q),
            }
        );
        return true;

        float At(float[] table, int node, int i) => node < 0 ? 0 : table[node * count + i];
    }

    private bool AddOhms(AnswerHistogram bins, Prepared prepared, in Meter.OhmsTips tips)
    {
        for (var i = 0; i < prepared.Runs.Length; i++)
        {
            switch (Meter.OhmsOnly(prepared.Runs[i], tips, prepared.Dead?[i] == true))
            {
                case double.NaN:
                    return false;
                case double.PositiveInfinity:
                    bins.AddWord(0, _weight[i]);
                    break;
                case var ohms:
                    bins.Add(Centre(ohms, Dimension.Ohm), _weight[i]);
                    break;
            }
            EndSite(bins, i);
        }
        return true;
    }

    private void AddVolts(AnswerHistogram bins, double[] factor, Func<int, double> volts)
    {
        var count = _points.Length;
        if (_shown is null || _shown.Length < count)
            _shown = new double[count];
        var shown = _shown.AsSpan(0, count);
        for (var i = 0; i < count; i++)
            shown[i] = volts(i) * factor[i];
        ToCoordinates(shown, Dimension.Volt);
        for (var i = 0; i < count; i++)
        {
            bins.Add(Clamped(shown[i]), _weight[i]);
            EndSite(bins, i);
        }
    }

    private void EndSite(AnswerHistogram bins, int point)
    {
        if (point + 1 == _points.Length || _site[point + 1] != _site[point])
            bins.EndSite(_siteTerms[_site[point]]);
    }

    private int Centre(double v, Dimension d) => Clamped(Coordinate(v, d));

    private static int Clamped(double coordinate) => Math.Clamp((int)Math.Round(coordinate), -AnswerHistogram.Half, AnswerHistogram.Half);

    /// <summary>Stretches the scale so that one unit is about one standard deviation everywhere.</summary>
    internal double Coordinate(double v, Dimension d)
    {
        var (floor, relative) = Scale(d);
        return Math.Sign(v) * Math.Log(1 + Math.Abs(v) * relative / floor) / relative;
    }

    private (double Floor, double Relative) Scale(Dimension d) =>
        d == Dimension.Ohm ? (0.3, 0.12)
        : d == Dimension.Ampere ? (0.05, 0.05)
        : (_floor, Relative);

    /// <summary>The same of many values, in place.</summary>
    private void ToCoordinates(Span<double> values, Dimension d)
    {
        var (floor, relative) = Scale(d);
        var i = 0;
        for (; i <= values.Length - Vector<double>.Count; i += Vector<double>.Count)
        {
            var v = new Vector<double>(values[i..]);
            Vector.CopySign(Vector.Log(Vector<double>.One + Vector.Abs(v) * (relative / floor)) / relative, v).CopyTo(values[i..]);
        }
        for (; i < values.Length; i++)
            values[i] = Coordinate(values[i], d);
    }
}
