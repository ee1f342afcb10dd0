namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Volts from P to Q; Q null means the reference.</summary>
    public sealed record Volts(Terminal P, Terminal? Q, VoltsFunction Function = VoltsFunction.Dc) : Probe
    {
        public static ProbeWords Reads { get; } = new(["V", "VAC", "loz"], (verb, o) =>
            {
                o.Want(1, 2, "one point or two");
                return new Volts(
                    o.Point(0),
                    o.Count == 2 ? o.Point(1) : null,
                    verb switch
                    {
                        "VAC" => VoltsFunction.Ac,
                        "loz" => VoltsFunction.LowImpedance,
                        _ => VoltsFunction.Dc,
                    }
                );
            });

        public override Dimension Dimension => Dimension.Volt;
        public override IReadOnlyList<Terminal> Tips => Q is { } q ? [P, q] : [P];
        public override bool BlackAtReference => Q is null;
        public override double Minutes => 0.4;

        public override Dial DialOn(Circuit circuit) =>
            Function switch
            {
                VoltsFunction.Ac => new("ACV", "AC volts", DialRange.AcVolts),
                VoltsFunction.Dc => new("DCV", "DC volts", DialRange.AnyVolts),
                _ when Nets.Of(circuit).FunctionAt(P) == VoltsFunction.Ac => new(
                    "LOZ",
                    "two-pole tester, or AC volts low impedance",
                    DialRange.AcVolts
                ),
                _ => new("LOZ", "two-pole tester, or volts low impedance", DialRange.Volts),
            };

        public override Order OrderOn(Circuit circuit) =>
            new("Red on", P.ToString())
            {
                Black = Q is { } q ? (q.Name == "PE" ? PointNames.Point(circuit, q) : q.ToString()) : PointNames.Reference(circuit),
                At = P.Tag,
                WiresAt = P,
            };

        public override MeterReading Read(IInstruments with) => with.Volts(BetweenTips);

        public override BetweenTips? VoltsOn(Circuit circuit) => BetweenTips;

        private BetweenTips BetweenTips => new(new ProbePoint(P), Q is { } q ? new ProbePoint(q) : null, Function);

        public override string ToString() => Word(Function) + $" {P}" + (Q is { } q ? $" {q}" : "") + Watched;

        private static string Word(VoltsFunction f) =>
            f switch
            {
                VoltsFunction.Ac => "VAC",
                VoltsFunction.LowImpedance => "loz",
                _ => "V",
            };
    }
}
