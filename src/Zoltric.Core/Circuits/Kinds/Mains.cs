using System.Numerics;

namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Mains as phasors, each phase behind 50 mΩ: single <c>230V</c> (L,N,PE), <c>120/240V split</c> (L1,L2,N,PE; legs in opposition),
/// <c>400V 3ph</c> (L1,L2,L3,N,PE; 400/√3 to neutral, 120° apart). PE is joined to N at the source.
/// 50 Hz when not said: <c>60Hz</c>.
/// </summary>
public sealed class Mains : PartKind
{
    public override string Word => "mains";
    public override bool IsMains => true;
    public override bool IsSource => true;
    public override bool Unplugs => false;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt, Dimension.Hertz];
    public override IReadOnlyList<string> OwnWords => ["split", "3ph"];
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension> { ["internal"] = Dimension.Ohm };

    /// <summary>One of three phases of these line volts, to the neutral.</summary>
    public static Complex Phase(double line, int phase) => Complex.FromPolarCoordinates(line / Math.Sqrt(3), -phase * 2 * Math.PI / 3);

    public override PartModel Describe(Part part)
    {
        var volts = part.Values.Where(v => v.Dimension == Dimension.Volt).Select(v => v.Value).DefaultIfEmpty(part.NominalVolts).ToList();
        var ohms = part.NamedValue("internal") ?? Defaults.MainsOhms;
        (string Name, Complex Volts)[] phases =
            part.Has("3ph") ? [.. Enumerable.Range(0, 3).Select(i => ($"L{i + 1}", Phase(volts[0], i)))]
            : part.Has("split") ? [("L1", volts.Count > 1 ? volts[0] : volts[0] / 2), ("L2", -(volts.Count > 1 ? volts[0] : volts[0] / 2))]
            : [("L", volts[0])];
        var links = phases
            .Select(p => (Link)new Link.Source(p.Name, p.Name, "N", 0, ohms, ohms, double.PositiveInfinity, null) { Ac = p.Volts })
            .ToList();
        links.Add(new Link.Resistance("PE", "PE", "N", ohms, Spread.None));
        var modes = new List<FaultMode>
        {
            new("dead", new FaultEffect.Open([.. Enumerable.Range(0, phases.Length)]), 1),
            new("flat", new FaultEffect.EmfScale(volts[^1]), 0.3) { Value = Dimension.Volt, DefaultValue = volts[^1] * 0.8 },
        };
        if (phases.Length > 1)
            for (var i = 0; i < phases.Length; i++)
                modes.Add(new($"lost {phases[i].Name}", new FaultEffect.Open(i), 1));
        return new PartModel
        {
            Terminals = [.. phases.Select(p => p.Name), "N", "PE"],
            Links = links,
            Faults = modes,
        };
    }
}
