namespace Zoltric.Core.Circuits;

/// <summary>Points and wires as a colleague says them.</summary>
public static class PointNames
{
    /// <summary>A point by the name of its part, then its terminal.</summary>
    public static string Point(Circuit circuit, Terminal t)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        if (t.Name == "PE")
            return "earth (bare metal of the frame)";
        if (circuit.FindPart(t.Tag) is not { } part)
            return t.ToString();
        var name = part.Label is { Length: > 0 } label ? $"{label} {t.Tag}" : part.Spoken;
        return t.Name.Length == 0 ? name
            : t.IsPin ? $"{name}, pin {t.Name[..^1]}"
            : $"{name}, {(t.Name is "+" or "-" ? t.Name.Replace('-', '−') : "terminal " + t.Name)}";
    }

    /// <summary>Where the black tip is when nothing is said.</summary>
    public static string Reference(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var r = circuit.ReferencePoint;
        return circuit.FindPart(r.Tag) is { } p ? $"{p.Spoken} {(r.Name == "-" ? "−" : r.Name)}" : r.ToString();
    }

    /// <summary>A wire by colour and number.</summary>
    public static string Wire(Wire w)
    {
        ArgumentNullException.ThrowIfNull(w);
        return w.Colour is null ? w.Id : $"{w.Colour} {w.Id}";
    }
}
