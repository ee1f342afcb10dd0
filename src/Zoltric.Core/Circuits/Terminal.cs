namespace Zoltric.Core.Circuits;

/// <summary>
/// A point a probe can name. <c>K1.86</c> is terminal 86 of K1; <c>X3:4a</c> is half a of pin 4; a stud or splice is one
/// point and has an empty name.
/// </summary>
public readonly record struct Terminal(string Tag, string Name, bool IsPin = false)
{
    public override string ToString() => Name.Length == 0 ? Tag : Tag + (IsPin ? ':' : '.') + Name;
}
