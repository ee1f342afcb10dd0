using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;

namespace Zoltric.Core.Diagnosis.Observation;

/// <summary>
/// How likely a result is under a prediction. A number is normal around the prediction with meter and tolerance spread, plus a flat tail
/// for slipped probes and misread dials; a word is right unless someone misheard or misread. Shares marked as estimates.
/// </summary>
internal sealed class Likelihood(Circuit circuit, MeterClass meter)
{
    /// <summary>Share of readings that are slips; estimate.</summary>
    public const double Slip = 0.03;

    /// <summary>A function seen to work is seldom misjudged, and a symptom confirmed hardly ever; estimates.</summary>
    public const double SeenSlip = 0.006;
    public const double SymptomSlip = 0.002;
    public const double DoubtfulSlip = 0.35;

    /// <summary>What the supply is off its stated volts before anything is read, as a standard deviation; estimate.</summary>
    public const double BatterySpread = 0.025;
    public const double SupplySpread = 0.012;

    /// <summary>
    /// What the mains are off their stated volts, as a standard deviation, and how far they move from one reading to the next: IEC 60038
    /// and EN 50160 allow ten per cent either way.
    /// </summary>
    private const double MainsSpread = 0.04,
        MainsDrift = 0.006;

    /// <summary>
    /// How far the supply moves from one reading to the next, as a standard deviation: a battery runs down with the key on and recovers;
    /// estimate.
    /// </summary>
    public const double Drift = 0.002;

    /// <summary>
    /// How often a battery has moved further than that since the reading before: the key was left on, a load came in, it was put on charge
    /// or stood; estimate.
    /// </summary>
    private const double SupplyMoves = 0.2;

    private readonly double _nominal = circuit.NominalVolts;

    public double SupplySigma { get; } = circuit.Sources.FirstOrDefault()?.Kind is Circuits.Kinds.Battery ? BatterySpread : SupplySpread;

    /// <summary>What a machine's readings share before any of them.</summary>
    public Unknowns Unlearnt => new(SupplySigma * SupplySigma, MainsSpread * MainsSpread);

    /// <summary>The same where some of it has been learnt.</summary>
    public Unknowns HalfLearnt => new(SupplySigma * SupplySigma / 4, MainsSpread * MainsSpread / 4);

    public MeterClass Meter => meter;

    /// <summary>How often what runs where it should not is simply said to work; estimate.</summary>
    private const double SaidWorks = 0.7;

    /// <summary>How often a load that runs weakly where it should not is said to be stuck on; estimate.</summary>
    private const double WeakSaidStuckOn = 0.4;

    /// <summary>
    /// Share by which part tolerances of ± 10 % and the supply move a load's current, and by which opinions of what is weak differ above
    /// the border; estimates.
    /// </summary>
    private const double LoadStray = 0.06,
        CalledWeak = 0.1;

    /// <summary>Share of what it always had at which every other person misses something, and how far that differs; estimates.</summary>
    private const double MissedShare = 0.9,
        MissedStray = 0.033;

    /// <summary>How often what works weakly is called dead; estimate.</summary>
    private const double WeakSaidDead = 0.35;

    /// <summary>How often a figure jumps though nothing on the machine does: a bad tip; estimate.</summary>
    private const double BadTip = 0.006;

    /// <summary>
    /// How far the lowest figure of a watch lies below a steady one, as a share of it: loads that start, engines that crank; estimate.
    /// </summary>
    private const double Restless = 0.25;

    /// <summary>The same where outputs pulse, and what they draw is reckoned with; estimate.</summary>
    private const double PulsedRestless = 0.08;

    /// <summary>Ohms that stand for over limit; estimate.</summary>
    private const double Open = 1e6;

    /// <summary>
    /// Whether what was watched may be a joint that opens and closes: what the sound and the open machine show differ, and the figures seen
    /// lie between them or about them.
    /// </summary>
    /// <param name="nominalVolts">Of the machine, V.</param>
    public static bool MayJump(ReadingResult result, in Predicted sound, in Predicted open, double nominalVolts)
    {
        if (result is ReadingResult.Extreme e)
            result = e.Lowest
                ? new ReadingResult.Jumps(e.Value, double.MaxValue, e.Dimension)
                : new ReadingResult.Jumps(double.MinValue, e.Value, e.Dimension);
        if (result is not ReadingResult.Jumps { Low: var low, High: var high, Dimension: var d })
            return open.Word != sound.Word;
        double Of(in Predicted p) => p.Word is null ? p.Mean : Open;
        var (a, b) = (Math.Min(Of(sound), Of(open)), Math.Max(Of(sound), Of(open)));
        var apart = d == Dimension.Volt ? 0.05 * nominalVolts : 0.3 * Math.Max(Math.Abs(a), 0.5);
        if (!(b - a > apart))
            return false;
        if (double.IsNaN(low))
            return true;
        // Volts that go far beyond both are no matter of that joint: the posts of a battery that sag while a lead behind them comes and
        // goes.
        var about = AboutShare * nominalVolts;
        if (d == Dimension.Volt && (low > double.MinValue && low < a - about || high < double.MaxValue && high > b + about))
            return false;
        return low < b - 0.2 * Math.Min(b - a, Math.Abs(b)) && high > a + 0.2 * Math.Min(b - a, Math.Abs(a) + 1);
    }

