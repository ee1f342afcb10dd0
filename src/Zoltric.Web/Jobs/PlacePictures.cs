using Zoltric.Core.Circuits;

namespace Zoltric.Web.Jobs;

/// <summary>Under which names a machine's pictures are kept, and which of them shows where a test is made.</summary>
public static class PlacePictures
{
    /// <summary>Name of the picture of a plug's face.</summary>
    public static string FaceOf(Part plug)
    {
        ArgumentNullException.ThrowIfNull(plug);
        return $"face of {plug.Tag}";
    }

    /// <summary>The picture to look at for a test: the face of the plug that the first tip goes on, else the place of its part; null for
    /// none.</summary>
    /// <param name="kept">Names of the machine's pictures.</param>
    public static string? For(Circuit circuit, Test test, IReadOnlyCollection<string> kept)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        ArgumentNullException.ThrowIfNull(kept);
        return test
            .Probe.Tips.Select(t => circuit.FindPart(t.Tag))
            .OfType<Part>()
            .SelectMany(p => new[] { FaceOf(p), p.Place })
            .FirstOrDefault(name => name is not null && kept.Contains(name));
    }
}
