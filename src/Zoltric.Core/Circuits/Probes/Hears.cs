namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Whether a coil clicks, by ear or finger; whether a motor on alternating current runs, or hums and stands.</summary>
    public sealed record Hears(string Tag) : Probe
    {
        public static ProbeWords Reads { get; } = new(["hears"], (_, o) => new Hears(o.Tag()));

        public override IReadOnlyList<Answer> Answers => [Answer.Clicks, Answer.Silent, Answer.Chatters, Answer.Hums, Answer.Works];

        public override IReadOnlyList<Answer> AnswersOn(Circuit circuit) =>
            IsMotor(circuit) ? [Answer.Works, Answer.Hums, Answer.Silent] : [Answer.Clicks, Answer.Silent, Answer.Chatters];

        private bool IsMotor(Circuit circuit) => circuit.FindPart(Tag) is { } part && Nets.Of(circuit).MayHum(part);

        public override bool TouchesMachine => false;
        public override double Minutes => 0.2;

        public override IEnumerable<string> Reaches(Circuit circuit) => [Tag];

        public override Dial DialOn(Circuit circuit) => new("HEAR", "feel and listen");

        public override Order OrderOn(Circuit circuit) =>
            IsMotor(circuit)
                ? new("Listen at", circuit.FindPart(Tag)!.Spoken) { At = Tag, How = "does it run, or hum and stand?" }
                : new("Feel and listen at", circuit.FindPart(Tag)!.Spoken) { At = Tag, How = "by touch: two relays sound alike" };

        public override MeterReading Read(IInstruments with) => with.Coil(Tag);

        public override string ToString() => $"hears {Tag}";
    }
}
