using System.Globalization;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Safety;

/// <summary>How far an isolation has come.</summary>
public enum IsolationStage
{
    /// <summary>Energy may be there.</summary>
    Energised,

    /// <summary>The person's own lock is on.</summary>
    Locked,

    /// <summary>The tester was shown live; the pairs are being read.</summary>
    TesterShown,

    /// <summary>Every pair was read dead; the tester is still to be shown live again.</summary>
    ReadDead,

    /// <summary>Proved dead, live–dead–live.</summary>
    ProvedDead,
}

/// <summary>Volts found where there should be none.</summary>
public sealed record FoundLive(DeadCheck Check, double Volts);

/// <summary>
/// The isolation of a machine as it stands for one person: a state that lives. Lock, tester, sweep, tester; any live step ends it. Nobody's
/// lock or proof stands for another's (29 CFR 1910.147; live–dead–live 29 CFR 1910.333, EN 50110-1).
/// </summary>
/// <remarks>
/// Where nobody is named (readings alone, without a job) lock and tester cannot be shown: the sweep alone counts, and the cautions ask for
/// the rest.
/// </remarks>
public sealed class IsolationState
{
    private readonly Dictionary<string, double> _read = [];
    private readonly bool _named;

    public IsolationPlan Plan { get; }
    public string Who { get; }
    public IsolationStage Stage { get; private set; }

    /// <summary>Numbers of this person's locks by supply; one of an empty key holds all supplies.</summary>
    private readonly Dictionary<string, string> _mine = [];

    /// <summary>Number of this person's lock, or of all of them where the machine has several supplies; null while a supply is not
    /// locked.</summary>
    public string? Lock => _mine.Count > 0 && NextSupply is null ? OwnLocks : null;

    /// <summary>Numbers of this person's locks that are on, whether or not that is all of them; null for none.</summary>
    public string? OwnLocks => _mine.Count == 0 ? null : Numbers(_mine);

    /// <summary>How many locks of this person are on.</summary>
    public int OwnLockCount => _mine.Values.Distinct().Count();

    /// <summary>The supply that this person has to lock next; null where each has its lock.</summary>
    public IsolatedSupply? NextSupply => _mine.ContainsKey("") ? null : Plan.Supplies.FirstOrDefault(s => !_mine.ContainsKey(s.Key));

    private static string Numbers(Dictionary<string, string> locks) => string.Join(", ", locks.Values.Distinct());

    /// <summary>Locks that are on, by person.</summary>
    public IReadOnlyList<(string Who, string Number)> Locks { get; }

    /// <summary>Where the tester was shown live before the sweep, and after it; null while it was not.</summary>
    public string? TesterBefore { get; private set; }
    public string? TesterAfter { get; private set; }

    /// <summary>What ended the last proof of dead, as a sentence; null where none was ended.</summary>
    public string? Ended { get; private set; }

    /// <summary>A check that read live with the sources off and has not been read dead since.</summary>
    public FoundLive? Live { get; private set; }

    /// <summary>A check on which only a high-impedance meter was used and showed volts: nothing is proved by it.</summary>
    public FoundLive? Ghost { get; private set; }

    public static IsolationState Of(Circuit circuit, IEnumerable<SafetyEvent> events, string who = "") =>
        new(IsolationPlan.Of(circuit), [.. events], who);

    /// <summary>The state that readings alone show.</summary>
    public static IsolationState Of(Circuit circuit, IEnumerable<Reading> readings) =>
        Of(circuit, readings.Select(r => new SafetyEvent.Line(r, "")));

    private IsolationState(IsolationPlan plan, IReadOnlyList<SafetyEvent> events, string who)
    {
        (Plan, Who, _named) = (plan, who, who.Length > 0);
        var locks = new Dictionary<string, Dictionary<string, string>>();
        foreach (var e in events)
        {
            switch (e)
            {
                case SafetyEvent.Locked l:
                    if (!locks.TryGetValue(l.Who, out var theirs))
                        locks[l.Who] = theirs = [];
                    theirs[l.Supply] = l.Number;
                    break;
                case SafetyEvent.Unlocked u:
                    locks.Remove(u.Who);
                    break;
            }
            Take(e);
        }
        Locks = [.. locks.OrderBy(l => l.Key, StringComparer.Ordinal).Select(l => (l.Key, Numbers(l.Value)))];
        Stage =
            IsProvedDead ? IsolationStage.ProvedDead
            : !NeedsLock || !_named ? IsolationStage.Energised
            : Lock is null ? IsolationStage.Energised
            : TesterBefore is null ? IsolationStage.Locked
            : Pending.Count > 0 ? IsolationStage.TesterShown
            : IsolationStage.ReadDead;
    }

