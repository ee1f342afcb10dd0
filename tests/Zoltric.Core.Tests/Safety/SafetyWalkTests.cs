using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Patterns;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Safety;

/// <summary>
/// The rules of the work as a person would read them in the handbook, over the solver's volts alone: none of the rules of the product are
/// used here. What was done since the machine last had energy is all it remembers.
/// </summary>
internal sealed class Referee(Machine machine)
{
    // Written out again on purpose: 25 V AC and 60 V DC (HD 60364-4-41, from memory), dead under 1 V.
    private const double TouchAc = 25,
        TouchDc = 60,
        Dead = 1;
    private readonly Circuit _circuit = machine.Circuit;
    private readonly List<Probe.Volts> _readDead = [];
    private readonly HashSet<string> _locks = [];

    /// <summary>Ways in which a source may still be connected: each live end of it by itself, every other source off.</summary>
    private readonly List<(string Name, OperatingPoint Op)> _stillOn = [.. StillOn(machine)];

    private static IEnumerable<(string, OperatingPoint)> StillOn(Machine machine)
    {
        var circuit = machine.Circuit;
        foreach (var source in circuit.Parts.Where(p => p.Kind.IsSource && p.Kind is not Charger))
        {
            // Batteries in series push through each other: all of them, or none.
            var others = circuit
                .Parts.Where(p => p.Kind.IsSource && p != source && !(source.Kind is Battery && p.Kind is Battery))
                .Select(p => (Intervention)new Intervention.Off(p.Tag))
                .ToList();
            // A supply of the sheet's own mains is off with them.
            if (source.Kind is Psu && circuit.Parts.Any(p => p.Kind is Mains))
                continue;
            var ends = source.Model.Terminals.Where(t => t.StartsWith('L') && source.Kind is Mains).ToList();
            if (ends.Count < 2)
            {
                yield return (source.Tag, machine.Run(new Setup(others, [])));
                continue;
            }
            foreach (var end in ends)
                yield return (
                    $"{source.Tag}.{end}",
                    machine.Run(new Setup(others, []), [.. ends.Where(e => e != end).Select(e => new Fault(source.Tag, $"lost {e}"))])
                );
        }
    }

    private bool IsOff(Setup s) =>
        _circuit.Parts.Where(p => p.Kind.IsSource).All(p => s.Interventions.Contains(new Intervention.Off(p.Tag)));

    public void Lock(string who) => _locks.Add(who);

    public void Unlock(string who)
    {
        _locks.Remove(who);
        // While another's lock is on nothing can bring energy back.
        if (_locks.Count == 0)
            _readDead.Clear();
    }

    /// <summary>A person's reading of a pair, recorded apart from the lines.</summary>
    public void Swept(Probe.Volts pair) => _readDead.Add(pair);

    /// <summary>What was done, as far as energy and proof go.</summary>
    public void Done(Test test, double? volts)
    {
        if (test.Probe is Probe.Code or Probe.Replaced or Probe.Looks)
            return;
        if (!IsOff(test.Setup))
            _readDead.Clear();
        else if (test.Probe is Probe.Volts v && Math.Abs(volts ?? 99) < Dead)
            _readDead.Add(v);
    }

