namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>A reading as it is foreseen but for what the readings of a machine share.</summary>
/// <param name="Mean">V, A or Ω, with the supply and the parts as stated.</param>
/// <param name="Variance">Of the reading by itself: meter and parts of its own, square of the unit.</param>
/// <param name="Gain">How far it moves when the supply is off by its whole volts.</param>
/// <param name="Shared">How far it moves when the parts common to such readings are one standard deviation off.</param>
/// <param name="Drift">Variance of how far the supply has moved since the reading before, relative.</param>
/// <param name="Moves">How often it has moved much further since: a battery that sags with the key on, and is put on charge.</param>
/// <param name="OfMains">True for what goes with the mains and not with what a supply makes of them.</param>
/// <param name="OfRatio">How much of its gain goes with what a transformer makes of the mains, 0 to 1.</param>
internal readonly record struct Foreseen(
    double Mean,
    double Variance,
    double Gain,
    double Shared,
    double Drift,
    double Moves = 0,
    bool OfMains = false,
    double OfRatio = 0
)
{
    /// <summary>How far a supply that has moved is from where it was, relative, as a standard deviation; estimate.</summary>
    private const double MovesBy = 0.015;

    /// <summary>The same reading, of a supply that has moved.</summary>
    public Foreseen Moved => this with { Drift = Drift + MovesBy * MovesBy };
}

/// <summary>
/// What is unknown of one machine and common to its readings, as one suspect sees it: how far the supply is off, relative, and how far the
/// parts are off, in their own standard deviations. A normal distribution of the two, corrected by every reading (Kalman, 1960), and beside
/// it what they would be if the doubtful one of the readings were a slip, with the share of that.
/// </summary>
/// <remarks>
/// Without the second, one slipped reading that a supply somewhat off could explain teaches that supply, and every honest reading after it
/// contradicts. Source: sums of normal distributions, Alspach and Sorenson (1972), cut to the two heaviest.
/// </remarks>
internal struct Unknowns(double supplyVariance, double mainsVariance)
{
    /// <summary>How far the mains are off, relative, and its variance; a regulated supply behind them does not follow.</summary>
    private float _mains;
    private float _mainsVariance = (float)mainsVariance;

    /// <summary>
    /// How far a transformer's secondary is above its stated volts, relative, its variance, and how it goes with that of the mains. Stated
    /// volts are those at full load with most makers, and with little load there are 3 to 13 % more; common practice, no source.
    /// </summary>
    private float _ratio = RatioMean;
    private float _ratioVariance = RatioSpread * RatioSpread;
    private float _together;

    private const float RatioMean = 0.03f,
        RatioSpread = 0.05f;

    private Learnt _likelier = new(0, 0, (float)supplyVariance, 0, 1);
    private Learnt _other;
    private float _share;

    /// <summary>An account that holds less than this is forgotten.</summary>
    private const double LeastShare = 1e-3;

    /// <summary>For a joint that comes and goes: how likely it was open at the last reading.</summary>
    public double Open
    {
        readonly get => _open;
        set => _open = (float)value;
    }

    private float _open = 0.5f;

    /// <summary>How often a part put in mends its own fault; estimate.</summary>
    private const double NewPartGood = 0.9,
        NewFuseGood = 0.997;

    /// <summary>
    /// For a fault that was mended: how likely it is gone. The new part may be bad too, or it was its plug; but it is one or the other,
    /// for all
    /// readings alike.
    /// </summary>
    public double Mended
    {
        readonly get => _mended;
        private set => _mended = (float)value;
    }

    private float _mended;

    /// <summary>A part was put in, or a joint mended, once more. A new fuse is hardly ever open; one that opens was blown.</summary>
    public void Renew(bool isFuse) => Mended += (1 - Mended) * (isFuse ? NewFuseGood : NewPartGood);

    /// <summary>Density of a reading of which both are known: with the fault gone, and with it still there; learns which it is.</summary>
    public double Read(double gone, double still)
    {
        var all = Mended * gone + (1 - Mended) * still;
        if (all > 0)
            Mended = Mended * gone / all;
        return all;
    }

    /// <summary>How often a fuse that has gone is put right again by the next reading without a word of it; estimate.</summary>
    private const float PutRight = 0.08f;

    private float _putRight = PutRight;

    /// <summary>
    /// Density of a reading of which both are known: with the fuse whole that the fault has blown before, and with it open; learns whether
    /// it is put right each time. What fits the open one only is left to the blown fuse with its cause.
    /// </summary>
    public double ReadWhole(double whole, double open)
    {
        var left = Math.Min(whole, open);
        var all = _putRight * whole + (1 - _putRight) * left;
        if (all > 0)
            _putRight = (float)(_putRight * whole / all);
        return all;
    }

    /// <summary>For an aged string: its joints; null before the first reading that they move.</summary>
    public Joints? Joints { get; set; }

    /// <summary>How far the supply is off its stated volts, relative.</summary>
    public readonly double Supply => _likelier.Supply;

    /// <summary>Both together as a share of supply-side volts; parts move them by about 1 % (estimate).</summary>
    public readonly double Off => _likelier.Supply + 0.01 * _likelier.Parts;

    /// <summary>How far the mains are off their stated volts, relative.</summary>
    public readonly double Mains => _mains;

    /// <summary>How far the secondary of a transformer is above its stated volts with the mains as stated, relative.</summary>
    public readonly double Ratio => _ratio;

    /// <summary>How far a reading is moved by what has been learnt, and the variance of that.</summary>
    public readonly double Mean(in Foreseen f) => f.OfMains ? f.Gain * (_mains + f.OfRatio * _ratio) : _likelier.Mean(f);

