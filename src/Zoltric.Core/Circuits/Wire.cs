namespace Zoltric.Core.Circuits;

/// <summary>A wire between two terminals. Unnumbered wires are named by their ends, <c>K1.85~GND1</c>.</summary>
/// <param name="Id">Wire number or the two ends joined by <c>~</c>.</param>
/// <param name="Numbered">True when the sheet gave the number.</param>
/// <param name="Colour">IEC 60757 letters, or null.</param>
/// <param name="Size">Cross section in mm² or an AWG number, or null.</param>
/// <param name="LengthMetres">Length in metres, or null.</param>
/// <param name="Celsius">Temperature of the conductor in °C; 20 when null.</param>
public sealed record Wire(
    string Id,
    bool Numbered,
    Terminal From,
    Terminal To,
    string? Colour,
    Quantity? Size,
    double? LengthMetres,
    double? Celsius = null
)
{
    /// <summary>Resistance in ohms; the default where size or length is not given.</summary>
    public double Ohms =>
        Size is { } size && LengthMetres is { } length
            ? Conductor.Ohms(Conductor.SquareMillimetres(size), length, Celsius ?? Conductor.ReferenceCelsius)
            : Defaults.UnnamedWireOhms;
}

/// <summary>Metal to metal: two terminals that are one point, <c>M1.G = GND1</c>.</summary>
public sealed record Bond(Terminal A, Terminal B);
