namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Contactor, terminals as EN 50005: coil A1/A2, main poles 1-2, 3-4, 5-6, auxiliaries 13-14 make and 21-22 break,
/// or those that <c>aux</c> names.
/// </summary>
public sealed class Contactor : CoilDevice
{
    public override string Word => "contactor";
    protected override double OperateMs => 20;
    protected override double ReleaseMs => 12;

    protected override (string First, string Second) CoilTerminals(Part part) => ("A1", "A2");

    public override bool TakesAuxiliaries => true;

    protected override IReadOnlyList<(string A, string B, bool NormallyOpen)> Contacts(Part part) =>
        [
            ("1", "2", true),
            ("3", "4", true),
            ("5", "6", true),
            .. part.Auxiliaries.Count == 0
                ? [("13", "14", true), ("21", "22", false)]
                : part.Auxiliaries.Select(x => (x.A, x.B, ContactRules.Makes(x))),
        ];
}
