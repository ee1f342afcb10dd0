namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Insulation between two points by a tester's own test volts, with every source off.</summary>
    public sealed record Insulation(Terminal P, Terminal Q) : Probe
    {
        public static ProbeWords Reads { get; } = new(["insul"], (_, o) =>
            {
                o.Want(2, 2, "two points");
                return new Insulation(o.Point(0), o.Point(1));
            });

        public override Dimension Dimension => Dimension.Ohm;
        public override IReadOnlyList<Terminal> Tips => [P, Q];
        public override bool SendsCurrent => true;

        public override Dial DialOn(Circuit circuit) => new("INSUL", "insulation", DialRange.Insulation);

        public override Order OrderOn(Circuit circuit) =>
            new("Insulation between", P.ToString())
            {
                Black = $"and {Q}",
                At = P.Tag,
                WiresAt = P,
            };

        public override MeterReading Read(IInstruments with) => with.Insulation(new Across("", new ProbePoint(P), new ProbePoint(Q)));

        public override string ToString() => $"insul {P} {Q}";
    }
}
