namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>
    /// A part replaced by a new one, a part or wire repaired, or a part of a newer sheet fitted; stands alone, without result, and opens a
    /// new period of the job.
    /// </summary>
    public sealed record Replaced(string Tag, Renewal How = Renewal.Replaced) : Probe
    {
        public static ProbeWords Reads { get; } = new(["replaced", "repaired", "fitted"], (verb, o) =>
            {
                if (verb != "repaired")
                    return new Replaced(o.Tag(), verb == "fitted" ? Renewal.Fitted : Renewal.Replaced);
                o.Want(1, 1, "a part, pin or wire");
                return new Replaced(o.Unit(), Renewal.Repaired);
            });

        public override bool TouchesMachine => false;

        public override Dial DialOn(Circuit circuit) => new("SWAP", "swap");

        public override string ToString() => $"{How.ToString().ToLowerInvariant()} {Tag}";
    }
}
