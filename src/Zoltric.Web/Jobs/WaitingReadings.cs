using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Safety;

namespace Zoltric.Web.Jobs;

/// <summary>Which answers a phone without network may keep until it has one again.</summary>
public static class WaitingReadings
{
    /// <summary>
    /// True for the order in hand where nothing has to be said, locked or proved before it, and no dangerous volts can stand at its tips: a
    /// proof of dead, a lock and a live test on mains count only once the server has them.
    /// </summary>
    public static bool MayWait(JobView view, string who)
    {
        ArgumentNullException.ThrowIfNull(view);
        return !view.Closed
            && view.Next is { Kind: not AdviceKind.ProveDead } next
            && !TestRules.IsDangerous(view.Circuit, next.Test, view.Options.Facts.Wet)
            && !TestRules.IsDeadCheck(view.Circuit, next.Test)
            && !view.SafetyFor(who).Unsaid(next.Test).Any();
    }

    /// <summary>True where no dangerous volts can stand anywhere on the machine: readings of one's own may wait as well.</summary>
    public static bool MayWaitAnywhere(JobView view)
    {
        ArgumentNullException.ThrowIfNull(view);
        return !TestRules.HasDangerousVolts(view.Circuit, view.Options.Facts.Wet);
    }
}
