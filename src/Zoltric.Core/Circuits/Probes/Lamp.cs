namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Test lamp from P to Q (reference when null); watts null means the small lamp of about 0.25 A.</summary>
    public sealed record Lamp(Terminal P, Terminal? Q, double? Watts) : Probe
    {
        public static ProbeWords Reads { get; } = new(["lamp"], (_, o) =>
            {
                o.Want(1, 3, "one point or two");
                double? watts = o.TryQuantity(o.Count - 1, Dimension.Watt, out var w) ? w : null;
                var points = o.Count - (watts is null ? 0 : 1);
                return points is 1 or 2
                    ? new Lamp(o.Point(0), points == 2 ? o.Point(1) : null, watts)
                    : throw o.Wrong(o.Count - 1, "lamp takes one point or two, and its watts.", "a point");
            });

        public override IReadOnlyList<Answer> Answers => [Answer.Bright, Answer.Dim, Answer.Off];
        public override IReadOnlyList<Terminal> Tips => Q is { } q ? [P, q] : [P];
        public override bool BlackAtReference => Q is null;
        public override bool Loads => true;

        public override Dial DialOn(Circuit circuit) => new("LAMP", "test lamp");

        public override Order OrderOn(Circuit circuit) =>
            new("Test lamp on", P.ToString())
            {
                Black = Q is { } q ? $"clip on {q}" : $"clip on {PointNames.Reference(circuit)}",
                At = P.Tag,
                WiresAt = P,
            };

        public override MeterReading Read(ILoadingInstruments with) => with.Lamp(P, Q, Watts);

        public override string ToString() =>
            $"lamp {P}" + (Q is { } q ? $" {q}" : "") + (Watts is { } w ? FormattableString.Invariant($" {w}W") : "");
    }
}
