namespace Zoltric.Drawing.Symbols;

/// <summary>Make contact (IEC 60617-S00227).</summary>
public sealed class Switch : ContactSymbol
{
    public override string Kind => "switch";

    protected override string Sign => "";
}