    /// <summary>How far beyond what it goes between a jumping figure is seen: the supply is off, the meter lags; estimate.</summary>
    private const double AboutShare = 0.15;

    /// <summary>
    /// How often what is steadily weak, and what is steadily works or dead, is said to flicker: a low supply makes relays hesitate;
    /// estimates.
    /// </summary>
    private const double WeakFlickers = 0.02,
        SteadyFlickers = 0.004;

    /// <summary>
    /// How often a meter shows over limit at so many ohms: in a low range it does from two kilo-ohms on, by itself at megohms.
    /// Even in the logarithm between; estimates.
    /// </summary>
    private static double OverRange(double ohms) =>
        MostOverRange * Math.Clamp(Math.Log(Math.Max(ohms, 1) / LowRange) / Math.Log(Open / LowRange), 0, 1);

    private const double LowRange = 2000,
        MostOverRange = 0.5;

    /// <summary>Standard deviation of the meter alone at a value.</summary>
    public double MeterSigma(double value, Dimension d) => meter.Band(value, d) / 2;

    /// <summary>Probability (density for numbers) of the result; updates what is known of the supply under this prediction.</summary>
    /// <param name="unknowns">What all readings of the job share, in and out.</param>
    public double Evaluate(ReadingResult result, in Predicted p, Dimension dimension, double slip, ref Unknowns unknowns)
    {
        if (p is { EitherWay: true, Word: null })
            result = TurnedTo(result, p.Mean);
        if (dimension == Dimension.Volt && p is { EitherWay: false, Word: null, OfMains: false } && LacksSign(result, p.Mean))
        {
            var written = unknowns;
            var turned = Unsigned * Plain(TurnedTo(result, p.Mean), p, dimension, slip, ref unknowns);
            var asWritten = (1 - Unsigned) * Plain(result, p, dimension, slip, ref written);
            if (asWritten > turned)
                unknowns = written;
            return turned + asWritten;
        }
        return Plain(result, p, dimension, slip, ref unknowns);
    }

    /// <summary>How often a drop below the reference, or with the red tip on the lower side, is written without its minus;
    /// estimate.</summary>
    private const double Unsigned = 0.25;

    /// <summary>A figure above nothing where one that far below is predicted that no meter shows it as nothing.</summary>
    private bool LacksSign(ReadingResult result, double mean) =>
        mean < -NoSwing * _nominal && result is (ReadingResult.Number { Value: > 0 } or ReadingResult.Range { Low: > 0 });

