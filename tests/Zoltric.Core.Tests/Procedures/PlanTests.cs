using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Procedures;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Procedures;

/// <summary>Plans that are computed, followed on paper over every single fault that has the complaint.</summary>
public sealed class PlanTests(ITestOutputHelper output)
{
    /// <summary>One in every run; with ZOLTRIC_WHOLE=1 all of these, last run on 30 November.</summary>
    public static TheoryData<string, string, double> Some =>
        Environment.GetEnvironmentVariable("ZOLTRIC_WHOLE") == "1"
            ? new()
            {
                { "QS-5", "brush turns", 0.97 },
                { "PR-3", "engine cranks", 0.97 },
                { "LP-7", "platform rises", 0.97 },
                { "BP-2", "pump starts", 0.97 },
                { "TT-4", "engine cranks", 0.97 },
                { "SL-9", "horn sounds", 0.97 },
                { "RG-1", "travels left", 0.97 },
            }
            : new() { { "QS-5", "brush turns", 0.97 } };

    /// <summary>
    /// A program that reads the printed text and nothing else, on machines whose fuses stay blown: at least 97 of 100 faults, weighed by
    /// their odds and at five sizes each, end in what is broken, at most 3 in something else, whose proof is printed beside it; the rest is
    /// left to the trace.
    /// </summary>
    [Theory, MemberData(nameof(Some))]
    public void A_plan_on_paper_settles_what_it_says(string sheet, string function, double settled)
    {
        var machine = new Machine(DemoSheets.Read(DemoSheets.Text(sheet)));
        var (circuit, space) = (machine.Circuit, new FaultSpace(machine));
        var asked = circuit.FindFunction(function).ShouldNotBeNull();
        var complaint = new Reading(
            new Test(FunctionSetups.SetupFor(circuit, asked)!, new Probe.Sees(asked.Name, true)),
            new ReadingResult.Word(Answer.Dead)
        );
        var made = PlanMaker.Make(space, $"{function}: dead", [complaint], stop: TestContext.Current.CancellationToken);
        var printed = ProcedureText.Read(ProcedureText.Write(made.Procedure)).Value.ShouldNotBeNull();
        ProcedureCheck.Of(printed).ShouldBeEmpty();
        var (right, wrong, open, all, minutes) = (0.0, 0.0, 0.0, 0.0, 0.0);
        foreach (var (i, fault, odds) in ProcedureTrial.Singles(space, complaint.Test, TestContext.Current.CancellationToken))
        {
            var end = ProcedureTrial.Run(printed, machine, fault, space.Sites[i].Unit, complaint.Test.Setup);
            all += odds;
            minutes += odds * end.Minutes;
            if (end.Names)
                right += odds;
            else
            {
                if (end.End is StepLead.Repair)
                    wrong += odds;
                else
                    open += odds;
                output.WriteLine($"{fault}: {end.End} {end.Trouble}");
            }
        }
        output.WriteLine(
            $"{sheet} {function}: {printed.Steps.Count} steps, right {right / all:P1}, wrong {wrong / all:P1}, open {open / all:P1}, "
                + $"{minutes / all:0.0} min, said {made.Settles:P0} and {made.Minutes:0.0} min"
        );
        (right / all).ShouldBeGreaterThan(settled);
        (wrong / all).ShouldBeLessThan(0.03);
        made.Settles.ShouldBe(right / all, 0.005, "what is printed on it");
    }
}
