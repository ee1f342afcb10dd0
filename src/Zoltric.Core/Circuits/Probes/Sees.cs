namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Whether a function, by name, or a part, by tag, does what it should.</summary>
    public sealed record Sees(string What, bool IsFunction) : Probe
    {
        public static ProbeWords Reads { get; } = new(["sees"], (_, o) =>
            {
                if (o.Quoted is not { } name)
                    return new Sees(o.Tag(), false);
                o.Want(0, 0, "a function in quotes");
                return new Sees(name, true);
            });

        public override IReadOnlyList<Answer> Answers => [Answer.Works, Answer.Weak, Answer.Dead, Answer.StuckOn, Answer.Flickers];
        public override bool TouchesMachine => false;
        public override double Minutes => 0.2;

        public override Dial DialOn(Circuit circuit) => new("SEE", "look");

        public override Order OrderOn(Circuit circuit) =>
            new("Look:", IsFunction ? What : circuit.FindPart(What)?.Spoken ?? What)
            {
                Where = "from where you stand",
                How = "does it do it?",
            };

        public override MeterReading Read(IInstruments with) => IsFunction ? with.Function(What) : with.Load(What);

        public override string ToString() => IsFunction ? $"sees \"{What}\"" : $"sees {What}";
    }
}
