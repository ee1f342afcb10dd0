namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Capacity of a capacitor that is discharged and has its wires off: <c>cap C1</c>.</summary>
    public sealed record Capacitance(string Tag) : Probe
    {
        public static ProbeWords Reads { get; } = new(["cap"], (_, o) => new Capacitance(o.Tag()));

        public override Dimension Dimension => Dimension.Microfarad;
        public override IReadOnlyList<Terminal> Tips => [new Terminal(Tag, "1"), new Terminal(Tag, "2")];
        public override bool SendsCurrent => true;

        public override Dial DialOn(Circuit circuit) => new("CAP", "capacity, µF, discharged first");

        public override Order OrderOn(Circuit circuit) =>
            new("Capacity across", circuit.FindPart(Tag)!.Spoken) { Black = "tips on its two terminals", At = Tag };

        public override MeterReading Read(IInstruments with) => with.Capacitance(Tag);

        public override string ToString() => $"cap {Tag}";
    }
}
