using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Training;

/// <summary>
/// What a part costs to buy and how long it takes to put in, for the bill of an exercise: rough sizes against one another, estimates, no
/// source.
/// </summary>
public static class PartPrices
{
    /// <summary>In the currency of nobody.</summary>
    public static double Price(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind switch
        {
            Module => 600,
            Starter => 350,
            Battery => 180,
            Motor3 or Motor => 280,
            Relay or Fuse or Lamp => 15,
            _ => 45,
        };
    }

    /// <summary>Minutes to put a part in, beside the way to it.</summary>
    public static double Minutes(Part part)
    {
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind switch
        {
            Module or Starter or Motor3 or Motor => 45,
            Battery => 15,
            Relay or Fuse or Lamp => 2,
            _ => 20,
        };
    }

    /// <summary>Minutes to mend a wire, a pin or a stud.</summary>
    public const double Joint = 15;
}
