namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Voltage drop across something, direct or alternating as its net is.</summary>
    public sealed record Drop(Across X) : Probe
    {
        public static ProbeWords Reads { get; } = new(["drop"], (_, o) => new Drop(o.Across()));

        public override Dimension Dimension => Dimension.Volt;
        public override bool IsEitherWay => true;
        public override IReadOnlyList<Terminal> Tips => [X.P.Terminal, X.Q.Terminal];
        public override double Minutes => 0.5;

        public override Dial DialOn(Circuit circuit) =>
            FunctionOn(circuit) == VoltsFunction.Ac ? new("ACV", "AC volts", DialRange.AcVolts) : new("DCV", "DC volts", DialRange.DcVolts);

        public override Order OrderOn(Circuit circuit) =>
            new("Volts across", X.Text) { Black = $"red on {X.P}, black on {X.Q}", At = X.P.Terminal.Tag };

        public override MeterReading Read(IInstruments with) => with.Volts(VoltsOn(with.Circuit)!.Value);

        public override BetweenTips? VoltsOn(Circuit circuit) => new(X.P, X.Q, FunctionOn(circuit));

        private VoltsFunction FunctionOn(Circuit circuit) => Nets.Of(circuit).FunctionAt(X.P.Terminal);

        public override string ToString() => $"drop {X}" + Watched;
    }
}
