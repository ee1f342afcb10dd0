using Zoltric.Core.Metering;

namespace Zoltric.Instruments.Meters;

/// <summary>One reading of a meter.</summary>
/// <param name="Value">V or Ω; infinite for overload.</param>
public readonly record struct MeterSample(double Value, MeterFunction Function)
{
    /// <summary>More than the range holds, shown as OL: open in ohms.</summary>
    public bool IsOverload => double.IsInfinity(Value);
}
