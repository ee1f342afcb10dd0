using System.Data.Common;
using System.Reflection;
using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Store;

namespace Zoltric.Web.Jobs;

/// <summary>
/// What the closed jobs have taught, by the settings of the workshop. Each job and each sheet is worked out once; the store sums them.
/// </summary>
public sealed partial class Learning(LearningStore store, ILogger<Learning> log)
{
    /// <summary>Jobs read at once, and sheets that one request works out; estimates. The rest is counted in the background.</summary>
    private const int AtOnce = 200,
        MostSheets = 20;

    /// <summary>The learnt odds as a new job keeps them; empty while learning is off.</summary>
    public async Task<string> Odds() => (await store.Settings()).On ? (await Counted()).Write() : "";

    /// <summary>What is counted now, whether it is used or not.</summary>
    public async Task<LearntOdds> Counted()
    {
        await CountMore(CancellationToken.None);
        var (found, expected) = await store.Counted();
        return LearntOdds.From([
            .. found
                .GroupBy(f => f.Family)
                .Select(f => new FamilyCount(
                    f.Key,
                    f.ToDictionary(k => k.Kind, k => (int)k.Jobs),
                    expected.Where(e => e.Family == f.Key).ToDictionary(e => e.Kind, e => e.Jobs)
                )),
        ]);
    }

    /// <summary>Counts jobs that are closed and not counted yet, sheet by sheet.</summary>
    /// <returns>True where more may be left.</returns>
    public async Task<bool> CountMore(CancellationToken stopping)
    {
        var waiting = await store.Uncounted(AtOnce);
        var sheets = waiting.GroupBy(j => j.SheetId).ToList();
        foreach (var sheet in sheets.Take(MostSheets))
        {
            stopping.ThrowIfCancellationRequested();
            var first = sheet.First();
            var circuit = SheetReader.Read(first.SheetText) is { Ok: true, Value: { } read } ? read : null;
            var shares = circuit is null || first.Known ? null : await SharesOf(circuit, sheet.Key, stopping);
            var counts = circuit is not null && (first.Known || shares is not null);
            await store.Keep(sheet.Key, [.. sheet.Select(j => (j.Id, counts ? KindOf(circuit!, j.Fault) : ""))], shares);
        }
        return waiting.Count == AtOnce || sheets.Count > MostSheets;
    }

    /// <summary>
    /// Shares of a sheet, on a budget of their own and not on that of whoever asks; null for a sheet that cannot be worked out, whose jobs
    /// then teach nothing.
    /// </summary>
    private Task<IReadOnlyDictionary<string, double>?> SharesOf(Circuit circuit, long sheet, CancellationToken stopping) =>
        Task.Run<IReadOnlyDictionary<string, double>?>(
            () =>
            {
                WorkBudget.Begin(gone: stopping);
                try
                {
                    return LearntOdds.BaseShares(circuit, FaultCatalogue.Suspects(new Machine(circuit)));
                }
                catch (Exception e) when (e is not OperationCanceledException)
                {
                    NotCounted(log, sheet, e);
                    return null;
                }
            },
            stopping
        );

    [LoggerMessage(Level = LogLevel.Warning, Message = "The jobs of sheet {Sheet} teach nothing: its faults cannot be listed.")]
    private static partial void NotCounted(ILogger log, long sheet, Exception why);

    /// <summary>How often a finding's kind was found in the twelve months before it; null for one that is nothing on the sheet.</summary>
    public async Task<(string Kind, long Here, long All)?> OfYear(JobRow job, Circuit circuit, FindingRow finding)
    {
        if (KindOf(circuit, finding.Fault) is not { Length: > 0 } kind)
            return null;
        var (here, all) = await store.OfYear(job.MachineId, kind, finding.At, job.Id);
        return (kind, here, all);
    }

    /// <summary>Kind of what a finding names on the sheet; empty where it names nothing there.</summary>
    private static string KindOf(Circuit circuit, string fault)
    {
        if (fault.StartsWith(FindingRow.NotDrawn, StringComparison.Ordinal))
            return "";
        if (fault.Contains(" aged", StringComparison.Ordinal))
            return "string";
        var unit = fault.Split(' ', 2)[0];
        var named = circuit.FindWire(unit) is not null || circuit.FindPart(unit.Split(':', '/')[0]) is not null;
        return named ? LearntOdds.KindOf(circuit, unit) : "";
    }
}

/// <summary>After the start, counts what older versions of the program counted otherwise, or nobody yet.</summary>
public sealed partial class LearningCount(LearningStore store, Learning learning, ILogger<LearningCount> log) : BackgroundService
{
    /// <summary>The first pages come before it; who asks for the counts does not wait for it.</summary>
    private static readonly TimeSpan AfterStart = TimeSpan.FromSeconds(10);

    public override async Task StartAsync(CancellationToken cancellationToken)
    {
        await store.CountedBy(Assembly.GetExecutingAssembly().GetName().Version?.ToString() ?? "");
        await base.StartAsync(cancellationToken);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            await Task.Delay(AfterStart, stoppingToken);
            while (await learning.CountMore(stoppingToken))
                await Task.Delay(TimeSpan.FromMilliseconds(50), stoppingToken);
        }
        catch (DbException e)
        {
            // A full disk or a locked file: what is left is counted when somebody asks.
            Stopped(log, e);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Closed jobs are not all counted.")]
    private static partial void Stopped(ILogger log, Exception why);
}
