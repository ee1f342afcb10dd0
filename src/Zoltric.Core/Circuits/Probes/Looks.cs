namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>A part looked at: a fuse, a plug, a contact.</summary>
    public sealed record Looks(string Tag) : Probe
    {
        public static ProbeWords Reads { get; } = new(["looks"], (_, o) => new Looks(o.Tag()));

        public override IReadOnlyList<Answer> Answers => [Answer.Good, Answer.Bad, Answer.Unsure];
        public override bool TouchesMachine => false;
        public override double Minutes => 0.2;

        public override IEnumerable<string> Reaches(Circuit circuit) => [Tag];

        public override Dial DialOn(Circuit circuit) => new("LOOK", "look");

        public override Order OrderOn(Circuit circuit) => new("Look at", circuit.FindPart(Tag)!.Spoken) { At = Tag };

        public override MeterReading Read(IInstruments with) => with.Look(Tag);

        public override string ToString() => $"looks {Tag}";
    }
}
