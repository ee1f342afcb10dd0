namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Lead-acid battery: open-circuit voltage behind an internal resistance, a higher one while taking charge.
/// 2.1 V a cell at full charge. Below that the battery-trade table, linear between its rows: full 12.6 V (six cells at 2.1),
/// three quarters 12.4, half 12.2, quarter 12.0, flat 11.9. Written from memory.
/// </summary>
public sealed class Battery : PartKind
{
    public override string Word => "battery";
    public override bool IsSource => true;
    public override IReadOnlyList<Dimension> Takes => [Dimension.Volt];

    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension>
        {
            ["internal"] = Dimension.Ohm,
            ["charge"] = Dimension.Percent,
            ["emf"] = Dimension.Volt,
        };

    public static double OpenCircuitVolts(double nominal, double chargePercent)
    {
        ReadOnlySpan<double> at12 = [11.9, 12.0, 12.2, 12.4, 12.6];
        var x = Math.Clamp(chargePercent, 0, 100) / 25;
        var i = Math.Min((int)x, 3);
        return nominal / 12 * (at12[i] + (at12[i + 1] - at12[i]) * (x - i));
    }

    public override PartModel Describe(Part part)
    {
        var nominal = part.Value(Dimension.Volt) ?? part.NominalVolts;
        var emf = part.NamedValue("emf") ?? OpenCircuitVolts(nominal, part.NamedValue("charge") ?? 100);
        var giving = part.NamedValue("internal") ?? Defaults.BatteryGivingOhms;
        return new PartModel
        {
            Terminals = ["+", "-"],
            Through = ("+", "-"),
            Links =
            [
                new Link.Source(
                    "source",
                    "+",
                    "-",
                    emf,
                    giving,
                    Math.Max(giving, Defaults.BatteryTakingOhms),
                    double.PositiveInfinity,
                    null
                ),
            ],
            Faults =
            [
                new("flat", new FaultEffect.Emf(0), 4) { Value = Dimension.Volt, DefaultValue = nominal * 0.85 },
                new("internal", new FaultEffect.SetOhms(0), 2) { Value = Dimension.Ohm },
                new("dead", new FaultEffect.Open(0), 1),
            ],
        };
    }
}
