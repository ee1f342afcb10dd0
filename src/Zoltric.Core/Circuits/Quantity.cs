namespace Zoltric.Core.Circuits;

/// <summary>What a written value measures.</summary>
public enum Dimension
{
    None,
    Volt,
    Ampere,
    Ohm,
    Watt,
    VoltAmpere,
    Second,
    Metre,
    SquareMillimetre,
    WireGauge,
    Celsius,
    Percent,
    Microfarad,
    Hertz,
}

/// <summary>A value with its dimension, in base units: V, A, Ω, W, VA, s, m, mm², AWG number, °C, %, µF, Hz.</summary>
public readonly record struct Quantity(double Value, Dimension Dimension);
