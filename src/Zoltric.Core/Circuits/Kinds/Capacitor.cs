namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Run, start or smoothing capacitor between 1 and 2, <c>capacitor 20uF 440V</c>. Direct current does not pass; alternating current meets
/// 1/(2πfC). It holds its charge when the source is off, which is said before every dead test at it.
/// </summary>
/// <remarks>Worn ones lose capacity before they open; the tolerance of run capacitors is 5 or 10 %, IEC 60252-1 (from memory).</remarks>
public sealed class Capacitor : PartKind
{
    public override string Word => "capacitor";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Microfarad, Dimension.Volt];
    public override IReadOnlyList<string> StoredEnergy => ["capacitor"];

    private const double DefaultMicrofarads = 10,
        Tolerance = 0.10;

    private static readonly double[] LeftShares = [0.1, 0.3, 0.5, 0.7, 0.85];

    public static bool HasRating(Part part) => part.Value(Dimension.Microfarad) is > 0;

    public override PartModel Describe(Part part)
    {
        var microfarads = HasRating(part) ? part.Value(Dimension.Microfarad)!.Value : DefaultMicrofarads;
        return new PartModel
        {
            Terminals = ["1", "2"],
            Through = ("1", "2"),
            Links = [Link.Reactance.Capacitor("1-2", "1", "2", microfarads, Tolerance / Math.Sqrt(3))],
            Faults =
            [
                new("open", new FaultEffect.Open(0), 3),
                new("weak", new FaultEffect.SetMicrofarads(0), 3)
                {
                    Value = Dimension.Microfarad,
                    Values = [.. LeftShares.Select(s => s * microfarads)],
                    DefaultValue = 0.5 * microfarads,
                },
                new("shorted", new FaultEffect.Short(0, 0), 1)
                {
                    Value = Dimension.Ohm,
                    DefaultValue = 1,
                    Values = [0.1, 1, 10],
                },
            ],
        };
    }
}
