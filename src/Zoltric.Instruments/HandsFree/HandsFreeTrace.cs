using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;

namespace Zoltric.Instruments.HandsFree;

/// <summary>What is waited for.</summary>
public enum HandsFreeStage
{
    /// <summary>No test that may be read hands-free.</summary>
    ByHand,

    /// <summary>The dial must be turned: the tips have to be off the machine, and somebody has to say so.</summary>
    TipsOff,

    /// <summary>The machine must be set otherwise than for the last test, and somebody has to say that it is.</summary>
    SetMachine,

    /// <summary>The tips are to be put where the order says; what is shown is not at rest.</summary>
    Settling,

    /// <summary>The tips are on; the pedal begins a watch while something is moved.</summary>
    Move,

    /// <summary>Lowest and highest are kept in mind; the pedal ends it.</summary>
    Watching,

    /// <summary>A value rests that tips in the air, or left where they were, would show as well.</summary>
    Confirm,
}

/// <summary>
/// When a reading is taken by itself. A test is asked for; what the meter shows is given in; a value that rests is taken, but for one that
/// tips in the air or on the last point would show too: that one waits for the pedal. A dial that must be turned, and a machine that must
/// be set otherwise, wait for it as well: nobody here sees tips or controls. Pure: no clock, no meter.
/// </summary>
/// <param name="nominalVolts">Of the machine: what is next to nothing is judged by it.</param>
public sealed class HandsFreeTrace(MeterClass accuracy, double nominalVolts)
{
    /// <summary>Volts below this share of the nominal, and never fewer than <see cref="LeastVolts"/>, may be tips in the air.</summary>
    public const double NothingShare = 0.05;

    /// <summary>Open leads show this much by stray fields; common practice, no source.</summary>
    public const double LeastVolts = 0.3;

    /// <summary>Ohms below this may be the tips on one another.</summary>
    public const double LeastOhms = 0.5;

    /// <summary>Readings in a row off the last value that show the tips have left it.</summary>
    private const int OffLast = 3;

    private SteadyReading? _steady;
    private MeterFunction? _dial;
    private string? _setup,
        _wantedSetup;
    private double? _last;
    private int _off;
    private Steady? _waits;
    private bool _moving;
    private (double Low, double High, double Sum, int Readings)? _watched;

    public HandsFreeStage Stage { get; private set; } = HandsFreeStage.ByHand;

    /// <summary>The test that is asked for, as a reading line without result; null for none.</summary>
    public string? Test { get; private set; }

    /// <summary>What the dial is to stand on for it.</summary>
    public MeterFunction? Wanted { get; private set; }

    /// <summary>
    /// At <see cref="HandsFreeStage.Confirm"/>: true where the value is that of the last point, and the tips have not left it.
    /// </summary>
    public bool IsLastPoint => _last is not null && _off < OffLast;

    /// <summary>Asks for a test; nulls where the next one is not to be read hands-free.</summary>
    /// <param name="setup">How the machine has to stand for it.</param>
    /// <param name="moving">True where the figure is watched while something is moved.</param>
    public void Ask(string? test, MeterFunction? function, string setup = "", bool moving = false)
    {
        _moving = moving;
        (Test, Wanted, _wantedSetup) =
            function is null || test is null ? ((string?)null, (MeterFunction?)null, (string?)null) : (test, function, setup);
        Start();
    }

    /// <summary>The dial stands on this from now on; null where it is not known.</summary>
    public void DialIs(MeterFunction? function)
    {
        if (_dial != function)
            (_last, _off) = (null, 0);
        _dial = function;
        Start();
    }

    private void Start()
    {
        (_waits, _watched) = (null, null);
        Stage =
            Wanted is not { } wanted ? HandsFreeStage.ByHand
            : _dial != wanted ? HandsFreeStage.TipsOff
            : _setup != _wantedSetup ? HandsFreeStage.SetMachine
            : _moving ? HandsFreeStage.Move
            : HandsFreeStage.Settling;
        _steady = Wanted is { } w ? new SteadyReading(accuracy, w.Reads()) : null;
    }

    /// <summary>What the meter shows. The value to be kept where there is one.</summary>
    public Steady? Add(double value, TimeSpan at)
    {
        if (Stage == HandsFreeStage.Watching)
            _watched = _watched is { } w
                ? (Math.Min(w.Low, value), Math.Max(w.High, value), w.Sum + value, w.Readings + 1)
                : (value, value, value, 1);
        if (Stage is not (HandsFreeStage.Settling or HandsFreeStage.Confirm) || _steady is null)
            return null;
        if (_last is { } last && _off < OffLast)
            _off = Near(value, last) ? 0 : _off + 1;
        if (_waits is { } waits && !Near(value, waits.Value))
            (_waits, Stage) = (null, HandsFreeStage.Settling);
        if (_steady.Add(value, at) is not { } rests)
            return null;
        if (IsNothing(rests.Value) || IsLastPoint)
        {
            (_waits, Stage) = (rests, HandsFreeStage.Confirm);
            return null;
        }
        return Take(rests);
    }

    /// <summary>
    /// The pedal: what was asked for is so. At <see cref="HandsFreeStage.Confirm"/> the value to be kept. At
    /// <see cref="HandsFreeStage.TipsOff"/> the dial may be turned now; say then what it stands on.
    /// </summary>
    public Steady? Pedal()
    {
        if (Stage == HandsFreeStage.Confirm && _waits is { } waits)
            return Take(waits);
        if (Stage == HandsFreeStage.Move)
            Stage = HandsFreeStage.Watching;
        else if (Stage == HandsFreeStage.Watching && _watched is { } seen)
            return Take(
                new Steady(seen.Sum / seen.Readings, double.IsInfinity(seen.High) ? 0 : seen.High - seen.Low, seen.Readings)
                {
                    Watched = (seen.Low, seen.High),
                }
            );
        if (Stage is HandsFreeStage.TipsOff or HandsFreeStage.SetMachine)
            _setup = _wantedSetup;
        if (Stage == HandsFreeStage.SetMachine)
            Start();
        return null;
    }

    /// <summary>What waits for the pedal is dropped; it has to come to rest again.</summary>
    public void Reject()
    {
        _steady?.Clear();
        if (Stage == HandsFreeStage.Confirm)
            (_waits, Stage) = (null, HandsFreeStage.Settling);
        else if (Stage == HandsFreeStage.Watching)
            (_watched, Stage) = (null, HandsFreeStage.Move);
    }

    private Steady Take(Steady value)
    {
        (_last, _off, _waits) = (value.Value, 0, null);
        // Nothing more is taken until the next test is asked for.
        (Stage, Test, Wanted, _steady) = (HandsFreeStage.ByHand, null, null, null);
        return value;
    }

    /// <summary>
    /// True where two figures differ by more than the meter's accuracy: the change that is listened for while something is moved.
    /// </summary>
    public bool Jumped(double from, double to) => _steady is not null && !Near(to, from);

    private bool Near(double a, double b) =>
        double.IsInfinity(a) || double.IsInfinity(b)
            ? double.IsInfinity(a) && double.IsInfinity(b)
            : Math.Abs(a - b) <= (_steady?.Within(b) ?? 0);

    private bool IsNothing(double value) =>
        double.IsInfinity(value)
        || Math.Abs(value) < (_dial?.Reads() == Dimension.Ohm ? LeastOhms : Math.Max(LeastVolts, NothingShare * nominalVolts));
}
