namespace Zoltric.Instruments;

/// <summary>An instrument does not answer, or answers what cannot be used. The message is for the person who holds it.</summary>
public sealed class InstrumentException : Exception
{
    public InstrumentException() { }

    public InstrumentException(string message)
        : base(message) { }

    public InstrumentException(string message, Exception inner)
        : base(message, inner) { }
}
