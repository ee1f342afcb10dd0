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

    /// <summary>
    /// <c>input 7 high&gt;6V 10kohm</c>: on above the volts, or with <c>low&lt;</c> below them; its own resistance goes to ground, with
    /// <c>pullup</c> to the supply.
    /// </summary>
    public sealed record Input(string Pin, bool Above, double Volts, double? Ohms = null, bool PullUp = false) : ModuleLine;

    /// <summary>
    /// <c>output 14 high 50mohm when powered and in7</c>: joins the pin to the supply (high) or the ground (low); with <c>pulsed 5%</c> for
    /// that share of time. With <c>leak=10kohm</c> that much lies beside its switch: a triac that leaks, a lamp that is watched.
    /// </summary>
    public sealed record Output(string Pin, bool High, double? Ohms, Condition? When, double? PulsedShare = null, double? LeakOhms = null)
        : ModuleLine;

    /// <summary><c>bus 21,22 traffic=5%</c>: pins of the high and the low wire, and the share of time this module drives them.</summary>
    public sealed record Bus(string HighPin, string LowPin, double Share) : ModuleLine;

    /// <summary>
    /// <c>bus 5 traffic=10% pullup=1kohm</c>: a bus of one wire, held at the supply through that resistance and drawn to ground for that
    /// share of time.
    /// </summary>
    public sealed record SingleWire(string Pin, double Share, double PullUpOhms) : ModuleLine;

    /// <summary><c>sleeps after 10min at 8mA</c>.</summary>
    public sealed record Sleeps(double AfterSeconds, double Amps) : ModuleLine;
}
