namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>A code of a control unit, as a code reader shows it.</summary>
    public sealed record Code(string Number) : Probe
    {
        public static ProbeWords Reads { get; } = new(["code"], (_, o) =>
            {
                o.Want(1, 1, "a code");
                return new Code(o.Text(0));
            });

        public override IReadOnlyList<Answer> Answers => [Answer.Active, Answer.Stored, Answer.Absent];
        public override bool TouchesMachine => false;

        public override Dial DialOn(Circuit circuit) => new("CODE", "code reader");

        public override string ToString() => $"code {Number}";
    }
}
