namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Timer relay, terminals as a relay: with <c>on-delay 5s</c> its contacts change that long after the coil is fed, with <c>off-delay</c>
/// that long after it is let go. Time passes only in an <c>after</c> of the setup.
/// </summary>
public sealed class Timer : CoilDevice
{
    public override string Word => "timer";
    public override string Spoken => "timer relay";
    protected override double OperateMs => 8;
    protected override double ReleaseMs => 5;
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension>
        {
            ["pullin"] = Dimension.Volt,
            ["dropout"] = Dimension.Volt,
            ["on-delay"] = Dimension.Second,
            ["off-delay"] = Dimension.Second,
        };

    protected override (string First, string Second) CoilTerminals(Part part) => Relay.CoilOf(part);

    protected override IReadOnlyList<(string A, string B, bool NormallyOpen)> Contacts(Part part) => Relay.ContactsOf(part);
}