    /// <summary>The same with the sign that was written.</summary>
    private double Plain(ReadingResult result, in Predicted p, Dimension dimension, double slip, ref Unknowns unknowns)
    {
        switch (result)
        {
            case ReadingResult.Word w:
                return Word(w.Answer, p, slip);
            case ReadingResult.OverLimit:
                // More than any ohmmeter shows is foretold for an insulation tester only, and as good to it.
                return p.Word == Answer.OverLimit || p.Word is null && dimension == Dimension.Ohm && p.Mean > Metering.Meter.MostOhms
                        ? 1 - slip
                    : p.Word is null ? slip * 0.3 + (1 - slip) * (p.AtWill > 0 ? ElectronicsOver : OverRange(p.Mean))
                    : slip * 0.3;
            case ReadingResult.Jumps j:
                return p.Swing > 0 && Spans(j, p) ? SwingSaid : BadTip;
            case ReadingResult.Extreme x:
            {
                if (p.Word is not null)
                    return slip * 0.5;
                var own = Own(p, dimension, ref unknowns);
                var (m, s) = (own.Mean + unknowns.Mean(own), Math.Sqrt(own.Variance + unknowns.Variance(own)));
                var beyond = (x.Lowest ? 1 : -1) * (m - x.Value);
                // Where outputs pulse, a watch sees what is drawn while they are on; what goes beyond that has to be explained.
                var (reach, pulses) = (x.Lowest ? p.Beat.Below : p.Beat.Above, p.Beat != default);
                var restless = pulses ? PulsedRestless : Restless;
                var quiet = Math.Exp(-Math.Max(0, beyond - reach) / (restless * Math.Abs(m) + 0.02 * _nominal));
                return (1 - slip) * Normal.Below(beyond / s + 1) * quiet + slip * 0.3;
            }
            case ReadingResult.Range r:
            {
                if (p.Word is not null)
                    return slip * 0.5;
                var own = Own(p, dimension, ref unknowns);
                var (m, s) = (own.Mean + unknowns.Mean(own), Math.Sqrt(own.Variance + unknowns.Variance(own)));
                if (p.Ghost)
                    s += p.OfMains ? CouplesUpTo / 2 * _mains : GhostShare * _nominal;
                var inside = Normal.Below((r.High - m) / s) - Normal.Below((r.Low - m) / s);
                return (1 - slip) * Math.Max(0, inside) + slip * Math.Min(1, (r.High - r.Low) / Span(dimension) + 0.05);
            }
            case ReadingResult.Number n:
            {
                var flat = slip * Slipped(n.Value, dimension, p.OfMains);
                if (p.Word is not null)
                    return flat;
                if (p.Ghost)
                    return (1 - slip) * Ghost(n.Value, p, dimension) + flat;
                var own = Own(p, dimension, ref unknowns);
                if (Rounded(n.Value, dimension) is > 0 and var rounded)
                    own = own with { Variance = own.Variance + rounded * rounded };
                var (off, variance) = (n.Value - own.Mean - unknowns.Mean(own), own.Variance + unknowns.Variance(own));
                // What strays further than meter and tolerance say teaches nothing of the supply, and is no slip either.
                // The joints of an aged string have a freedom of their own.
                var near = 1 - slip;
                if (p.Swing > NoSwing * (dimension == Dimension.Volt ? _nominal : Math.Abs(p.Mean)))
                    return flat
                        + near
                            * SwingUnsaid
                            * Normal.Density((n.Value - p.Mean) / (p.Swing + Math.Sqrt(own.Variance)))
                            / (p.Swing + Math.Sqrt(own.Variance));
                if (p.Often > 0)
                {
                    flat += near * MotorShare * LogNormal(n.Value, own.Mean * p.Often, p.OftenLogSpread);
                    near *= 1 - MotorShare;
                }
                if (
                    dimension == Dimension.Volt
                    && p.Spread > MostlyLeak * Math.Abs(p.Mean)
                    && Math.Abs(p.Mean) < MostLeakVolts * _nominal
                    && double.Hypot(MeterSigma(0, dimension), Rounded(n.Value, dimension)) is var none
                    && Math.Abs(p.Mean) > 2 * none
                )
                {
                    flat += near * LeaksNothing * Normal.Density(n.Value / none) / none;
                    near *= 1 - LeaksNothing;
                }
                if (p.AtWill > 0)
                {
                    flat += near * ElectronicsAtWill * LogNormal(n.Value, own.Mean, p.AtWill);
                    near *= 1 - ElectronicsAtWill;
                }
                if (p.Joints is null)
                {
                    flat += near * Astray(n.Value, own.Mean + unknowns.Mean(own), p, dimension);
                    near *= 1 - AstrayShare;
                }
                if (p.Joints is not { } moves)
                    return unknowns.Read(own, n.Value, near, flat);
                // They learn from the reading as far as it is believed.
                var inlier = near * Normal.Density(off / Math.Sqrt(variance)) / Math.Sqrt(variance);
                var learnt = unknowns.Joints!.Learn(moves, off, variance, inlier / (inlier + flat));
                // As far as it asks of one joint what joints do not do, it is less likely; as a slip it is as likely as before.
                var less = 1 - Math.Exp(Math.Min(0, unknowns.Joints.Shortfall - learnt.Shortfall));
                var likelihood = Math.Max(flat, unknowns.Read(own, n.Value, near, flat) - less * inlier);
                unknowns.Joints = learnt;
                return likelihood;
            }
            default:
                return 1;
        }
    }

    /// <summary>
    /// How often who reads a figure that jumps says so, and how often one figure is written all the same; a swing below so much of nominal
    /// or of the figure itself is not seen. Estimates.
    /// </summary>
    private const double SwingSaid = 0.5,
        SwingUnsaid = 0.12,
        NoSwing = 0.02;

    /// <summary>Whether what was seen to jump meets what goes between two figures.</summary>
    private static bool Spans(ReadingResult.Jumps seen, in Predicted p) =>
        double.IsNaN(seen.Low) || seen.Low < p.Mean + p.Swing && seen.High > p.Mean - p.Swing;

    /// <summary>What was read without regard to which lead was red, with the sign of what is predicted.</summary>
    private static ReadingResult TurnedTo(ReadingResult result, double mean) =>
        result switch
        {
            ReadingResult.Number n when n.Value * mean < 0 => n with { Value = -n.Value },
            ReadingResult.Range { Low: var low, High: var high } r when (low + high) * mean < 0 => r with { Low = -high, High = -low },
            _ => result,
        };

