using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Diagnosis.Explanation;

/// <summary>What ohms and volts on a two-wire bus mean. Two terminators of 120 Ω make 60 Ω (ISO 11898-2).</summary>
internal static class TwoWireBus
{
    /// <summary>Ohms under which the wires touch, and over which no terminator is seen; common practice, no source.</summary>
    private const double Touching = 10,
        NoneSeen = 1000;

    /// <summary>How near a figure must be to that of so many terminators, as a share.</summary>
    private const double Near = 0.15;

    /// <summary>The wire of a bus at a point, true for the high one; null elsewhere.</summary>
    public static bool? WireAt(Circuit circuit, Terminal at) => Nets.Of(circuit).BusWireAt(at)?.High;

    /// <summary>What ohms from one wire of a bus to the other mean; null between other points, and where nothing can be said.</summary>
    /// <param name="asDrawn">Whether a sound machine reads so in this setup: with a plug off, one end is beyond it.</param>
    public static string? OhmsMean(Circuit circuit, Across x, double ohms, bool asDrawn)
    {
        if (WireAt(circuit, x.P.Terminal) is not { } p || WireAt(circuit, x.Q.Terminal) is not { } q || p == q)
            return null;
        var ends = circuit.Parts.Where(t => t.Kind is Terminator).Select(t => t.Model.Links[0].Ohms).ToList();
        if (ends.Count == 0)
            return null;
        if (ohms < Touching)
            return "the two wires touch, or a module is shorted inside";
        if (ohms > NoneSeen)
            return "no terminator is seen from here: both ends are lost, or the wires to them";
        for (var n = 1; n <= ends.Count + 1; n++)
            if (Math.Abs(ohms * n / ends[0] - 1) < Near)
                return n == ends.Count ? $"{Count(n)}, as drawn"
                    : n < ends.Count && asDrawn ? $"{Count(n)}, as it should be with that plug off"
                    : n < ends.Count ? $"{Count(n)} where {ends.Count} are drawn: an end is lost, or a wire to it"
                    : $"{Count(n)} where {ends.Count} are drawn: one too many, often inside a module";
        return null;

        static string Count(int n) => n == 1 ? "one terminator" : $"{n} terminators";
    }
}
