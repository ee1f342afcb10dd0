using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Solving;

/// <summary>A request that asks for too much ends with a word, in the same step every time, and spoils nothing for the next.</summary>
public class WorkBudgetTests
{
    private static FaultSpace Space(int relays) => new(new Machine(SheetReader.Read(RelayRing.Sheet(relays)).Value.ShouldNotBeNull()));

    [Fact]
    public void What_asks_for_too_much_is_told_so()
    {
        WorkBudget.Begin(20_000, gone: TestContext.Current.CancellationToken);
        Should.Throw<TooMuchWorkException>(() => Diagnostician.Diagnose(Space(11), [])).Message.ShouldContain("without coming to rest");
    }

    [Fact]
    public void Work_that_nobody_waits_for_ends_and_what_comes_after_is_right()
    {
        var space = Space(5);
        using var gone = new CancellationTokenSource();
        gone.Cancel();
        WorkBudget.Begin(gone: gone.Token);
        Should.Throw<OperationCanceledException>(() => Diagnostician.Diagnose(space, []));
        WorkBudget.Begin(cores: 1, gone: TestContext.Current.CancellationToken);
        var after = Diagnostician.Diagnose(space, []);
        WorkBudget.Begin(gone: TestContext.Current.CancellationToken);
        var fresh = Diagnostician.Diagnose(Space(5), []);
        after.Suspects.Select(g => (g.Unit, g.Share)).ShouldBe(fresh.Suspects.Select(g => (g.Unit, g.Share)));
    }

    /// <summary>
    /// Sixty lamps with relay, fuse, switch and plug of their own: three hundred parts and sixty functions are within what one request is
    /// given, and found by two readings more than the complaint.
    /// </summary>
    [Fact]
    public void A_wide_machine_is_within_what_a_request_is_given()
    {
        var budget = WorkBudget.Begin(gone: TestContext.Current.CancellationToken);
        var space = new FaultSpace(new Machine(SheetReader.Read(Wide(60)).Value.ShouldNotBeNull()));
        // With the complaint alone most is open: a fuse that has gone by now may have done so in any of the sixty settings.
        Diagnosis.Diagnosing.Diagnose(space, "main=ON c7=ON : sees \"lamp 7\" = dead").Next.ShouldNotBeNull();
        var f = Diagnosis.Diagnosing.Diagnose(
            space,
            "main=ON c7=ON : sees \"lamp 7\" = dead",
            "main=ON c7=ON : hears K7 = silent",
            "main=ON c7=ON : V X7:1 = 23.9V",
            "main=ON c7=ON : V K7.86 K7.85 = 0V"
        );
        Diagnosis.Diagnosing.Share(f, "X7:1", "X7:2", "w74", "w75", "w76").ShouldBeGreaterThan(0.9);
        budget.Spent.ShouldBeLessThan(WorkBudget.UsualSteps);
    }

    private static string Wide(int lamps)
    {
        var all = Enumerable.Range(1, lamps).ToList();
        return $"""
            sheet "Lamp board of {lamps}"
            nominal 24V dc
            control main: OFF*, ON
            {string.Join('\n', all.Select(i => $"control c{i}: OFF*, ON"))}
            part G1 battery 24V
            part S0 switch
              closed 1-2 when main=ON
            part SP0 splice
            part GND1 stud
            {string.Join(
                '\n',
                all.Select(i =>
                    $"part F{i} fuse 10A\npart S{i} switch\n  closed 1-2 when c{i}=ON\n"
                    + $"part K{i} relay 24V 300ohm\npart H{i} lamp 24V 21W\npart X{i} connector 2"
                )
            )}
            path G1.+ -[w1]- S0 -[w2]- SP0
            path GND1 -[w3]- G1.-
            {string.Join(
                '\n',
                all.Select(i =>
                    $"path SP0 -[w{i}1]- F{i} -[w{i}2]- S{i} -[w{i}3]- X{i}:1 -[w{i}4]- K{i}.86>85 -[w{i}5]- X{i}:2< -[w{i}6]- GND1\n"
                    + $"path F{i}.2 -[w{i}7]- K{i}.30>87 -[w{i}8]- H{i} -[w{i}9]- GND1"
                )
            )}
            {string.Join('\n', all.Select(i => $"function \"lamp {i}\": H{i} when main=ON and c{i}=ON"))}
            """;
    }

    /// <summary>What is worked out once of a machine with a brake was remembered as cut off, and every later run of it failed.</summary>
    [Fact]
    public void A_machine_whose_first_run_was_cut_off_runs_all_the_same()
    {
        var machine = new Machine(
            SheetReader
                .Read(
                    """
                    sheet "Capstan with a brake"
                    nominal 24V dc
                    control pull: OFF*, ON
                    part G1 battery 24V
                    part S1 switch
                      closed 1-2 when pull=ON
                    part M1 motor 24V 20A "capstan motor"
                    part Y1 coil 24V 30ohm "capstan brake"
                    path G1.+ -[w1]- S1 -[w2]- M1 -[w3]- G1.-
                    path S1.2 -[w4]- Y1 -[w5]- G1.-
                    function "capstan turns": M1 when pull=ON
                    """
                )
                .Value.ShouldNotBeNull()
        );
        var setup = ReadingReader.Read(machine.Circuit, "pull=ON : V M1.1 = 24V").Value.ShouldNotBeNull().Test.Setup;
        // Enough for the run itself, and cut off in what it asks for besides.
        for (var steps = 1; steps < 4; steps++)
        {
            WorkBudget.Begin(steps, gone: TestContext.Current.CancellationToken);
            Should.Throw<TooMuchWorkException>(() => machine.Run(setup));
        }
        WorkBudget.Begin(gone: TestContext.Current.CancellationToken);
        machine.Run(setup, [new Core.Circuits.Fault("Y1", "open")]).ShouldNotBeNull();
    }

    /// <summary>Bits of a test were counted on top of what a test that was cut off on the same thread had left.</summary>
    [Fact]
    public void What_was_cut_off_leaves_nothing_to_the_next_test()
    {
        static double OneBit()
        {
            var bins = AnswerHistogram.Borrow();
            foreach (var word in new[] { 0, 1 })
            {
                bins.AddWord(word, 0.5);
                bins.EndSite(AnswerHistogram.Term(0.5));
            }
            bins.SpreadOffSheet(0, 1, null, null, -1);
            return bins.Information(2 * AnswerHistogram.Term(0.5));
        }
        OneBit().ShouldBe(1, 1e-9);
        var cut = AnswerHistogram.Borrow();
        cut.Add(7, 0.3);
        cut.EndSite(AnswerHistogram.Term(0.3));
        cut.AddWord(2, 0.2);
        OneBit().ShouldBe(1, 1e-9);
    }

    [Fact]
    public void Work_is_asked_to_stand_back_before_it_goes_on()
    {
        var asked = 0;
        var budget = WorkBudget.Begin(turn: () => Interlocked.Increment(ref asked), gone: TestContext.Current.CancellationToken);
        Diagnostician.Diagnose(Space(5), []);
        asked.ShouldBeGreaterThan(0);
        budget.Spent.ShouldBeGreaterThanOrEqualTo(asked);
    }
}