    /// <summary>
    /// Share of honest readings that stray further than meter and tolerance account for, and by how much, as a share of the value: a supply
    /// that sags or recovers between two readings, a tip held loosely, a part that is warm. A second, wider share; and a battery on charge,
    /// which reads high everywhere. Estimates.
    /// </summary>
    private const double Strays = 0.08,
        StraysFar = 0.03,
        OnCharge = 0.015;
    private const double AstrayShare = Strays + StraysFar + OnCharge;
    private const double StrayBy = 0.05,
        StrayFarBy = 0.1,
        ChargeBy = 0.08,
        ChargeSpread = 0.04;

    /// <summary>
    /// The same at a point that should have nothing, as a share of nominal volts; in ohms what tips and leads add; and what a leakage clamp
    /// sees of its neighbours, A.
    /// </summary>
    private const double StrayVolts = 0.01,
        StrayOhms = 0.3,
        StrayLeak = 0.001;

    /// <summary>How often a motor reads as its copper does, or stands on two phases; estimate.</summary>
    private const double MotorShare = 0.65;

    /// <summary>Density of a positive value that strays in the logarithm about another.</summary>
    private static double LogNormal(double value, double about, double spread) =>
        value > 0 && about > 0 ? Normal.Density(Math.Log(value / about) / spread) / (spread * value) : 0;

    /// <summary>
    /// From this many ohms on a reading goes through electronics or damp, and only its order of size says something; estimate.
    /// </summary>
    private const double Electronics = 5e3,
        ElectronicsLogSpread = 0.9;

    /// <summary>
    /// How often ohms through transistors and diodes are none of what the sheet makes of them, and how often the meter shows over limit
    /// there; estimates.
    /// </summary>
    private const double ElectronicsAtWill = 0.7,
        ElectronicsOver = 0.4;

    /// <summary>
    /// Volts that stray by this share of themselves, and are no more than so much of nominal, are what something lets through that is off:
    /// how often it lets through nothing; estimates.
    /// </summary>
    private const double MostlyLeak = 0.4,
        MostLeakVolts = 0.2,
        LeaksNothing = 0.35;

    private readonly bool _battery = circuit.Sources.Any(s => s.Kind is Circuits.Kinds.Battery);

    /// <summary>Density of an honest reading that strays, all kinds together.</summary>
    private double Astray(double value, double mean, in Predicted p, Dimension d)
    {
        var ownInstrument = p.OwnInstrument;
        var stray = StrayVolts * (p.OfMains ? _mains : _nominal);
        double Wide(double share, double by)
        {
            var spread =
                by * Math.Abs(mean)
                + by
                    / StrayBy
                    * d switch
                    {
                        Dimension.Volt => stray,
                        Dimension.Ohm => StrayOhms,
                        _ => ownInstrument ? StrayLeak : 0.02,
                    };
            return share * Normal.Density((value - mean) / spread) / spread;
        }

        var far =
            d == Dimension.Ohm && mean > Electronics && value > 0
                ? StraysFar * LogNormal(value, mean, ElectronicsLogSpread)
                : Wide(StraysFar, StrayFarBy);
        var charge =
            d == Dimension.Volt
            && _battery
            && p.FollowsSupply
            && !p.OfMains
            && Math.Abs(mean) > 0.3 * _nominal
            && !IsBeyondAll(value, p.OfMains)
                ? OnCharge * Normal.Density((value / mean - 1 - ChargeBy) / ChargeSpread) / (ChargeSpread * Math.Abs(mean))
                : 0;
        return Wide(Strays, StrayBy) + far + charge;
    }

    /// <summary>Volts that a floating point may drift to, as a share of nominal; estimate.</summary>
    private const double GhostShare = 0.04;

    /// <summary>
    /// On alternating volts an open wire beside a live one shows what couples into it, up to half of the mains and somewhat more on a meter
    /// of 10 MΩ: how often, and up to what share; common practice, no source.
    /// </summary>
    private const double Couples = 0.3,
        CouplesUpTo = 0.6;

    private readonly double _mains = circuit
        .Sources.SelectMany(s => s.Model.Links.OfType<Link.Source>())
        .Select(l => l.Ac.Magnitude)
        .DefaultIfEmpty(0)
        .Max();