    public readonly double Variance(in Foreseen f) =>
        f.OfMains ? f.Gain * f.Gain * OfMains(f) + f.Shared * f.Shared : _likelier.Variance(f);

    private readonly double OfMains(in Foreseen f) => _mainsVariance + f.Drift + f.OfRatio * (2 * _together + f.OfRatio * _ratioVariance);

    /// <summary>Density of a reading; learns from it.</summary>
    /// <param name="honest">Share of readings that are no slips.</param>
    /// <param name="flat">Share of those that are, times their density at this value.</param>
    public double Read(in Foreseen f, double value, double honest, double flat)
    {
        if (f.OfMains)
            return ReadMains(f, value, honest, flat);
        // What can teach nothing is not weighed both ways: it would drop the account of an earlier slip.
        if (f.Gain * f.Gain * _likelier.SupplyVariance + f.Shared * f.Shared < Negligible * f.Variance)
            return honest * _likelier.Density(f, value) + flat;
        Account best = default,
            second = default;
        var kept = Weigh(_likelier, 1 - _share, f, value, honest, flat, ref best, ref second);
        if (_share > 0)
            kept += Weigh(_other, _share, f, value, honest, flat, ref best, ref second);
        var all = best.Weight + second.Weight;
        _share = second.Weight > LeastShare * all ? (float)(second.Weight / all) : 0;
        if (_share > 0)
            _other = second.Learnt(value);
        _likelier = best.Learnt(value);
        return kept;
    }

    /// <summary>Density of a reading that goes with the mains; they are learnt as far as the reading is believed.</summary>
    private double ReadMains(in Foreseen f, double value, double honest, double flat)
    {
        var (off, variance) = (value - f.Mean - Mean(f), f.Variance + Variance(f));
        var inlier = honest * Density(off, variance);
        var believed = inlier / (inlier + flat) * f.Gain / variance;
        var mains = _mainsVariance + f.Drift + f.OfRatio * _together;
        var ratio = _together + f.OfRatio * _ratioVariance;
        _mains += (float)(believed * mains * off);
        _ratio += (float)(believed * ratio * off);
        _mainsVariance = (float)(_mainsVariance + f.Drift - believed * f.Gain * mains * mains);
        _together = (float)(_together - believed * f.Gain * mains * ratio);
        _ratioVariance = (float)(_ratioVariance - believed * f.Gain * ratio * ratio);
        return inlier + flat;
    }

    /// <summary>Less than this of a reading's own variance comes from what readings share.</summary>
    private const double Negligible = 0.0025;

    /// <summary>Within so many standard deviations a supply that has moved explains nothing better.</summary>
    private const double NearEnough = 2;

    /// <summary>Density of a reading by one account, times its share; enters what may follow from it.</summary>
    private static double Weigh(
        in Learnt from,
        double share,
        in Foreseen f,
        double value,
        double honest,
        double flat,
        ref Account best,
        ref Account second
    )
    {
        var (off, variance) = (value - f.Mean - from.Mean(f), f.Variance + from.Variance(f));
        var moves = off * off < NearEnough * NearEnough * variance ? 0 : f.Moves;
        var inlier = (1 - moves) * honest * Density(off, variance);
        Enter(new Account(from, true, share * inlier, f), ref best, ref second);
        Enter(new Account(from, false, share * flat, f), ref best, ref second);
        if (moves == 0)
            return share * (inlier + flat);
        var followed = moves * honest * from.Density(f.Moved, value);
        Enter(new Account(from, true, share * followed, f.Moved), ref best, ref second);
        return share * (inlier + followed + flat);
    }

    private static double Density(double off, double variance) => Math.Exp(-0.5 * off * off / variance) / Math.Sqrt(2 * Math.PI * variance);

    private static void Enter(in Account account, ref Account best, ref Account second)
    {
        if (account.Weight > best.Weight)
            (best, second) = (account, best);
        else if (account.Weight > second.Weight)
            second = account;
    }

    /// <summary>One account of the readings: what it started from, whether it believes the last one, and its weight.</summary>
    /// <param name="As">How the reading was foreseen by it.</param>
    private readonly record struct Account(Learnt From, bool Believes, double Weight, Foreseen As)
    {
        public Learnt Learnt(double value) =>
            Believes ? From.Corrected(As, value) : From with { SupplyVariance = (float)(From.SupplyVariance + As.Drift) };
    }

    /// <summary>A normal distribution of supply and parts; small, since there are two for every value of every fault.</summary>
    private readonly record struct Learnt(float Supply, float Parts, float SupplyVariance, float Covariance, float PartsVariance)
    {
        public double Mean(in Foreseen f) => f.Gain * Supply + f.Shared * Parts;

        public double Variance(in Foreseen f) =>
            f.Gain * f.Gain * (SupplyVariance + f.Drift) + 2 * f.Gain * f.Shared * Covariance + f.Shared * f.Shared * PartsVariance;

        public double Density(in Foreseen f, double value) => Unknowns.Density(value - f.Mean - Mean(f), f.Variance + Variance(f));

        public Learnt Corrected(in Foreseen f, double value)
        {
            var (variance, off) = (f.Variance + Variance(f), value - f.Mean - Mean(f));
            var now = SupplyVariance + f.Drift;
            var (s, p) = (f.Gain * now + f.Shared * Covariance, f.Gain * Covariance + f.Shared * PartsVariance);
            return new Learnt(
                (float)(Supply + s / variance * off),
                (float)(Parts + p / variance * off),
                (float)(now - s * s / variance),
                (float)(Covariance - s * p / variance),
                (float)(PartsVariance - p * p / variance)
            );
        }
    }
}
