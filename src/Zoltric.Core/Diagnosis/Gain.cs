using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Diagnosis;

/// <summary>
/// Expected drop of entropy over repair sites from one test, in bits: the mutual information between site and reading, with readings
/// sorted into bins about one standard deviation wide. Source: minimum-entropy probing (de Kleer and Williams, 1987).
/// </summary>
internal sealed class Gain
{
    private readonly FaultSpace _space;
    private readonly IReadOnlyList<Representative> _points;
    private readonly int[] _site;
    private readonly double[] _siteWeight;
    private readonly double _total;
    private readonly double _floor;

    /// <summary>Relative spread assumed when ranking; the evidence itself is weighed exactly.</summary>
    private const double Relative = 0.03;

    public Gain(FaultSpace space, Weights weights)
    {
        _space = space;
        _points = weights.Representatives;
        var number = new Dictionary<string, int>();
        _site = _points.Select(p => number.TryGetValue(space.Sites[p.Suspect], out var n) ? n : number[space.Sites[p.Suspect]] = number.Count).ToArray();
        // The last site is "not on the sheet".
        _siteWeight = new double[number.Count + 1];
        for (var i = 0; i < _points.Count; i++) _siteWeight[_site[i]] += _points[i].Weight;
        _siteWeight[^1] = weights.OffSheet;
        _total = _siteWeight.Sum();
        _floor = 0.0035 * space.Circuit.NominalVolts;
    }

    /// <summary>What the test shows on each representative; null where it is refused.</summary>
    public Predicted?[] Values(Test test)
    {
        var all = new Predicted?[_points.Count];
        for (var i = 0; i < all.Length; i++)
        {
            var x = _space.Quick(test, _points[i]);
            all[i] = x.Word == "refused" ? null : x;
        }
        return all;
    }

    /// <summary>Bits; 0 when refused anywhere.</summary>
    public double Bits(Test test) => Bits(test, Values(test));

    public double Bits(Test test, Predicted?[] values)
    {
        var dimension = ReadingReader.AnswerDimension(test.Probe);
        var joint = new Dictionary<int, double[]>();
        void Put(int bin, int site, double w)
        {
            if (!joint.TryGetValue(bin, out var row)) joint[bin] = row = new double[_siteWeight.Length];
            row[site] += w;
        }

        for (var i = 0; i < values.Length; i++)
        {
            if (values[i] is not { } p) return 0;
            var w = _points[i].Weight / _total;
            if (p.Word is { } word)
            {
                Put(word.GetHashCode(StringComparison.Ordinal) | int.MinValue, _site[i], w);
                continue;
            }
            var x = Coordinate(p.Mean, dimension);
            var centre = (int)Math.Round(x);
            for (var k = -2; k <= 2; k++) Put(centre + k, _site[i], w * Kernel[k + 2]);
        }
        if (_siteWeight[^1] > 0) PutOffSheet(joint, dimension);
        var information = 0.0;
        foreach (var row in joint.Values)
        {
            var sum = row.Sum();
            for (var s = 0; s < row.Length; s++)
                if (row[s] > 0) information += row[s] * Math.Log2(row[s] * _total / (sum * _siteWeight[s]));
        }
        // Slips blunt every test alike.
        return Math.Max(0, information) * (1 - 2 * Likelihood.Slip);
    }

    /// <summary>A machine not as drawn may show anything: each answer met elsewhere, or for volts also anything between none and the supply.</summary>
    private void PutOffSheet(Dictionary<int, double[]> joint, Dimension dimension)
    {
        var off = _siteWeight[^1] / _total;
        var bins = joint.Keys.ToList();
        if (dimension == Dimension.Volt)
        {
            var top = (int)Math.Round(Coordinate(_space.Circuit.NominalVolts, dimension));
            bins.AddRange(Enumerable.Range(0, top + 1).Where(b => !joint.ContainsKey(b)));
        }
        foreach (var bin in bins)
        {
            if (!joint.TryGetValue(bin, out var row)) joint[bin] = row = new double[_siteWeight.Length];
            row[^1] += off / bins.Count;
        }
    }

    /// <summary>Normal weights at whole standard deviations.</summary>
    private static readonly double[] Kernel = [0.0545, 0.2442, 0.4026, 0.2442, 0.0545];

    /// <summary>Stretches the scale so that one unit is about one standard deviation everywhere.</summary>
    private double Coordinate(double v, Dimension d)
    {
        var (floor, relative) = d == Dimension.Ohm ? (0.3, 0.12) : d == Dimension.Ampere ? (0.05, 0.05) : (_floor, Relative);
        return Math.Sign(v) * Math.Log(1 + Math.Abs(v) * relative / floor) / relative;
    }

    public IReadOnlyList<Representative> Points => _points;
}