    /// <summary>Fails where an order breaks a rule.</summary>
    public void Judge(Test order)
    {
        order.Setup.Interventions.ShouldAllBe(
            i => i is Intervention.Off || i is Intervention.Unplug || i is Intervention.Pull || i is Intervention.Lift,
            $"{order}: a bridge is ordered"
        );
        if (_locks.Count > 0 && order.Probe is not (Probe.Looks or Probe.Code))
            IsOff(order.Setup).ShouldBeTrue($"{order}: ordered live under the lock of {string.Join(", ", _locks)}");
        if (order.Probe is Probe.Volts { Function: VoltsFunction.Dc } d)
            AcAt(d, order.Setup).ShouldBeLessThan(Dead, $"{order}: direct volts where alternating stand");
        if (order.Probe is not (Probe.Ohms or Probe.Beep or Probe.Insulation))
            return;
        IsOff(order.Setup).ShouldBeTrue($"{order}: ohms with a source on");
        // Whatever source were still on, one of the pairs read since would have shown it.
        foreach (var (name, op) in _stillOn)
            _readDead.ShouldContain(
                v => Shown(op, v) >= Dead,
                $"{order}: had {name} still been on, none of {string.Join("; ", _readDead)} would have shown it"
            );
        // With the isolators open and the feed live, no tip is at dangerous volts.
        foreach (var tip in Tips(order))
        {
            var op = BehindIsolators();
            if (op is null)
                continue;
            // Through a tester's few kilo-ohms: what open contacts leak is no danger.
            var volts = Meter.Read(op, new Test(Setup.Rest, new Probe.Volts(tip, null, VoltsFunction.LowImpedance))).Value ?? 0;
            (volts > (_circuit.Parts.Any(p => p.Kind is Mains) ? TouchAc : TouchDc)).ShouldBeFalse(
                $"{order}: {tip} is before the isolator and stays live at {volts} V"
            );
        }
    }

    private static double Shown(OperatingPoint op, Probe.Volts v)
    {
        var (p, q) = (op.Node(v.P), v.Q is { } t ? op.Node(t) : -1);
        var (direct, alternating) = (Math.Abs(op.Volts(p) - op.Volts(q)), op.AcVolts(p, q).Magnitude);
        return v.Function switch
        {
            VoltsFunction.Dc => direct,
            VoltsFunction.Ac => alternating,
            _ => Math.Max(direct, alternating),
        };
    }

    /// <summary>Alternating volts at the tips with the sources on, in the order's setting of the controls.</summary>
    private double AcAt(Probe.Volts v, Setup setup) =>
        Shown(
            machine.Run(setup with { Interventions = [.. setup.Interventions.Where(i => i is not Intervention.Off)] }),
            v with
            {
                Function = VoltsFunction.Ac,
            }
        );

    private OperatingPoint? _behind;
    private bool _asked;

    /// <summary>The machine with every isolator open, breakers where it has none; null where it has neither.</summary>
    private OperatingPoint? BehindIsolators()
    {
        if (_asked)
            return _behind;
        _asked = true;
        var devices = _circuit.Parts.Where(p => p.Kind is Isolator).ToList();
        if (devices.Count == 0)
            devices = [.. _circuit.Parts.Where(p => p.Kind is Breaker)];
        if (devices.Count > 0)
            _behind = machine.Run(Setup.Rest, [.. devices.Select(d => new Fault(d.Tag, "open"))]);
        return _behind;
    }

    private static IEnumerable<Terminal> Tips(Test t) =>
        t.Probe switch
        {
            Probe.Ohms o => [o.X.P.Terminal, o.X.Q.Terminal],
            Probe.Beep b => [b.X.P.Terminal, b.X.Q.Terminal],
            Probe.Insulation i => [i.P, i.Q],
            _ => [],
        };
}

/// <summary>
/// Random days at machines of every voltage: orders obeyed and not, locks put on and taken off, the job taken over, the machine worked in
/// between. The whole walk of 200 steps a machine runs with ZOLTRIC_WHOLE=1; every run takes a part of it.
/// </summary>
public class SafetyWalkTests
{
    public static TheoryData<string> Machines =>
        [.. DemoSheets.All, "mixed", "traction", "conveyor", .. Pattern.All.Select(p => $"pattern {p.Name}")];

    private static readonly bool Whole = Environment.GetEnvironmentVariable("ZOLTRIC_WHOLE") == "1";

    private static Circuit CircuitOf(string name) =>
        name.StartsWith("pattern ", StringComparison.Ordinal)
            ? SheetReader
                .Read(Pattern.All.Single(p => $"pattern {p.Name}" == name).Fill(new Dictionary<string, string>()))
                .Value.ShouldNotBeNull()
            : NetsTests.CircuitOf(name);

