namespace Zoltric.Drawing.Schematic;

/// <summary>Screen colours for the letters of IEC 60757, as one or two of them: ground colour, then tracer.</summary>
public static class WireColours
{
    private static readonly Dictionary<string, string> Known = new(StringComparer.OrdinalIgnoreCase)
    {
        ["BK"] = "#1d1d1b",
        ["BN"] = "#7a4a21",
        ["RD"] = "#c8201e",
        ["OG"] = "#e97c12",
        ["YE"] = "#f0c810",
        ["GN"] = "#2f8f46",
        ["BU"] = "#2563b8",
        ["VT"] = "#7b4a9e",
        ["GY"] = "#8a8f94",
        ["WH"] = "#ffffff",
        ["PK"] = "#ec8fae",
        ["TQ"] = "#2aa5a0",
        ["GD"] = "#b8912c",
        ["SR"] = "#b9bec3",
    };

    /// <summary>Ground colour and tracer, or null where the letters are not known; GNYE is green with yellow.</summary>
    public static (string Ground, string? Tracer)? Find(string? letters)
    {
        if (string.IsNullOrEmpty(letters))
            return null;
        var two = letters.Replace("/", "", StringComparison.Ordinal).Replace("-", "", StringComparison.Ordinal);
        if (two.Length < 2 || !Known.TryGetValue(two[..2], out var ground))
            return null;
        return (ground, two.Length >= 4 && Known.TryGetValue(two[2..4], out var tracer) ? tracer : null);
    }
}