    /// <summary>True where the long form holds: lock, tester, every pair, tester.</summary>
    public bool NeedsLock => !Plan.IsShort;

    /// <summary>Checks still to be read dead.</summary>
    public IReadOnlyList<DeadCheck> Pending => [.. Plan.Sweep.Where(c => !(_read.TryGetValue(c.Key, out var v) && SafetyLimits.IsDead(v)))];

    /// <summary>Volts read for a check since the isolation began; null for none.</summary>
    public double? ReadFor(DeadCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return _read.TryGetValue(check.Key, out var v) ? v : null;
    }

    /// <summary>True where ohms may be read on every net that does not stay live.</summary>
    public bool IsProvedDead =>
        Live is null
        && Plan.Sweep.Count > 0
        && Pending.Count == 0
        && (!NeedsLock || !_named || Lock is not null && TesterBefore is not null && TesterAfter is not null);

    /// <summary>True where nobody may work the machine or touch it live: a lock is on.</summary>
    public bool IsLockedOut => Locks.Count > 0;

    private void Take(SafetyEvent e)
    {
        var mine = !_named || e.Who == Who || e.Who.Length == 0;
        switch (e)
        {
            case SafetyEvent.Locked l when mine:
                Begin();
                _mine[l.Supply] = l.Number;
                Ended = null;
                break;
            case SafetyEvent.Unlocked when mine:
                if (_mine.Count > 0)
                    End("The lock was taken off.");
                _mine.Clear();
                break;
            case SafetyEvent.TesterShownLive t when mine && TesterBefore is null && Lock is not null:
                TesterBefore = t.Where;
                break;
            case SafetyEvent.TesterShownLive t when mine && Pending.Count == 0:
                TesterAfter = t.Where;
                break;
            case SafetyEvent.SweepRead s when mine && Plan.Sweep.FirstOrDefault(c => c.Key == s.Key) is { } check:
                Read(check, s.Volts, lowImpedance: true);
                break;
            case SafetyEvent.Energised x:
                End(x.Why);
                break;
            case SafetyEvent.Line { Reading: var r } when IsDeadCheck(r.Test) is { } found:
                if (mine && !r.Doubtful && VoltsOf(r) is { } v)
                    Read(found, v, r.Test.Probe is Probe.Volts { Function: not VoltsFunction.Ac });
                break;
            case SafetyEvent.Line { Reading: var r } when LiveWhileOff(r) is { } live:
                Read(live.Check, live.Volts, lowImpedance: true);
                break;
            case SafetyEvent.Line { Reading: var r } when Energises(r.Test):
                End($"The machine was live for “{r.Test}”.");
                break;
        }
    }

    private void Read(DeadCheck check, double volts, bool lowImpedance)
    {
        _read[check.Key] = volts;
        TesterAfter = null;
        if (SafetyLimits.IsDead(volts))
        {
            if (Live?.Check.Key == check.Key)
                Live = null;
            if (Ghost?.Check.Key == check.Key)
                Ghost = null;
        }
        else if (lowImpedance)
            (Live, Ghost) = (new FoundLive(check, volts), null);
        else
            Ghost = new FoundLive(check, volts);
    }

    private void Begin()
    {
        _read.Clear();
        (TesterBefore, TesterAfter, Live, Ghost) = (null, null, null, null);
    }

    private void End(string why)
    {
        // What ends is said once something had been proved or locked.
        if (_read.Count > 0 || _mine.Count > 0)
            Ended = why;
        Begin();
    }

