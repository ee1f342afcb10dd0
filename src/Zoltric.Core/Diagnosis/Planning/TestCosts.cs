using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>
/// Minutes a test takes: reach of every place not yet open, paid once; setting the machine; handling the instrument; switching power off
/// and on. Making safe costs nothing. The figures are estimates; the table stands in docs/costs.md.
/// </summary>
internal sealed class TestCosts
{
    public const double ControlMove = 0.1,
        PowerCycle = 0.5,
        Unplug = 0.5,
        Pull = 0.3,
        Lift = 1,
        Move = 0.5,
        SecondPerson = 0.3;

    private readonly Circuit _circuit;
    private readonly HashSet<string> _open = [];
    private readonly Setup _set = Setup.Rest;
    private readonly bool _modules;

    public TestCosts(Circuit circuit, IEnumerable<Reading> readings)
    {
        (_circuit, _modules) = (circuit, circuit.Parts.Any(p => p.Kind is Circuits.Kinds.Module));
        // Isolating and proving dead cost nothing, and open nothing for what comes after.
        foreach (var r in readings.Where(r => !ReadingKinds.IsProofOfDead(circuit, r)))
        {
            foreach (var (place, _) in Places(r.Test))
                _open.Add(place);
            _set = r.Test.Setup;
        }
    }

    public double Minutes(Test test)
    {
        var minutes = test.Probe.Minutes;
        foreach (var (place, reach) in Places(test))
            if (!_open.Contains(place))
                minutes += reach;
        var (setting, held) = _settings.GetOrAdd(test.Setup, s => Setting(_set, s));
        return minutes + setting + (held && test.Probe is not Probe.Sees ? SecondPerson : 0);
    }

    public const double LiveMains = 2,
        MovingPart = 1,
        DisturbsEvidence = 0.5,
        Misleads = 0.5;

    /// <summary>The same for leaving a state that was waited for, as a share of the wait: who comes back waits again.</summary>
    public const double LosesWait = 0.2;

    /// <summary>
    /// Minutes that a test is put back by in the order, though it takes none: risk (live mains, a tip near what moves), evidence disturbed
    /// (a joint taken apart that may be the fault), readings that mislead (volts with nothing drawing, ohms to a rail that modules hang
    /// on). Estimates; they count in no comparison of minutes.
    /// </summary>
    public double Penalty(Test test)
    {
        var tips = test.Probe.Tips.Select(t => _circuit.FindPart(t.Tag)).OfType<Part>().ToList();
        var (live, apart) = (
            TestRules.IsLive(_circuit, test),
            test.Setup.Interventions.Any(i => i is Intervention.Unplug or Intervention.Lift)
        );
        return (live && TestRules.IsDangerous(_circuit, test) ? LiveMains : 0)
            + (live && test.Setup.Steps.Count > 0 && tips.Exists(p => p.Hazards.Contains("rotating")) ? MovingPart : 0)
            + (apart ? DisturbsEvidence : 0)
            + (live && apart && test.Probe is Probe.Volts || !apart && test.Probe is Probe.Ohms && ThroughElectronics(tips) ? Misleads : 0)
            + (
                _set.AfterSeconds >= 60 && !(test.Setup.AfterSeconds > 0 && Waited(_set, test.Setup))
                    ? LosesWait * _set.AfterSeconds / 60
                    : 0
            );
    }

    /// <summary>Ohms to the supply or its return, where modules hang on both: what a meter makes of electronics is no resistance.</summary>
    private bool ThroughElectronics(List<Part> tips) =>
        _modules && tips.Exists(p => p.Kind.IsSource || p.Tag == _circuit.ReferencePoint.Tag);

    /// <summary>How the machine is set now.</summary>
    public Setup Standing => _set;

    public bool IsOpen(string place) => _open.Contains(place);

    /// <summary>Minutes from one setup to another.</summary>
    public double Between(Setup from, Setup to)
    {
        var (minutes, held) = Setting(from, to);
        return minutes + (held ? SecondPerson : 0);
    }

    private readonly ConcurrentDictionary<Setup, (double Minutes, bool Held)> _settings = new();

    private (double Minutes, bool Held) Setting(Setup from, Setup to)
    {
        if (to.Equals(from))
            return (0, false);
        var moves = to.Steps.SelectMany(s => s).ToList();
        var minutes = ControlMove * moves.Count(m => !from.Steps.SelectMany(s => s).Contains(m));
        if (IsDead(to) != IsDead(from))
            minutes += PowerCycle;
        if (!Waited(from, to))
            minutes += to.AfterSeconds / 60;
        foreach (var i in to.Interventions)
            if (!from.Interventions.Contains(i))
                minutes += i switch
                {
                    Intervention.Unplug => Unplug,
                    Intervention.Pull => Pull,
                    Intervention.Lift => Lift,
                    _ => 0,
                };
        return (
            minutes + Move * to.Moved.Count,
            moves.Exists(m => _circuit.FindControl(m.Control) is { } c && c.Held.Contains(m.Position))
        );
    }

    /// <summary>
    /// True when the wait of a setup is over already: nothing has been moved, and nothing put back that would wake what sleeps.
    /// </summary>
    private static bool Waited(Setup from, Setup to) =>
        from.AfterSeconds >= to.AfterSeconds
        && (
            to.AfterSeconds == 0
            || string.Join(", ", from.Steps.SelectMany(s => s)) == string.Join(", ", to.Steps.SelectMany(s => s))
                && from.Interventions.All(to.Interventions.Contains)
        );

    private static bool IsDead(Setup s) => s.Interventions.Any(i => i is Intervention.Off);

    /// <summary>Places that must be open for the test, with the minutes to get there the first time.</summary>
    public IEnumerable<(string Place, double Reach)> Places(Test test) => Places(_circuit, test);

    /// <summary>The same on any circuit.</summary>
    public static IEnumerable<(string Place, double Reach)> Places(Circuit circuit, Test test)
    {
        var taken = test.Setup.Interventions.Select(i =>
            i switch
            {
                Intervention.Unplug u => u.Tag,
                Intervention.Pull p => p.Tag,
                _ => null,
            }
        );
        foreach (var tag in test.Probe.Reaches(circuit).Concat(taken).OfType<string>().Distinct())
            // The black tip is at the reference in any case.
            if (circuit.FindPart(tag) is { } part)
                yield return (part.PlaceOrTag, tag == circuit.ReferencePoint.Tag ? 0 : part.ReachMinutes);
    }
}
