namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// How far each joint of an aged string is off the others, as the readings have it so far: the logarithm of its ohms in units of
/// <see cref="Stray"/>, a normal distribution over all of them, corrected by every reading (Kalman, 1960). Two readings behind one joint so
/// share what that joint does. Immutable.
/// </summary>
internal sealed class Joints
{
    /// <summary>Joints of one string age unevenly: half as much again more or less each, as a standard deviation; estimate.</summary>
    public const double Stray = 0.5;

    private readonly double[] _mean;
    private readonly double[] _covariance;

    /// <summary>Nothing known: each strays by itself.</summary>
    public Joints(int count)
    {
        (_mean, _covariance) = (new double[count], new double[count * count]);
        for (var i = 0; i < count; i++)
            _covariance[i * count + i] = 1;
    }

    private Joints(double[] mean, double[] covariance) => (_mean, _covariance) = (mean, covariance);

    public int Count => _mean.Length;

    /// <param name="moves">By how much each joint moves the reading when it is one <see cref="Stray"/> off, V or Ω.</param>
    public double Mean(double[] moves)
    {
        var sum = 0.0;
        for (var i = 0; i < _mean.Length; i++)
            sum += moves[i] * _mean[i];
        return sum;
    }

    /// <summary>Variance of a reading from what is unknown of the joints, V² or Ω².</summary>
    public double Variance(double[] moves)
    {
        var (n, sum) = (_mean.Length, 0.0);
        for (var i = 0; i < n; i++)
        for (var k = 0; k < n; k++)
            sum += moves[i] * moves[k] * _covariance[i * n + k];
        return Math.Max(0, sum);
    }

    /// <summary>A joint has at least this share of the ohms of the others: it is not nothing.</summary>
    private const double Least = 0.02;

    /// <summary>
    /// How much less probable the joints are than the straight line has it, as a logarithm: ohms stray by factors, and one that is shown to
    /// have next to none is far from the rest, where the line sees it two deviations off.
    /// </summary>
    public double Shortfall
    {
        get
        {
            var sum = 0.0;
            foreach (var m in _mean)
                if (m < 0 && Math.Log(Math.Max(1 + Stray * m, Least)) / Stray is var far)
                    sum += (far * far - m * m) / 2;
            return sum;
        }
    }

    /// <param name="off">How far the reading was off what was expected.</param>
    /// <param name="variance">Variance of that, all told.</param>
    /// <param name="belief">How far the reading is believed, 0 to 1.</param>
    public Joints Learn(double[] moves, double off, double variance, double belief)
    {
        var n = _mean.Length;
        var with = new double[n];
        for (var i = 0; i < n; i++)
        for (var k = 0; k < n; k++)
            with[i] += _covariance[i * n + k] * moves[k];
        var (mean, covariance) = ((double[])_mean.Clone(), (double[])_covariance.Clone());
        for (var i = 0; i < n; i++)
        {
            mean[i] += belief * with[i] / variance * off;
            for (var k = 0; k < n; k++)
                covariance[i * n + k] -= belief * with[i] * with[k] / variance;
        }
        return new Joints(mean, covariance);
    }
}