    /// <summary>
    /// A floating point: at nothing, at what the sheet's leakage makes of it, or somewhere about; of alternating volts anywhere up to what
    /// couples.
    /// </summary>
    private double Ghost(double value, in Predicted p, Dimension d)
    {
        var s = double.Hypot(Picked(MeterSigma(p.Mean, d), p.OfMains), Rounded(value, d));
        var wide = GhostShare * _nominal + 0.5 * Math.Abs(p.Mean);
        var ghost =
            0.35 * Normal.Density(value / s) / s
            + 0.35 * Normal.Density((value - p.Mean) / s) / s
            + 0.3 * Normal.Density((value - p.Mean) / wide) / wide;
        var most = CouplesUpTo * _mains;
        return !p.OfMains || most <= 0 ? ghost : (1 - Couples) * ghost + (value >= 0 && value <= most ? Couples / most : 0);
    }

    /// <summary>
    /// How much of the spread of a supply-side point is common to all of them: the same source, the same loads; estimate. The way home has
    /// resistances of its own.
    /// </summary>
    private const double Common = 0.7;

    /// <summary>What the leads add to every ohms reading, Ω; common practice, no source.</summary>
    public static double Leads(Dimension dimension) => dimension == Dimension.Ohm ? 0.15 : 0;

    /// <summary>
    /// What the leads of a meter pick up beside live mains, as a share of them: a dead and earthed point shows tenths of a volt; common
    /// practice, no source.
    /// </summary>
    private const double Induced = 0.0015;

    /// <summary>
    /// Who says that there is nothing has rounded: the tenths of a volt that a shared way home makes are called 0 V. Standard deviation,
    /// as a share of nominal volts, and at least, V; common practice, no source.
    /// </summary>
    private const double RoundsToNothingShare = 0.01,
        RoundsToNothing = 0.1;

    private double Rounded(double value, Dimension d) =>
        d == Dimension.Volt && value == 0 ? Math.Max(RoundsToNothing, RoundsToNothingShare * _nominal) : 0;

    /// <summary>Standard deviation of volts with what the leads pick up, V.</summary>
    private double Picked(double meterSigma, bool ofMains) => ofMains ? double.Hypot(meterSigma, Induced * _mains) : meterSigma;

    private Foreseen Own(in Predicted p, Dimension dimension, ref Unknowns unknowns)
    {
        var meterSigma = p.OwnInstrument ? 0 : MeterSigma(p.Mean, dimension);
        if (dimension == Dimension.Volt)
            meterSigma = Picked(meterSigma, p.OfMains);
        var shared = p.FollowsSupply && dimension == Dimension.Volt && Math.Abs(p.Mean) > 0.3 * _nominal ? Math.Sqrt(Common) * p.Spread : 0;
        var (mean, variance) = (p.Mean + Leads(dimension), meterSigma * meterSigma + p.Spread * p.Spread - shared * shared);
        if (p.Joints is { } moves)
        {
            var joints = unknowns.Joints ??= new Joints(moves.Length);
            (mean, variance) = (mean + joints.Mean(moves), variance + joints.Variance(moves));
        }
        return new Foreseen(
            mean,
            variance,
            p.Gain,
            shared,
            p.OfMains ? MainsDrift * MainsDrift : Drift * Drift,
            _battery && !p.OfMains && dimension == Dimension.Volt && p.FollowsSupply ? SupplyMoves : 0,
            p.OfMains,
            p.OfRatio
        );
    }

    private double Span(Dimension d) =>
        d switch
        {
            Dimension.Volt => 1.4 * _nominal,
            Dimension.Ampere => 50,
            _ => 1e6,
        };

    /// <summary>How often a slip is a tip that touches nothing, which reads as nothing, where volts are read; estimate.</summary>
    private const double TouchesNothing = 0.1;

    /// <summary>
    /// Who has the tips on another point, or the machine in another setting, reads what points have: nothing, or the supply. Between these
    /// shares of it a figure is as a rule that of the point: factor on the density of a slip. Estimates.
    /// </summary>
    private const double LeastBetween = 0.15,
        MostBetween = 0.75,
        Between = 0.4;

    /// <summary>Density of a reading that is a slip: of volts a dead zero is likelier than any other figure.</summary>
    private double Slipped(double value, Dimension d, bool ofMains)
    {
        var flat = Flat(value, d, ofMains);
        if (d != Dimension.Volt)
            return flat;
        var share = Math.Abs(value) / (ofMains && _mains > 0 ? _mains : _nominal);
        if (share is > LeastBetween and < MostBetween)
            flat *= Between;
        if (IsBeyondAll(value, ofMains))
            flat *= Misread;
        var s = double.Hypot(MeterSigma(0, d) + NothingBy * _nominal, Rounded(value, d));
        return (1 - TouchesNothing) * flat + TouchesNothing * Normal.Density(value / s) / s;
    }

    /// <summary>
    /// Where the sheet says what charges the machine no point of it has more than so much of its highest volts, and a tip in the wrong
    /// place shows none of it, nor does another charger: how often a slip is a figure misread. Estimates.
    /// </summary>
    private const double BeyondAll = 1.07,
        Misread = 0.15;

