namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Continuity by ear, with every source off.</summary>
    public sealed record Beep(Across X) : Probe
    {
        public static ProbeWords Reads { get; } = new(["beep"], (_, o) => new Beep(o.Across()));

        public override IReadOnlyList<Answer> Answers => [Answer.Beep, Answer.Silent];
        public override IReadOnlyList<Terminal> Tips => [X.P.Terminal, X.Q.Terminal];
        public override bool SendsCurrent => true;

        public override Dial DialOn(Circuit circuit) => new("BEEP", "continuity");

        public override Order OrderOn(Circuit circuit) =>
            new("Continuity across", X.Text) { Black = $"tips on {X.P} and {X.Q}", At = X.P.Terminal.Tag };

        public override MeterReading Read(IInstruments with) => with.Beep(X);

        public override string ToString() => $"beep {X}";
    }
}
