namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Whether a coil clicks, by ear or finger.</summary>
    public sealed record Hears(string Tag) : Probe
    {
        public static ProbeWords Reads { get; } = new(["hears"], (_, o) => new Hears(o.Tag()));

        public override IReadOnlyList<Answer> Answers => [Answer.Clicks, Answer.Silent, Answer.Chatters];
        public override bool TouchesMachine => false;
        public override double Minutes => 0.2;

        public override IEnumerable<string> Reaches(Circuit circuit) => [Tag];

        public override Dial DialOn(Circuit circuit) => new("HEAR", "feel and listen");

        public override Order OrderOn(Circuit circuit) =>
            new("Feel and listen at", circuit.FindPart(Tag)!.Spoken) { At = Tag, How = "by touch: two relays sound alike" };

        public override MeterReading Read(IInstruments with) => with.Coil(Tag);

        public override string ToString() => $"hears {Tag}";
    }
}