    private bool IsBeyondAll(double volts, bool ofMains) =>
        !ofMains && _given > 0 && Math.Abs(volts) > BeyondAll * Math.Max(_given, _highest);

    /// <summary>Most volts that a charger of the sheet gives; 0 where there is none, or where there are mains.</summary>
    private readonly double _given = circuit.Alternating
        ? 0
        : circuit
            .Parts.Where(p => p.Kind is Circuits.Kinds.Charger)
            .SelectMany(p => p.Model.Links.OfType<Link.Source>())
            .Select(l => l.Emf)
            .DefaultIfEmpty(0)
            .Max();

    /// <summary>What a tip in the air shows, as a share of nominal volts; estimate.</summary>
    private const double NothingBy = 0.001;

    /// <summary>
    /// Density of a reading about which nothing is known: volts anywhere up to the highest there are, on a machine with mains beside its
    /// own
    /// volts up to either.
    /// </summary>
    /// <param name="ofMains">True where the sheet has alternating volts there.</param>
    private double Flat(double value, Dimension d, bool ofMains) =>
        d switch
        {
            Dimension.Volt when ofMains && _highest > _nominal => 0.5 / (1.4 * _highest)
                + (Math.Abs(value) <= 1.4 * _nominal ? 0.5 / (1.4 * _nominal) : 0),
            Dimension.Volt => 1 / (1.4 * (Math.Abs(value) <= 1.4 * _nominal ? _nominal : Math.Max(_highest, _nominal))),
            // One over what fifty amps hold of it.
            Dimension.Ampere => 0.25 / (1 + Math.Abs(value)),
            // Ohms spread evenly over seven decades.
            _ => 0.7 / (16.1 * Math.Max(Math.Abs(value), 0.05)),
        };

    /// <summary>
    /// How often a click is heard where a fuse went in the same breath: of a coil that had pulled in by then, and of one that by the sheet
    /// had not the volts for it, or had lost its fuse before it was asked; estimates.
    /// </summary>
    private const double ClickedAndWent = 0.6,
        NeverPulled = 0.08;

    /// <summary>How often the armature of a valve that is stuck is heard; estimate.</summary>
    private const double HeardInside = 0.5;

