namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Plug-in relay with road-vehicle terminals (DIN 72552: coil 86/85, common 30, make 87, break 87a), or with the word <c>din</c>
/// the industrial ones (EN 50005: coil A1/A2, poles 11-14 make, 11-12 break, further poles 21 …, 31 …, 41 …). With <c>latching</c> it has
/// those and a second coil B1/B2: the first pulls in and it stays so without volts, the second lets go. A line starts with it let go.
/// </summary>
public sealed class Relay : CoilDevice
{
    public override string Word => "relay";
    public override IReadOnlyList<string> OwnWords => [Latching];

    private const string Latching = "latching";

    protected override double OperateMs => 8;
    protected override double ReleaseMs => 5;

    protected override (string First, string Second) CoilTerminals(Part part) => CoilOf(part);

    protected override (string First, string Second)? ResetTerminals(Part part) => part.Has(Latching) ? ("B1", "B2") : null;

    protected override IReadOnlyList<(string A, string B, bool NormallyOpen)> Contacts(Part part) => ContactsOf(part);

    internal static (string First, string Second) CoilOf(Part part) => IsIndustrial(part) ? ("A1", "A2") : ("86", "85");

    internal static IReadOnlyList<(string A, string B, bool NormallyOpen)> ContactsOf(Part part) =>
        IsIndustrial(part)
            ? Enumerable.Range(1, 4).SelectMany(p => new[] { ($"{p}1", $"{p}4", true), ($"{p}1", $"{p}2", false) }).ToList()
            : [("30", "87", true), ("30", "87a", false)];

    /// <summary>True where a relay or timer of road-vehicle terminals is asked for one of the industrial ones.</summary>
    internal static bool LacksDin(Part part, string name) =>
        part.Kind is CoilDevice
        && CoilOf(part).First == "86"
        && part.Model.Terminals.Contains("86")
        && (name is "A1" or "A2" || name is [>= '1' and <= '4', '1' or '2' or '4']);

    private static bool IsIndustrial(Part part) => part.Has("din") || part.Has(Latching);
}
