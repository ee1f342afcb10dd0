namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Residual-current device: poles 1-2 and 3-4, neutral among them, with <c>4pole</c> 5-6 and 7-8 as well. All open together, for good, once
/// the currents of the poles do not add up to nothing by three quarters of the stated residual amps: what is missing has gone home another
/// way.
/// </summary>
/// <remarks>IEC 61008-1 wants a trip between half and all of the stated residual current; three quarters is the middle.</remarks>
public sealed class Rcd : PartKind
{
    public override string Word => "rcd";
    public override string Spoken => "residual-current device";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ampere];
    public override IReadOnlyList<string> OwnWords => [FourPoles];

    private const string FourPoles = "4pole";

    /// <summary>Share of the stated residual current at which it trips.</summary>
    public const double TripShare = 0.75;

    private const double StatedAmps = 0.030;

    public override PartModel Describe(Part part)
    {
        string[] poles = part.Has(FourPoles) ? ["1-2", "3-4", "5-6", "7-8"] : ["1-2", "3-4"];
        int[] all = [.. Enumerable.Range(0, poles.Length)];
        var links = poles.Select(p => (Link)new Link.Fuse(p, p[..1], p[2..], double.PositiveInfinity)).ToList();
        return new PartModel
        {
            Terminals = [.. links.SelectMany(l => new[] { l.A, l.B })],
            Links = links,
            Trip = 0,
            Residual = new ResidualRule(all, TripShare * (part.Value(Dimension.Ampere) ?? StatedAmps)),
            Faults =
            [
                new("open", new FaultEffect.Open(all), 2),
                new("tripped", new FaultEffect.Open(all), 0),
                .. poles.Select((p, i) => new FaultMode($"open {p}", new FaultEffect.Open(i), 0.3)),
            ],
        };
    }
}
