namespace Zoltric.Core.Circuits.Kinds;

/// <summary>
/// Sensor: a resistance from 1 to 2 (1 kΩ when not given), or with its third terminal a potentiometer whose wiper 3 stands at
/// <c>wiper=40%</c> of the way from 1, half way when not said. With <c>beta=3950 temp=80C</c> it is a thermistor: its ohms are those at 25
/// °C, R(T) = R · exp(β · (1/T − 1/298.15 K)), the equation IEC 60539-1 defines β by.
/// </summary>
public sealed class Sensor : PartKind
{
    public override string Word => "sensor";
    public override IReadOnlyList<Dimension> Takes => [Dimension.Ohm, Dimension.Volt, Dimension.Celsius];
    public override IReadOnlyDictionary<string, Dimension> TakesNamed { get; } =
        new Dictionary<string, Dimension>
        {
            ["wiper"] = Dimension.Percent,
            ["beta"] = Dimension.None,
            ["temp"] = Dimension.Celsius,
        };

    public override PartModel Describe(Part part)
    {
        var ohms = part.Value(Dimension.Ohm) ?? 1000;
        if (part.NamedValue("beta") is { } beta && part.NamedValue("temp") is { } celsius)
            ohms *= Math.Exp(beta * (1 / (Math.Max(celsius, -100) + 273.15) - 1 / 298.15));
        var wiper = Math.Clamp((part.NamedValue("wiper") ?? 50) / 100, 0.001, 0.999);
        return new PartModel
        {
            Terminals = ["1", "2", "3"],
            Through = ("1", "2"),
            // A sensor of two wires has no third.
            Posts = ["3"],
            Links =
            [
                new Link.Resistance("1-3", "1", "3", ohms * wiper, Spread.Load),
                new Link.Resistance("3-2", "3", "2", ohms * (1 - wiper), Spread.Load),
            ],
            Faults =
            [
                new("open", new FaultEffect.Open(0), 2),
                new("resists", new FaultEffect.Series(0), 0.5) { Value = Dimension.Ohm },
                new("shorted", new FaultEffect.Short(0, 1), 0.5) { Value = Dimension.Ohm },
                new("grounded", new FaultEffect.Grounded(0), 0.3) { Value = Dimension.Ohm, DefaultValue = 0.5 },
            ],
        };
    }
}