    /// <summary>
    /// The check of the sweep that a test makes: volts between the same two nets with every source off. The dial must suit: alternating or
    /// low impedance where alternating volts can be, direct where direct can be.
    /// </summary>
    public DeadCheck? IsDeadCheck(Test test)
    {
        ArgumentNullException.ThrowIfNull(test);
        if (test.Probe is not Probe.Volts v || !Plan.IsOff(test.Setup) || test.Setup.Steps.Count > 0 && ClosesDevice(test.Setup))
            return null;
        var nets = Nets.Of(Plan.Circuit);
        var q = v.Q ?? Plan.Circuit.ReferencePoint;
        return Plan.Sweep.FirstOrDefault(c =>
            c.IsBetween(nets, v.P, q) && (c.Function == VoltsFunction.Dc ? v.Function != VoltsFunction.Ac : v.Function != VoltsFunction.Dc)
        );
    }

    /// <summary>True for a test that has energy on, or that moves a device of the isolation to on.</summary>
    public bool Energises(Test test)
    {
        ArgumentNullException.ThrowIfNull(test);
        return test.Probe is not (Probe.Code or Probe.Replaced or Probe.Looks) && (!Plan.IsOff(test.Setup) || ClosesDevice(test.Setup));
    }

    /// <summary>Volts read anywhere with every source off, whether the sweep asks for them or not: live is live.</summary>
    private FoundLive? LiveWhileOff(Reading r)
    {
        if (r.Doubtful || r.Test.Probe is not Probe.Volts v || !Plan.IsOff(r.Test.Setup) || VoltsOf(r) is not { } volts)
            return null;
        var check = new DeadCheck(
            v.P,
            v.Q ?? Plan.Circuit.ReferencePoint,
            v.Function == VoltsFunction.Ac ? VoltsFunction.LowImpedance : v.Function,
            "read live"
        );
        if (SafetyLimits.IsDead(volts))
            return Live?.Check.Key == check.Key ? new FoundLive(check, volts) : null;
        return v.Function == VoltsFunction.Ac ? null : new FoundLive(check, volts);
    }

    private bool ClosesDevice(Setup setup)
    {
        var devices = Plan.Supplies.SelectMany(s => s.Devices).ToList();
        foreach (var move in setup.Steps.SelectMany(s => s))
            if (
                devices.Any(d =>
                    d.Contacts.Any(c =>
                        c.Closed
                        && (c.When?.Leaves() ?? [])
                            .OfType<Condition.Position>()
                            .Any(p =>
                                p.Control.Equals(move.Control, StringComparison.OrdinalIgnoreCase)
                                && p.At.Equals(move.Position, StringComparison.OrdinalIgnoreCase)
                            )
                    )
                )
            )
                return true;
        return false;
    }

    private static double? VoltsOf(Reading r) =>
        r.Result switch
        {
            ReadingResult.Number n => n.Value,
            // A range says how far it may be off: its farthest end.
            ReadingResult.Range x => Math.Abs(x.Low) > Math.Abs(x.High) ? x.Low : x.High,
            _ => null,
        };

    /// <summary>Equal for equal states, as far as advice hangs on them.</summary>
    public string Signature =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{(IsLockedOut ? Who : "")} {Stage} {IsProvedDead} {string.Join(',', Pending.Select(c => c.Key))} {string.Join(',', Locks)} "
                + $"{Live?.Check.Key} {Live?.Volts}"
        );

    /// <summary>The state in a line, for a banner.</summary>
    public string Say
    {
        get
        {
            if (Live is { } live)
                return string.Create(
                    CultureInfo.InvariantCulture,
                    $"STOP: {live.Volts:0.#} V between {live.Check.P} and {live.Check.Q} with the sources off."
                );
            if (Stage == IsolationStage.ProvedDead)
                return NeedsLock && Lock is not null ? $"Proved dead. Lock {Lock} is on, {Who}." : "Read dead with the sources off.";
            return Stage switch
            {
                IsolationStage.Locked => $"Locked: {Lock}, {Who}. Not proved dead yet.",
                IsolationStage.TesterShown => $"Locked: {Lock}, {Who}. {Pending.Count} of {Plan.Sweep.Count} pairs still to be read.",
                IsolationStage.ReadDead => $"Locked: {Lock}, {Who}. Every pair read dead; show the tester live again.",
                _ when OwnLocks is { } on && NextSupply is { } next =>
                    $"Locked: {on}, {Who}. Not locked yet, treat as live: {string.Join(" and ", next.Sources.Select(s => s.Spoken))}.",
                _ => Locks.Count > 0 ? $"Locked by {string.Join(", ", Locks.Select(l => $"{l.Who} ({l.Number})"))}." : "Treat as live.",
            };
        }
    }
}
