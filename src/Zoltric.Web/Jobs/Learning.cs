using Zoltric.Core.Faults;
using Zoltric.Store;
using Zoltric.Web.Sheets;

namespace Zoltric.Web.Jobs;

/// <summary>What the closed jobs have taught, by the settings of the workshop.</summary>
public sealed class Learning(LearningStore store, SheetLibrary library)
{
    /// <summary>The learnt odds as a new job keeps them; empty while learning is off.</summary>
    public async Task<string> Odds() => (await store.Settings()).On ? (await Counted()).Write() : "";

    /// <summary>What is counted now, whether it is used or not.</summary>
    public async Task<LearntOdds> Counted()
    {
        var jobs = new List<ClosedFinding>();
        foreach (var row in await store.Closed())
        {
            if (library.Get(row.SheetText).Value is not { } sheet || row.Fault.StartsWith(FindingRow.NotDrawn, StringComparison.Ordinal))
                continue;
            var unit = row.Fault.Split(' ', 2)[0];
            var aged = row.Fault.Contains(" aged", StringComparison.Ordinal);
            if (!aged && sheet.Circuit.FindWire(unit) is null && sheet.Circuit.FindPart(unit.Split(':', '/')[0]) is null)
                continue;
            jobs.Add(new ClosedFinding(row.Family ?? "", aged ? "string" : LearntOdds.KindOf(sheet.Circuit, unit), sheet.BaseShares));
        }
        return LearntOdds.From(jobs);
    }
}
