using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Safety;
using Zoltric.Store;

namespace Zoltric.Web.Jobs;

/// <summary>
/// The safety record of a job as it counts for one person: what was said, and the isolation as it stands. Turns rows and lines into events;
/// every rule is the core's.
/// </summary>
public sealed class JobSafety
{
    private readonly Circuit _circuit;
    private readonly HashSet<string> _said;

    public JobSafety(
        Circuit circuit,
        IReadOnlyList<SafetyRow> rows,
        IReadOnlyList<(LineRow Row, Reading? Reading)> lines,
        IntakeRow? intake,
        string who
    )
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(lines);
        _circuit = circuit;
        var inForce = rows.Where(r => !r.Imported).ToList();
        Denied = [.. inForce.Where(r => r.Kind == "denied")];
        Facts = new SafetyFacts(
            IntakeCircumstances.Of(intake?.Conditions).HasFlag(Circumstances.Wet),
            Denied.Select(d => d.Item).ToHashSet(StringComparer.Ordinal)
        );
        _said = [.. inForce.Where(r => r.Kind == "said" && r.Author == who).Select(r => r.Item)];
        Items = MakeSafe.Items(circuit, Facts);
        State = IsolationState.Of(circuit, Events(inForce, lines), who);
    }

    public IReadOnlyList<SafetyItem> Items { get; }
    public SafetyFacts Facts { get; }
    public IsolationState State { get; }

    /// <summary>Parts that a person has said are no safety parts: tag, reason and name.</summary>
    public IReadOnlyList<SafetyRow> Denied { get; }

    public bool IsSaid(SafetyItem item)
    {
        ArgumentNullException.ThrowIfNull(item);
        return item.Id == MakeSafe.LockedId ? State.IsProvedDead : _said.Contains(item.Id);
    }

    /// <summary>What must still be said before a test.</summary>
    public IReadOnlyList<SafetyItem> Unsaid(Test test) => [.. MakeSafe.Needed(_circuit, test, Facts).Where(i => !IsSaid(i))];

    /// <summary>Rows and lines in the order in which they happened.</summary>
    private static IEnumerable<SafetyEvent> Events(List<SafetyRow> rows, IReadOnlyList<(LineRow Row, Reading? Reading)> lines)
    {
        var next = 0;
        foreach (var (line, reading) in lines)
        {
            for (; next < rows.Count && rows[next].AfterLine < line.Id; next++)
                if (EventOf(rows[next]) is { } e)
                    yield return e;
            if (reading is null)
                continue;
            // What was struck out was done all the same; as a proof it counts no more.
            yield return new SafetyEvent.Line(line.Struck ? reading with { Doubtful = true } : reading, line.Author);
        }
        for (; next < rows.Count; next++)
            if (EventOf(rows[next]) is { } e)
                yield return e;
    }

    private static SafetyEvent? EventOf(SafetyRow r) =>
        r.Kind switch
        {
            "lock" => new SafetyEvent.Locked(r.Item, r.Author) { Supply = r.Result },
            "unlock" => new SafetyEvent.Unlocked(r.Item, r.Author),
            // A lead took it off for the person whose it was.
            "forced" => new SafetyEvent.Unlocked("", r.Item),
            "tester" => new SafetyEvent.TesterShownLive(r.Result, r.Author),
            "dead" when double.TryParse(r.Result, NumberStyles.Float, CultureInfo.InvariantCulture, out var v) => new SafetyEvent.SweepRead(
                r.Item,
                v,
                r.Author
            ),
            "energised" => new SafetyEvent.Energised(r.Item, r.Author),
            _ => null,
        };
}