    private static double Word(Answer word, Predicted p, double slip)
    {
        if (p is { Word: Answer.Works or Answer.Clicks, OnTheBrink: > 0 and var brink })
        {
            var lets = word == (p.Word == Answer.Works ? Answer.Dead : Answer.Silent) ? 1 - slip : slip / 2;
            return (1 - brink) * Word(word, p with { OnTheBrink = 0 }, slip) + brink * lets;
        }
        if (p.OtherEnd is { } other)
        {
            double AtEnd(in Predicted end) => Word(word, end with { OtherEnd = null }, slip);
            var either = (AtEnd(p) + AtEnd(p with { Word = other.Word, Share = other.Share })) / 2;
            if (other.Word == p.Word)
                return either;
            return word == Answer.Flickers ? SwingSaid : SwingUnsaid * either;
        }
        if (word is Answer.Good or Answer.Bad && p.Share == Predicted.ShownByLever)
            // A lever is read as anything else is; that it trips at all is not certain to the amp, and is open on two phases.
            return p.Often > 0 ? 0.5
                : word == p.Word ? 0.9
                // Nothing trips it: a second trouble, or it is worn.
                : word == Answer.Bad ? 0.03
                : 0.1;
        if (word is Answer.Good or Answer.Bad or Answer.Unsure)
            // A look is weak evidence: a blown fuse often looks good (common practice, no source).
            return word == Answer.Unsure
                ? 0.3
                : (word, p.Word) switch
                {
                    (Answer.Good, Answer.Good) => 0.65,
                    (Answer.Good, _) => 0.35,
                    (_, Answer.Bad) => 0.55,
                    // A burnt element seen through glass or plastic is no matter of opinion; that it looks whole is.
                    _ => p.Share == Predicted.ShownByElement ? 0.012 : 0.05,
                };
        // A motor's copper may beep where what it stands for at work would not.
        if (word is Answer.Beep or Answer.Silent && p is { Winding: > 0, Word: Answer.Silent })
            return 0.5;
        // Who reads that a limit is missed says that it does so weakly or not at all. At the other end of a chatter nothing may be asked.
        if (p.Measured && !double.IsNaN(p.Share) && word is Answer.Works or Answer.Dead or Answer.Weak)
        {
            var works = Normal.Below(p.Share);
            return (1 - slip) * (word == Answer.Works ? works : 1 - works) + slip / 2;
        }
        if (!double.IsNaN(p.Share) && word is Answer.Works or Answer.Weak or Answer.Dead or Answer.Flickers)
        {
            double Above(double limit, double stray) =>
                p.Word == Answer.Dead && p.Share > 0.9 ? 0 : Normal.Below((p.Share - limit) / (0.005 + stray * p.Share));
            // From where on something that runs is called slow or dim is each one's own: who complains knows how it was.
            // What runs as it does on a sound machine runs as it always did, however few volts that is.
            var asEver =
                p.Word == Answer.Works && p.SoundShare > Defaults.LoadWeakShare
                    ? Normal.Below((p.Share / p.SoundShare - MissedShare) / MissedStray)
                    : 0;
            var strong = Math.Max(asEver, Above(Defaults.LoadWorksShare, LoadStray));
            var works = Math.Max(asEver, Math.Min(strong, Above(Defaults.LoadWorksShare, CalledWeak)));
            var alive = Math.Max(strong, Above(Defaults.LoadWeakShare, LoadStray));
            // What one calls weak is dead to another: a motor that stands on half its volts.
            var saidDead = WeakSaidDead * (alive - strong);
            var chance = word switch
            {
                Answer.Works => works,
                Answer.Weak => alive - works - saidDead,
                Answer.Dead => 1 - alive + saidDead,
                _ => p.Word == Answer.Weak ? WeakFlickers : SteadyFlickers,
            };
            return (1 - slip) * chance + slip / 3;
        }
        // An armature that alternating volts move and do not close.
        if (p is { Word: Answer.Silent, OnTheBrink: > 0 } && word is Answer.Hums or Answer.Chatters or Answer.Silent)
            return word == Answer.Silent ? 1 - p.OnTheBrink : p.OnTheBrink / 2;
        if (word == Answer.Hums || p.Word == Answer.Hums)
            return (word, p.Word) switch
            {
                (Answer.Hums, Answer.Hums) => 0.85,
                // In a loud hall nothing is heard; who hears it hum may take it for running.
                (Answer.Silent, _) => 0.08,
                (Answer.Works, _) => 0.05,
                // A contactor on low volts buzzes, and one with dirt on its pole hums while it is in.
                (_, Answer.Chatters) => 0.4,
                (_, Answer.Clicks) => p.Share == Predicted.BarelyHolds ? 0.2 : 0.06,
                (_, Answer.Works) => 0.04,
                _ => slip / 2,
            };
        if (word is Answer.Clicks or Answer.Silent && p.Word is Answer.Clicks or Answer.Silent && !double.IsNaN(p.Share))
        {
            // Pull-in volts stray by some 6 % from relay to relay.
            var clicks = p.Share switch
            {
                Predicted.MayHaveClicked => p.Word == Answer.Clicks ? ClickedAndWent : NeverPulled,
                Predicted.BarelyHolds => 1,
                Predicted.MovesInside => HeardInside,
                _ => Normal.Below((p.Share - 1) / 0.06),
            };
            return (1 - slip) * (word == Answer.Clicks ? clicks : 1 - clicks) + slip / 2;
        }
        // How bright a lamp is, is a matter of opinion to one step.
        if (word is Answer.Bright or Answer.Dim or Answer.Off && p.Word is Answer.Bright or Answer.Dim or Answer.Off)
            return word == p.Word ? 1 - slip - 0.1
                : word == Answer.Dim || p.Word == Answer.Dim ? 0.1
                : slip / 2;
        if (p.Word == Answer.Chatters || word == Answer.Chatters)
            // What clicks once and falls back, and what clicks on and on, is said to click as well.
            return word == p.Word ? (p.Word == Answer.Chatters ? 0.65 : 0.9)
                : word == Answer.Clicks ? 0.3
                : p.Word == Answer.Clicks ? (p.Share == Predicted.BarelyHolds ? 0.35 : 0.06)
                : slip;
        // Whether it should is the sheet's word, not the technician's: one says that it works.
        if (word == Answer.Works && p.Word == Answer.StuckOn)
            return SaidWorks * (1 - slip);
        // A part has no condition under which it should run, nor has a function that is started by hand: there it is the technician's word.
        if (word == Answer.StuckOn && p.Word is Answer.Works or Answer.Weak)
            return (p.Word == Answer.Works ? 1 : WeakSaidStuckOn) * (1 - slip);
        return word == p.Word ? 1 - slip : slip / 2;
    }

    /// <summary>Volts that sources and transformers of the sheet give, and how far those stray, V.</summary>
    private readonly (double Volts, double Spread)[] _levels = Levels(circuit).ToArray();

    /// <summary>The highest volts that sources of the sheet give, V.</summary>
    private readonly double _highest = Levels(circuit).Select(l => l.Volts).DefaultIfEmpty(0).Max();

