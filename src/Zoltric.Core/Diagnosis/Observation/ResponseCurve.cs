using System.Numerics;
using System.Runtime.CompilerServices;
using Zoltric.Core.Diagnosis.Hypotheses;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// What one test shows along one suspect's values, known at anchors. Within one switching state a resistance r added to a linear circuit
/// makes every reading a quotient (a + b·r) / (1 + c·r), so three anchors give all that lies between; borders of a state lie between two
/// close anchors.
/// </summary>
internal sealed class ResponseCurve
{
    private readonly Predicted[] _shown;
    private readonly double[] _at = [];
    private readonly double[] _values = [];
    private readonly Quotient[] _means = [];
    private readonly Quotient[] _shares = [];

    /// <summary>Of an alternating reading the other part of its phasor; empty where the reading is its own mean.</summary>
    private readonly Quotient[] _imaginary = [];

    /// <summary>Values without anything between them; one that stands for all where no reading tells them apart.</summary>
    public ResponseCurve(Predicted[] shown) => _shown = shown;

    /// <param name="at">Places of the anchors along the grid, rising.</param>
    /// <param name="anchorValues">The suspect's value at each anchor.</param>
    /// <param name="fineValues">The suspect's value at every fine point.</param>
    /// <param name="phasors">Of an alternating reading, what it is the length of: along a fault's ohms it may go through nothing and
    /// come back, which its length alone does not show. Null for any other.</param>
    public ResponseCurve(double[] at, double[] anchorValues, Predicted[] shown, double[] fineValues, Complex[]? phasors = null)
    {
        (_at, _shown, _values) = (at, shown, fineValues);
        _means = new Quotient[at.Length - 1];
        var means = phasors is null ? Array.ConvertAll(shown, p => p.Mean) : Array.ConvertAll(phasors, v => v.Real);
        var imaginary = phasors is null ? [] : Array.ConvertAll(phasors, v => v.Imaginary);
        var shares = Array.ConvertAll(shown, p => p.Share);
        if (phasors is not null)
            _imaginary = new Quotient[at.Length - 1];
        for (var i = 0; i + 1 < at.Length; i++)
        {
            if (shown[i].State != shown[i + 1].State)
                continue;
            // The wider neighbour of the same state as the third.
            var before = i > 0 && shown[i - 1].State == shown[i].State ? at[i] - at[i - 1] : 0;
            var after = i + 2 < at.Length && shown[i + 2].State == shown[i].State ? at[i + 2] - at[i + 1] : 0;
            var third =
                before == 0 && after == 0 ? -1
                : before >= after ? i - 1
                : i + 2;
            if (shown[i].Word is null && shown[i + 1].Word is null)
            {
                var by = third >= 0 && shown[third].Word is null ? third : -1;
                _means[i] = Fit(means, i, by);
                if (phasors is not null)
                    _imaginary[i] = Fit(imaginary, i, by);
            }
            bool Joined(int k) => shares[k] >= 0 || shown[k].Measured && !double.IsNaN(shares[k]);
            if (!Joined(i) || !Joined(i + 1))
                continue;
            if (_shares.Length == 0)
                _shares = new Quotient[at.Length - 1];
            _shares[i] = Fit(shares, i, third >= 0 && Joined(third) ? third : -1);
        }

        Quotient Fit(double[] y, int i, int third) =>
            third < 0
                ? Quotient.Through(anchorValues[i], y[i], anchorValues[i + 1], y[i + 1])
                : Quotient.Through(anchorValues[i], y[i], anchorValues[i + 1], y[i + 1], anchorValues[third], y[third]);
    }

    /// <summary>Bytes that it holds by itself, each array with its head.</summary>
    public long HeldBytes =>
        Head
        + (long)_shown.Length * Unsafe.SizeOf<Predicted>()
        + _at.Length * sizeof(double)
        + (long)(_means.Length + _shares.Length + _imaginary.Length) * Unsafe.SizeOf<Quotient>();

    private const int Head = 160;

    /// <summary>True where one prediction stands for all values.</summary>
    public bool IsFlat => _shown.Length == 1;

    /// <summary>Prediction at a fine point.</summary>
    public Predicted At(int fine)
    {
        if (_at.Length == 0)
            return _shown[IsFlat ? 0 : fine];
        var x = (fine + 0.5) / FaultSpace.Fine;
        var i = Array.BinarySearch(_at, x);
        if (i < 0)
            i = ~i - 1;
        i = Math.Clamp(i, 0, _at.Length - 2);
        var t = (x - _at[i]) / (_at[i + 1] - _at[i]);
        ref readonly var a = ref _shown[i];
        ref readonly var b = ref _shown[i + 1];
        var near = t < 0.5 ? a : b;
        if (a.State != b.State)
            return near;
        // A limit that is clipped far outside is no quotient: where the fit has a pole, the nearer anchor stands.
        var share =
            _shares.Length > 0 && _shares[i].IsSet && _shares[i].At(_values[fine]) is var fitted && double.IsFinite(fitted)
                ? fitted
                : near.Share;
        if (!_means[i].IsSet || Mean(i, fine) is var mean && !double.IsFinite(mean))
            return near with { Share = share };
        // How far the mean moves to the next fine point is unknown within the step.
        var next = fine + 1 < _values.Length ? fine + 1 : fine - 1;
        var grain = (Mean(i, next) - mean) / 3.46;
        var spread = Between(a.Spread, b.Spread);
        return near with
        {
            Mean = mean,
            Spread = Math.Sqrt(spread * spread + grain * grain),
            Share = share,
            Beat = (Between(a.Beat.Below, b.Beat.Below), Between(a.Beat.Above, b.Beat.Above)),
        };

        double Between(double x, double y) => x + (y - x) * t;
    }

    private double Mean(int stretch, int fine)
    {
        var real = _means[stretch].At(_values[fine]);
        return _imaginary.Length == 0 ? real : double.Hypot(real, _imaginary[stretch].At(_values[fine]));
    }
}

/// <summary>y = y1 + d / (p·d + q) with d = x - x1: the bilinear form of a linear network in one of its resistances (Bode, 1945).</summary>
internal readonly record struct Quotient
{
    private readonly double _x1,
        _y1,
        _p,
        _q;

    private Quotient(double x1, double y1, double p, double q) => (_x1, _y1, _p, _q, IsSet) = (x1, y1, p, q, true);

    public bool IsSet { get; }

    public double At(double x) => x == _x1 ? _y1 : _y1 + (x - _x1) / (_p * (x - _x1) + _q);

    /// <summary>A straight line.</summary>
    public static Quotient Through(double x1, double y1, double x2, double y2) =>
        new(x1, y1, 0, Math.Abs(y2 - y1) < Least ? double.PositiveInfinity : (x2 - x1) / (y2 - y1));

    /// <summary>Changes below this are none, V, A or Ω.</summary>
    private const double Least = 1e-9;

    public static Quotient Through(double x1, double y1, double x2, double y2, double x3, double y3)
    {
        var (d2, d3, u2, u3) = (x2 - x1, x3 - x1, y2 - y1, y3 - y1);
        if (Math.Abs(u2) < Least || Math.Abs(u3) < Least)
            return Through(x1, y1, x2, y2);
        // d/u = p·d + q at both.
        var p = (d3 / u3 - d2 / u2) / (d3 - d2);
        var q = d2 / u2 - p * d2;
        // A pole between x1 and x2 would not be a network of resistances: then the line must do.
        return q * (p * d2 + q) > 0 ? new Quotient(x1, y1, p, q) : Through(x1, y1, x2, y2);
    }
}
