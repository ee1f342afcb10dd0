using System.Numerics;
using System.Runtime.InteropServices;
using Zoltric.Core.Diagnosis.Posterior;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// Weights of the answers to one test, for one site at a time and in all, in bins about one standard deviation wide. One per thread; empty
/// again after use.
/// </summary>
internal sealed class AnswerHistogram
{
    /// <summary>AnswerHistogram to each side of nothing, and words apart from them.</summary>
    public const int Half = 250,
        MostWords = 16;
    private const int Reach = 2,
        Numbers = 2 * (Half + Reach) + 1,
        Size = Numbers + MostWords;

    [ThreadStatic]
    private static AnswerHistogram? _mine;

    /// <summary>Normal weights at whole standard deviations.</summary>
    private static readonly double[] Kernel = [0.0545, 0.2442, 0.4026, 0.2442, 0.0545];
    private static readonly double KernelSum = Kernel.Sum(),
        KernelTerm = Kernel.Sum(Term);

    /// <summary>What the site may show and what all may, as the machine makes it; and the same as a meter blurs it.</summary>
    private readonly Bin _centres = new(),
        _allCentres = new(),
        _site = new(),
        _all = new();

    /// <summary>Weights of answer and site together, whose terms are summed in one go; what of that sum is known without.</summary>
    private readonly List<double> _shares = [];
    private double _joint;

    /// <summary>That of this thread, empty: work that was cut off may have left it half filled.</summary>
    public static AnswerHistogram Borrow()
    {
        var mine = _mine ??= new AnswerHistogram();
        mine.Clear();
        return mine;
    }

    /// <summary>w·log₂ w, of which information is made.</summary>
    public static double Term(double w) => w > 0 ? w * Math.Log2(w) : 0;

    public void Add(int centre, double weight) => _centres.Add(centre + Half + Reach, weight);

    public void AddWord(int word, double weight) => _centres.Add(Numbers + word, weight);

    /// <summary>Blurs what the site may show by the meter, and counts it.</summary>
    /// <param name="term">w·log₂ w of the site's whole weight: all that is needed where it can show but one answer.</param>
    public void EndSite(double term)
    {
        foreach (var c in _centres.Filled)
            _allCentres.Add(c, _centres[c]);
        if (_centres.Filled.Length == 1)
        {
            var only = _centres.Filled[0];
            _joint += only >= Numbers ? term : term * KernelSum + _centres[only] * KernelTerm;
        }
        else
        {
            Blur(_centres, _site);
            foreach (var b in _site.Filled)
                _shares.Add(_site[b]);
            _site.Clear();
        }
        _centres.Clear();
    }

    private static void Blur(Bin from, Bin to)
    {
        foreach (var c in from.Filled)
            if (c >= Numbers)
                to.Add(c, from[c]);
            else
                Blur(c, from[c], to);
    }

    private static void Blur(int centre, double weight, Bin to)
    {
        for (var k = -Reach; k <= Reach; k++)
            to.Add(centre + k, weight * Kernel[k + Reach]);
    }

    /// <summary>Counts the site "not on the sheet", after all others.</summary>
    /// <param name="asDrawn">Share of it that goes half to the answers met so far and half to that of a sound machine.</param>
    /// <param name="sound">Bin of that answer; null for a word, which then goes to the answers met.</param>
    /// <param name="remembered">Bin of what two points have between them if they are as each was read; most of that share goes there
    /// then.</param>
    /// <param name="top">Highest bin that an unknown machine may show besides those met; -1 for none.</param>
    public void SpreadOffSheet(double weight, double asDrawn, int? sound, int? remembered, int top)
    {
        Blur(_allCentres, _all);
        if (weight <= 0)
            return;
        var (drawn, read) = remembered is null
            ? (asDrawn, 0)
            : (asDrawn * (1 - NotAsDrawn.Remembers), weight * asDrawn * NotAsDrawn.Remembers);
        if (remembered is { } was)
            Blur(was + Half + Reach, read, _site);
        var met = 0.0;
        foreach (var b in _all.Filled)
            met += _all[b];
        var (alike, likeSound) = (met > 0 ? weight * drawn * (sound is null ? 1 : 0.5) / met : 0, sound is null ? 0 : weight * drawn / 2);
        if (sound is { } at)
            Blur(at + Half + Reach, likeSound, _site);
        foreach (var b in _all.Filled)
            _site.Add(b, _all[b] * alike);
        var unmet = 0;
        for (var b = 0; b <= top; b++)
            if (_site[b + Half + Reach] == 0)
                unmet++;
        var each = weight * (1 - asDrawn) / Math.Max(1, _site.Filled.Length + unmet);
        _joint += unmet * Term(each);
        if (each > 0)
            for (var b = 0; b <= top; b++)
                if (_site[b + Half + Reach] == 0)
                    _all.Add(b + Half + Reach, each);
        foreach (var b in _site.Filled)
        {
            _shares.Add(_site[b] + each);
            _all.Add(b, _site[b] + each);
        }
        _site.Clear();
    }

    /// <summary>Mutual information of site and answer in bits; leaves the bins empty.</summary>
    /// <param name="siteTerm">Sum of w·log₂ w over the sites.</param>
    public double Information(double siteTerm)
    {
        var joint = _joint + Terms(CollectionsMarshal.AsSpan(_shares));
        _shares.Clear();
        foreach (var b in _all.Filled)
            _shares.Add(_all[b]);
        return joint - siteTerm - Terms(CollectionsMarshal.AsSpan(_shares));
    }

    /// <summary>Sum of w·log₂ w of weights above 0.</summary>
    private static double Terms(ReadOnlySpan<double> weights)
    {
        var (i, sum) = (0, Vector<double>.Zero);
        for (; i <= weights.Length - Vector<double>.Count; i += Vector<double>.Count)
        {
            var w = new Vector<double>(weights[i..]);
            sum += w * Vector.Log2(w);
        }
        var all = Vector.Sum(sum);
        for (; i < weights.Length; i++)
            all += Term(weights[i]);
        return all;
    }

    private void Clear()
    {
        foreach (var bin in (ReadOnlySpan<Bin>)[_centres, _allCentres, _site, _all])
            bin.Clear();
        _shares.Clear();
        _joint = 0;
    }

    /// <summary>A weight by bin, of which few are filled.</summary>
    private sealed class Bin
    {
        private readonly double[] _weights = new double[Size];
        private readonly int[] _filled = new int[Size];
        private int _count;

        public double this[int at] => _weights[at];

        /// <summary>AnswerHistogram with a weight, in the order in which they came.</summary>
        public ReadOnlySpan<int> Filled => _filled.AsSpan(0, _count);

        public void Add(int at, double weight)
        {
            if (weight <= 0)
                return;
            if (_weights[at] == 0)
                _filled[_count++] = at;
            _weights[at] += weight;
        }

        public void Clear()
        {
            foreach (var at in Filled)
                _weights[at] = 0;
            _count = 0;
        }
    }
}
