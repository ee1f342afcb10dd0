using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Simulation;

namespace Zoltric.Instruments.StandIns;

/// <summary>
/// A multimeter that is not there: shows what the tips of a simulated machine meet. It knows the commands that a meter is read with, in
/// long
/// and short form.
/// </summary>
/// <param name="port">0 for any that is free.</param>
public sealed class ScpiMeterStandIn(Func<SimulatedMachine?> machine, int port = 0) : ScpiStandIn("Stand-in meter", port)
{
    private const string Overload = "+9.90000000E+37";

    /// <summary>Volts that stray fields put between open leads, at most; common practice, no source.</summary>
    private const double StrayVolts = 0.08;

    /// <summary>Share by which a figure moves from one reading to the next.</summary>
    private const double Unrest = 0.0004;

    /// <summary>Below so many volts it shows millivolts, a digit of which is a hundredth.</summary>
    private const double Millivolts = 0.4;

    private readonly Random _random = new(20_27);
    private MeterFunction _function;

    /// <summary>How long a reading takes; ten a second as delivered.</summary>
    public TimeSpan Pace { get; set; } = TimeSpan.FromMilliseconds(100);

    /// <summary>Where its dial stands; set from here it is the hand that turns it.</summary>
    public MeterFunction Function
    {
        get
        {
            lock (Gate)
                return _function;
        }
        set
        {
            lock (Gate)
                _function = value;
        }
    }

    protected override async Task<string?> Answer(List<string> words, bool asks, string argument)
    {
        ArgumentNullException.ThrowIfNull(words);
        if (words.Count == 1 && asks && Is(words[0], "CONFigure"))
            return $"\"{Named(Function)}\"";
        if (Is(words[0], "CONFigure") || Is(words[0], "MEASure") && asks)
        {
            if (Dial(words) is not { } dial)
                return Unknown();
            Function = dial;
            return asks ? await Reading() : null;
        }
        if (Is(words[0], "FUNCtion"))
            return asks ? $"\"{Named(Function)}\"" : Turn(argument);
        return Is(words[0], "READ") && asks ? await Reading() : Unknown();
    }

    private string? Turn(string quoted)
    {
        if (Dial(["", .. quoted.Trim('"', '\'').ToUpperInvariant().Split(':')]) is not { } dial)
            return Unknown();
        Function = dial;
        return null;
    }

    protected override void Reset() => Function = MeterFunction.DcVolts;

    /// <summary>What stands after the first word: VOLT, VOLT:AC, RES, CONT.</summary>
    private static MeterFunction? Dial(List<string> words) =>
        words switch
        {
            [_, var v] when Is(v, "VOLTage") => MeterFunction.DcVolts,
            [_, var v, "DC"] when Is(v, "VOLTage") => MeterFunction.DcVolts,
            [_, var v, "AC"] when Is(v, "VOLTage") => MeterFunction.AcVolts,
            [_, var r] when Is(r, "RESistance") => MeterFunction.Ohms,
            [_, var c] when Is(c, "CONTinuity") => MeterFunction.Continuity,
            [_, var i] when Is(i, "CURRent") => MeterFunction.DcAmps,
            [_, var i, "DC"] when Is(i, "CURRent") => MeterFunction.DcAmps,
            _ => null,
        };

    private static string Named(MeterFunction f) =>
        f switch
        {
            MeterFunction.DcVolts => "VOLT",
            MeterFunction.AcVolts => "VOLT:AC",
            MeterFunction.Ohms => "RES",
            MeterFunction.DcAmps => "CURR",
            _ => "CONT",
        };

    private async Task<string> Reading()
    {
        await Task.Delay(Pace, Stopped);
        var function = Function;
        var there = machine();
        // A clamp gives volts, whatever it goes round.
        var clamped = function == MeterFunction.DcVolts && there?.Tips is Probe.Clamp;
        var shown = there?.Shows(clamped ? MeterFunction.DcAmps : function);
        if (clamped && shown?.Value is { } amps)
            shown = shown with { Value = amps * ScpiDigitizerStandIn.ClampVoltsPerAmp, Dimension = Dimension.Volt };
        lock (Gate)
        {
            if (shown is null && function == MeterFunction.DcAmps)
                return Number(0);
            if (shown is null)
                return function.Reads() == Dimension.Ohm ? Overload : Number(StrayVolts * _random.NextDouble());
            if (shown.Value is not { } value)
                return Overload;
            var digit =
                function.Reads() == Dimension.Ohm ? 0.01
                : clamped || Math.Abs(value) < Millivolts ? 0.00002
                : 0.0005;
            return Number(value * (1 + Unrest * (2 * _random.NextDouble() - 1)) + digit * (2 * _random.NextDouble() - 1));
        }
    }

    private static string Number(double value) => value.ToString("+0.00000000E+00;-0.00000000E+00", CultureInfo.InvariantCulture);
}
