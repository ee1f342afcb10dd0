namespace Zoltric.Core.Notation;

/// <summary>
/// JSON can hold half a character (RFC 8259, section 8.2: an escaped surrogate without its other half). It is found only where a text is
/// taken out of what was read, and then is neither a fault of the form nor of ours.
/// </summary>
public static class HalfCharacter
{
    public const string Said = "There is half a character in it: it was cut off or is no text.";

    /// <summary>What System.Text.Json throws where a text or a name holds one.</summary>
    public static bool Is(Exception e) => e is InvalidOperationException or ArgumentException;
}
