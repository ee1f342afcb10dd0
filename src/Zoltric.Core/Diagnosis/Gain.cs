using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis;

/// <summary>
/// Expected drop of entropy over repair sites from one test, in bits: the mutual information between site and reading, with readings
/// sorted into bins about one standard deviation wide. Source: minimum-entropy probing (de Kleer and Williams, 1987).
/// </summary>
internal sealed class Gain
{
    private readonly FaultSpace _space;
    private readonly IReadOnlyList<Reading> _readings;
    private readonly Representative[] _points;
    private readonly int[] _site;
    private readonly double[] _siteWeight;
    private readonly double _total;
    private readonly double _floor;
    private readonly double _asDrawn;
    private readonly double[] _siteTerms;
    private readonly double _siteTerm;
    private readonly ConcurrentDictionary<Setup, Prepared> _runs = new();

    /// <summary>
    /// Every point run in one setup; on direct current its potentials node by node, all points of a node side by side, and what its conductors join where that is as in its
    /// standing state.
    /// </summary>
    private sealed record Prepared(OperatingPoint[] Runs, Ties?[] Ties, float[]? Volts);

    /// <summary>Relative spread assumed when ranking; the evidence itself is weighed exactly.</summary>
    private const double Relative = 0.03;

    /// <param name="readings">What was read so far.</param>
    public Gain(FaultSpace space, Weights weights, IReadOnlyList<Reading> readings)
    {
        (_space, _readings) = (space, readings);
        var number = new Dictionary<string, int>();
        var sites = weights.Representatives.Select(p => number.TryGetValue(space.Sites[p.Counts], out var n) ? n : number[space.Sites[p.Counts]] = number.Count).ToArray();
        // Site by site, so that what one site may show is gathered in one go.
        _points = weights.Representatives.ToArray();
        Array.Sort(sites, _points);
        _site = sites;
        // The last site is "not on the sheet".
        _siteWeight = new double[number.Count + 1];
        for (var i = 0; i < _points.Length; i++) _siteWeight[_site[i]] += _points[i].Weight;
        _siteWeight[^1] = weights.OffSheet;
        _total = _siteWeight.Sum();
        _siteTerms = Array.ConvertAll(_siteWeight, w => Term(w / _total));
        _siteTerm = _siteTerms.Sum();
        _asDrawn = weights.AsDrawn;
        _floor = 0.0035 * space.Circuit.NominalVolts;
    }

    public IReadOnlyList<Representative> Points => _points;

    /// <summary>Direct volts read in a setup from which on a table of all potentials is less work than looking each one up.</summary>
    private const int ManyVolts = 20;

    /// <summary>Every representative run in the setup of each test, side by side; once per setup.</summary>
    public void Prepare(IEnumerable<Test> tests)
    {
        // Setups side by side too: the first run in each makes its network.
        Parallel.ForEach(tests.GroupBy(t => t.Setup, IsDirectVolts).ToList(), setup => Prepare(setup.Key, setup.Count(v => v) >= ManyVolts));
    }

    private static bool IsDirectVolts(Test test) => test.Probe is Probe.Volts { Function: VoltsFunction.Dc } or Probe.Drop;

    private void Prepare(Setup setup, bool table)
    {
        if (_runs.ContainsKey(setup)) return;
        var all = new OperatingPoint[_points.Length];
        Parallel.For(0, all.Length, i => all[i] = _space.Run(setup, _points[i]));
        var count = all.Length;
        float[]? volts = null;
        if (table && !_space.Machine.IsAlternating && count > 0)
        {
            volts = new float[all[0].Nodes * count];
            // A block of points at a time, so that neighbours in memory are written by one thread.
            Parallel.For(0, (count + Block - 1) / Block, b => { for (var i = b * Block; i < Math.Min(count, (b + 1) * Block); i++) all[i].WriteVolts(volts, i, count); });
        }
        _runs[setup] = new Prepared(all, volts is null ? [] : Array.ConvertAll(all, run => run.TiesOfStanding), volts);
    }

    private const int Block = 16;

    /// <summary>What the test shows on each representative; null where it is refused.</summary>
    public Predicted?[] Values(Test test)
    {
        var all = new Predicted?[_points.Length];
        for (var i = 0; i < all.Length; i++)
        {
            var x = Value(test, i);
            all[i] = x.Word == "refused" ? null : x;
        }
        return all;
    }

