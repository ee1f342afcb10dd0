namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>
    /// Order of three phases by a phase rotation tester, its first lead first: <c>rotation M1.U M1.V M1.W</c>. Right is clockwise, as
    /// L1, L2, L3 follow each other; none where a phase is missing.
    /// </summary>
    public sealed record Rotation(Terminal First, Terminal Second, Terminal Third) : Probe
    {
        public static ProbeWords Reads { get; } = new(["rotation"], (_, o) =>
            {
                o.Want(3, 3, "three points");
                return new Rotation(o.Point(0), o.Point(1), o.Point(2));
            });

        public override IReadOnlyList<Answer> Answers => [Answer.Right, Answer.Left, Answer.None];
        public override IReadOnlyList<Terminal> Tips => [First, Second, Third];

        public override Dial DialOn(Circuit circuit) => new("ROTATION", "phase rotation tester", DialRange.AcVolts);

        public override Order OrderOn(Circuit circuit) =>
            new("First lead on", First.ToString()) { Black = $"second on {Second}, third on {Third}", At = First.Tag };

        public override MeterReading Read(IInstruments with) => with.Rotation(First, Second, Third);

        public override string ToString() => $"rotation {First} {Second} {Third}";
    }
}
