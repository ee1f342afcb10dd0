namespace Zoltric.Core.Circuits;

/// <summary>One indented line below a module.</summary>
public abstract record ModuleLine
{
    /// <summary>
    /// <c>supply 1,5 ground 9,10 from=18V</c>: powered from that voltage between any of the supply pins and any of the grounds.
    /// </summary>
    public sealed record Supply(IReadOnlyList<string> Pins, IReadOnlyList<string> Grounds, double? FromVolts) : ModuleLine
    {
        public bool Equals(Supply? o) =>
            o is not null && Pins.SequenceEqual(o.Pins) && Grounds.SequenceEqual(o.Grounds) && FromVolts == o.FromVolts;

        public override int GetHashCode() => Grounds[0].GetHashCode(StringComparison.Ordinal);
    }

    /// <summary><c>input 7 high&gt;6V</c>: on above the volts, or with <c>low&lt;</c> below them.</summary>
    public sealed record Input(string Pin, bool Above, double Volts) : ModuleLine;

    /// <summary>
    /// <c>output 14 high 50mohm when powered and in7</c>: joins the pin to the supply (high) or the ground (low); with <c>pulsed 5%</c> for
    /// that share of time.
    /// </summary>
    public sealed record Output(string Pin, bool High, double? Ohms, Condition? When, double? PulsedShare = null) : ModuleLine;

    /// <summary><c>bus 21,22 traffic=5%</c>: pins of the high and the low wire, and the share of time this module drives them.</summary>
    public sealed record Bus(string HighPin, string LowPin, double Share) : ModuleLine;

    /// <summary><c>sleeps after 10min at 8mA</c>.</summary>
    public sealed record Sleeps(double AfterSeconds, double Amps) : ModuleLine;
}