    private static IEnumerable<(double Volts, double Spread)> Levels(Circuit circuit)
    {
        foreach (var source in circuit.Sources)
        {
            var links = source.Model.Links.OfType<Link.Source>().ToList();
            foreach (var volts in links.Select(l => Math.Max(Math.Abs(l.Emf), l.Ac.Magnitude)).Where(v => v > 0).Distinct())
                yield return (
                    volts,
                    volts
                        * (
                            source.Kind is Circuits.Kinds.Battery ? BatterySpread
                            : links[0].Ac != 0 ? MainsSpread
                            : SupplySpread
                        )
                );
            if (links.Count > 2 && links[0].Ac != 0)
                yield return (Math.Sqrt(3) * links[0].Ac.Magnitude, Math.Sqrt(3) * MainsSpread * links[0].Ac.Magnitude);
        }
        foreach (var winding in circuit.Parts.Where(p => p.Model.Coupling is not null))
            if (winding.Values.Where(v => v.Dimension == Dimension.Volt).ToList() is [_, var secondary, ..])
                yield return (1.03 * secondary.Value, 0.07 * secondary.Value);
    }

    /// <summary>How far volts that are there stray further than their source does, in its own spreads, and how often; estimates.</summary>
    private const double StraysWider = 3,
        StraysWiderOften = 0.12;

    /// <summary>
    /// Density of volts that are there, wherever they come from: they stray as those of the sheet do, so that a supply which is somewhat
    /// off speaks neither for the sheet nor against it.
    /// </summary>
    private double NearSupply(double value)
    {
        var most = 0.0;
        foreach (var (volts, spread) in _levels)
        {
            var z = (Math.Abs(value) - volts) / spread;
            most = Math.Max(
                most,
                ((1 - StraysWiderOften) * Normal.Density(z) + StraysWiderOften * Normal.Density(z / StraysWider) / StraysWider) / spread
            );
        }
        return most;
    }

    /// <summary>How often what is not drawn leaves a dead zero where it leaves next to nothing; estimate.</summary>
    private const double DeadZero = 0.1;

    /// <summary>
    /// Density of volts at a point that has none: they stray as those of a dead point of the sheet do. Something is there, so that a dead
    /// zero is less likely.
    /// </summary>
    private double NearNothing(double value, bool ofMains)
    {
        var s = double.Hypot(Picked(MeterSigma(0, Dimension.Volt), ofMains), Rounded(value, Dimension.Volt));
        return DeadZero * (1 - AstrayShare) * Normal.Density(value / s) / s
            + Astray(value, 0, new Predicted(0, 0, true, null, double.NaN, 0, OfMains: ofMains), Dimension.Volt);
    }

    /// <summary>
    /// The same for a machine that is not as the sheet says: near nothing, near the supply, or anywhere between.
    /// </summary>
    /// <param name="ofMains">True where the sheet has alternating volts there.</param>
    public double OffSheet(ReadingResult result, Dimension dimension, bool ofMains = false) =>
        result switch
        {
            ReadingResult.Number n when dimension == Dimension.Volt => 0.5 * Flat(n.Value, dimension, ofMains)
                + 0.3 * NearNothing(n.Value, ofMains)
                + 0.2 * NearSupply(n.Value),
            ReadingResult.Number n => Flat(n.Value, dimension, ofMains),
            ReadingResult.Range r => Math.Clamp(
                0.4 * (r.High - r.Low) / Span(dimension)
                    + (r.Low <= 0 && r.High >= 0 ? 0.3 : 0)
                    + (r.High > 0.9 * _nominal && r.Low < 1.1 * _nominal ? 0.3 : 0),
                0.02,
                1
            ),
            ReadingResult.OverLimit => 0.3,
            ReadingResult.Jumps => 0.02,
            ReadingResult.Extreme => 0.1,
            ReadingResult.Word { Answer: Answer.Dead } => 0.6,
            ReadingResult.Word { Answer: Answer.Works } => 0.3,
            ReadingResult.Word { Answer: Answer.Clicks or Answer.Silent or Answer.Beep or Answer.Good or Answer.Bad } => 0.45,
            _ => 0.1,
        };
}

internal static class Normal
{
    public static double Density(double z) => Math.Exp(-0.5 * z * z) / 2.5066283;

    /// <summary>Cumulative normal; Abramowitz and Stegun 26.2.17, absolute error below 7.5e-8.</summary>
    public static double Below(double z)
    {
        if (z < -8)
            return 0;
        if (z > 8)
            return 1;
        var t = 1 / (1 + 0.2316419 * Math.Abs(z));
        var tail = Density(z) * t * (0.319381530 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
        return z >= 0 ? 1 - tail : tail;
    }
}