    /// <summary>What the test shows on one representative.</summary>
    public Predicted Value(Test test, int point)
    {
        var x = _runs.TryGetValue(test.Setup, out var prepared) && _space.Quick(test, prepared.Runs[point]) is { } quick ? quick : _space.Quick(test, _points[point]);
        return x.FollowsSupply ? x with { Mean = x.Mean + x.Gain * _points[point].Supply } : x;
    }

    /// <summary>Bits; 0 when refused anywhere.</summary>
    public double Bits(Test test)
    {
        var dimension = ReadingReader.AnswerDimension(test.Probe);
        var bins = Bins.Borrow();
        var words = new List<string>();
        _runs.TryGetValue(test.Setup, out var prepared);
        var table = IsDirectVolts(test) ? prepared?.Volts : null;
        var (p, q) = table is null ? (-1, -1) : _space.TipsOf(prepared!.Runs[0], test.Probe);
        var (count, ties, tied) = (_points.Length, (Ties?)null, false);
        for (var i = 0; i < _points.Length; i++)
        {
            if (i > 0 && _site[i] != _site[i - 1]) bins.EndSite(_siteTerms[_site[i - 1]]);
            var weight = _points[i].Weight / _total;
            if (table is not null)
            {
                // Most machines join what their standing state does, and many share it.
                if (prepared!.Ties[i] is { } theirs) { if (theirs != ties) tied = (ties = theirs).Tied(p, q); }
                else (ties, tied) = (null, prepared.Runs[i].Tied(p, q));
                var shown = tied ? (p < 0 ? 0 : table[p * count + i]) - (q < 0 ? 0 : table[q * count + i]) : 0.0;
                bins.Add(Centre(shown * (1 + _points[i].Supply), dimension), weight);
                continue;
            }
            var x = Value(test, i);
            if (x.Word == "refused") { bins.Clear(); return 0; }
            if (x.Word is { } word)
            {
                var n = words.IndexOf(word);
                if (n < 0) { n = words.Count; words.Add(word); }
                bins.AddWord(Math.Min(n, Bins.MostWords - 1), weight);
            }
            else bins.Add(Centre(x.Mean, dimension), weight);
        }
        if (_points.Length > 0) bins.EndSite(_siteTerms[_site[^1]]);
        // A machine not as drawn reads as the suspects or a sound one would as a rule, else it may show anything: each answer met elsewhere, or for volts also anything
        // between none and the supply.
        var sound = _space.Quick(test, _space.Healthy(test.Setup)) is { Word: null } healthy ? Centre(healthy.Mean, dimension) : (int?)null;
        var remembered = LiveAndDead.Expected(_readings, test) is { } between ? Centre(between, dimension) : (int?)null;
        bins.SpreadOffSheet(_siteWeight[^1] / _total, _asDrawn, sound, remembered, dimension == Dimension.Volt ? Centre(_space.Circuit.NominalVolts, dimension) : -1);
        // Slips blunt every test alike.
        return Math.Max(0, bins.Information(_siteTerm)) * (1 - 2 * Likelihood.Slip);
    }

    private static double Term(double w) => w > 0 ? w * Math.Log2(w) : 0;

    private int Centre(double v, Dimension d) => Math.Clamp((int)Math.Round(Coordinate(v, d)), -Bins.Half, Bins.Half);

    /// <summary>Stretches the scale so that one unit is about one standard deviation everywhere.</summary>
    internal double Coordinate(double v, Dimension d)
    {
        var (floor, relative) = d == Dimension.Ohm ? (0.3, 0.12) : d == Dimension.Ampere ? (0.05, 0.05) : (_floor, Relative);
        return Math.Sign(v) * Math.Log(1 + Math.Abs(v) * relative / floor) / relative;
    }

    /// <summary>Weights of answers, for one site at a time and in all; one per thread, cleared by use.</summary>
    private sealed class Bins
    {
        public const int Half = 250, MostWords = 16;
        private const int Reach = 2, Size = 2 * (Half + Reach) + 1 + MostWords;

        [ThreadStatic] private static Bins? _mine;

        /// <summary>Normal weights at whole standard deviations.</summary>
        private static readonly double[] Kernel = [0.0545, 0.2442, 0.4026, 0.2442, 0.0545];
        private static readonly double KernelSum = Kernel.Sum(), KernelTerm = Kernel.Sum(Term);

        private readonly double[] _centres = new double[Size], _site = new double[Size], _all = new double[Size];
        private readonly List<int> _atCentre = [], _atSite = [], _atAll = [];
        private double _joint;