    [Theory, MemberData(nameof(Machines))]
    public void No_order_breaks_a_rule_however_the_day_goes(string name)
    {
        var circuit = CircuitOf(name);
        var space = new FaultSpace(new Machine(circuit));
        var random = new Random(name.Length * 31 + name[0]);
        var steps =
            Whole ? 200
            : circuit.Parts.Count > 40 ? 24
            : 40;
        var orders = 0;
        for (var done = 0; done < steps; )
        {
            // A new job: a hidden fault, a complaint.
            var referee = new Referee(space.Machine);
            var suspect = space.Suspects[random.Next(space.Suspects.Count)];
            var fault = suspect.Values.Count == 0 ? suspect.Template : suspect.With(suspect.Values[random.Next(suspect.Values.Count)]);
            var function = circuit.Functions[random.Next(circuit.Functions.Count)];
            if (FunctionSetups.SetupFor(circuit, function) is not { } complaint)
            {
                done++;
                continue;
            }
            var events = new List<SafetyEvent>();
            var readings = new List<Reading>();
            var locks = new HashSet<string>();
            var who = "Ann";
            Keep(new Test(complaint, new Probe.Sees(function.Name, true)), new ReadingResult.Word(Answer.Dead));
            for (var step = 0; step < 12 && done < steps; step++, done++)
            {
                var state = IsolationState.Of(circuit, events, who);
                var findings = Diagnostician.Diagnose(
                    space,
                    readings,
                    new DiagnosisOptions
                    {
                        Isolation = state,
                        Verdicts = false,
                        Alternatives = 2,
                        Strategy = (Strategy)(done % 5),
                    }
                );
                foreach (var a in findings.Next)
                {
                    referee.Judge(a.Test);
                    orders++;
                }
                switch (random.Next(10))
                {
                    case 0 when locks.Add(who):
                        events.Add(new SafetyEvent.Locked("14", who));
                        referee.Lock(who);
                        break;
                    case 1 when locks.Remove(who):
                        events.Add(new SafetyEvent.Unlocked("14", who));
                        referee.Unlock(who);
                        break;
                    case 2:
                        who = who == "Ann" ? "Ben" : "Ann";
                        break;
                    // Worked in between, where no lock forbids it.
                    case 3 when locks.Count == 0:
                        Keep(new Test(complaint, new Probe.Sees(function.Name, true)), new ReadingResult.Word(Answer.Dead));
                        break;
                    default:
                        if (findings.Next.Count > 0)
                            Obey(findings.Next[0]);
                        else
                            step = 12;
                        break;
                }
            }

            void Obey(Advice advice)
            {
                if (advice.Kind == AdviceKind.ProveDead && IsolationState.Of(circuit, events, who) is { NeedsLock: true } state)
                {
                    // The long form: own lock, tester, every pair, tester.
                    if (locks.Add(who))
                    {
                        events.Add(new SafetyEvent.Locked("14", who));
                        referee.Lock(who);
                    }
                    events.Add(new SafetyEvent.TesterShownLive("bench", who));
                    foreach (var c in state.Plan.Sweep)
                    {
                        events.Add(new SafetyEvent.SweepRead(c.Key, 0.1, who));
                        referee.Swept(new Probe.Volts(c.P, c.Q, c.Function));
                    }
                    events.Add(new SafetyEvent.TesterShownLive("bench", who));
                    return;
                }
                var shown = Meter.Read(space.Machine, advice.Test, [fault]);
                shown.Refused.ShouldBeFalse($"{advice.Test}: {shown.Text}");
                Keep(
                    advice.Test,
                    shown.Value is { } v ? new ReadingResult.Number(v, shown.Dimension)
                        : shown.Answer == Answer.OverLimit ? new ReadingResult.OverLimit()
                        : new ReadingResult.Word(shown.Answer!.Value)
                );
            }

            void Keep(Test test, ReadingResult result)
            {
                var reading = new Reading(test, result);
                readings.Add(reading);
                events.Add(new SafetyEvent.Line(reading, who));
                referee.Done(test, (result as ReadingResult.Number)?.Value);
            }
        }
        orders.ShouldBeGreaterThan(steps / 2);
    }
}
