namespace Zoltric.Core.Circuits.Kinds;

/// <summary>Stud and splice: one point; each wire on it has its own lug, joined to the others through the point.</summary>
public abstract class Point : PartKind
{
    public override bool Unplugs => false;

    public override PartModel Describe(Part part) => new() { Terminals = [""], IsPoint = true };
}
