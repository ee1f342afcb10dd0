namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Resistance, with every source off.</summary>
    public sealed record Ohms(Across X) : Probe
    {
        public static ProbeWords Reads { get; } = new(["ohm"], (_, o) => new Ohms(o.Across()));

        public override Dimension Dimension => Dimension.Ohm;
        public override IReadOnlyList<Terminal> Tips => [X.P.Terminal, X.Q.Terminal];
        public override bool SendsCurrent => true;
        public override Across? OhmsAcross => X;

        public override Dial DialOn(Circuit circuit) => new("OHM", "ohms", DialRange.Ohms);

        public override Order OrderOn(Circuit circuit) =>
            new("Ohms across", X.Text) { Black = $"tips on {X.P} and {X.Q}", At = X.P.Terminal.Tag };

        public override MeterReading Read(IInstruments with) => with.Ohms(X);

        public override string ToString() => $"ohm {X}";
    }
}
