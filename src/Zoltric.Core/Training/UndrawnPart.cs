using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Training;

/// <summary>A part that stands in a wire of the machine and on no drawing of it.</summary>
/// <param name="Wire">Id of the wire that it stands in, as the drawing has it.</param>
/// <param name="Line">The part as a sheet would say it, <c>part F9 fuse 5A "in-line fuse"</c>.</param>
public sealed record UndrawnPart(string Wire, string Line)
{
    /// <summary>The machine as it is built, or what stands against it.</summary>
    public Parsed<Circuit> In(Circuit drawn)
    {
        ArgumentNullException.ThrowIfNull(drawn);
        var built = FoundPart.Insert(SheetWriter.Write(drawn), Wire, Line);
        return built.Value is { } text ? SheetReader.Read(text) : new(null, built.Problems);
    }
}