        public static Bins Borrow() => _mine ??= new Bins();

        public void Add(int centre, double weight) => Put(_centres, _atCentre, centre + Half + Reach, weight);
        public void AddWord(int word, double weight) => Put(_centres, _atCentre, Size - MostWords + word, weight);

        private static void Put(double[] into, List<int> touched, int bin, double weight)
        {
            if (weight <= 0) return;
            if (into[bin] == 0) touched.Add(bin);
            into[bin] += weight;
        }

        /// <summary>Blurs what the site may show by the meter, and counts it.</summary>
        /// <param name="term">w·log₂ w of the site's whole weight: all that is needed where it can show but one answer.</param>
        public void EndSite(double term)
        {
            if (_atCentre is [var only])
            {
                var w = _centres[only];
                _centres[only] = 0;
                _atCentre.Clear();
                _joint += term;
                if (only >= Size - MostWords) { Put(_all, _atAll, only, w); return; }
                _joint += term * (KernelSum - 1) + w * KernelTerm;
                for (var k = -Reach; k <= Reach; k++) Put(_all, _atAll, only + k, w * Kernel[k + Reach]);
                return;
            }
            foreach (var c in _atCentre)
            {
                var w = _centres[c];
                _centres[c] = 0;
                if (c >= Size - MostWords) Put(_site, _atSite, c, w);
                else for (var k = -Reach; k <= Reach; k++) Put(_site, _atSite, c + k, w * Kernel[k + Reach]);
            }
            _atCentre.Clear();
            foreach (var b in _atSite)
            {
                _joint += Term(_site[b]);
                Put(_all, _atAll, b, _site[b]);
                _site[b] = 0;
            }
            _atSite.Clear();
        }

        /// <param name="asDrawn">Share of it that goes half to the answers met so far and half to that of a sound machine.</param>
        /// <param name="sound">Bin of that answer; null for a word, which then goes to the answers met.</param>
        /// <param name="remembered">Bin of what two points have between them if they are as each was read; most of that share goes there then.</param>
        /// <param name="top">Highest bin that an unknown machine may show besides those met; -1 for none.</param>
        public void SpreadOffSheet(double weight, double asDrawn, int? sound, int? remembered, int top)
        {
            if (weight <= 0) return;
            var (drawn, read) = remembered is null ? (asDrawn, 0) : (asDrawn * (1 - NotAsDrawn.Remembers), weight * asDrawn * NotAsDrawn.Remembers);
            if (remembered is { } was) for (var k = -Reach; k <= Reach; k++) Put(_site, _atSite, was + Half + Reach + k, read * Kernel[k + Reach]);
            var met = 0.0;
            foreach (var b in _atAll) met += _all[b];
            var (alike, likeSound) = (met > 0 ? weight * drawn * (sound is null ? 1 : 0.5) / met : 0, sound is null ? 0 : weight * drawn / 2);
            if (sound is { } at) for (var k = -Reach; k <= Reach; k++) Put(_site, _atSite, at + Half + Reach + k, likeSound * Kernel[k + Reach]);
            foreach (var b in _atAll) Put(_site, _atSite, b, _all[b] * alike);
            var unmet = 0;
            for (var b = 0; b <= top; b++) if (_site[b + Half + Reach] == 0) unmet++;
            var each = weight * (1 - asDrawn) / Math.Max(1, _atSite.Count + unmet);
            for (var b = 0; b <= top; b++) if (_site[b + Half + Reach] == 0) { _joint += Term(each); Put(_all, _atAll, b + Half + Reach, each); }
            foreach (var b in _atSite)
            {
                _joint += Term(_site[b] + each);
                Put(_all, _atAll, b, _site[b] + each);
                _site[b] = 0;
            }
            _atSite.Clear();
        }

        /// <summary>Mutual information in bits; leaves the bins empty.</summary>
        public double Information(double siteTerm)
        {
            var answers = 0.0;
            foreach (var b in _atAll) answers += Term(_all[b]);
            var bits = _joint - siteTerm - answers;
            Clear();
            return bits;
        }

        public void Clear()
        {
            foreach (var b in _atCentre) _centres[b] = 0;
            foreach (var b in _atSite) _site[b] = 0;
            foreach (var b in _atAll) _all[b] = 0;
            _atCentre.Clear();
            _atSite.Clear();
            _atAll.Clear();
            _joint = 0;
        }
    }
}
