using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Patterns;
using Zoltric.Core.Solving;

namespace Zoltric.Web.Jobs;

/// <summary>
/// Weighs a small complaint once, beside everything else, when the server starts: the code is compiled before the first technician needs
/// it.
/// </summary>
public sealed class FirstReading : BackgroundService
{
    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Task.Run(Weigh, stoppingToken);

    private static void Weigh()
    {
        if (SheetReader.Read(Pattern.All[0].Fill(new Dictionary<string, string>())).Value is not { } circuit)
            return;
        var function = circuit.Functions[0];
        if (FunctionSetups.SetupFor(circuit, function) is not { } setup)
            return;
        var space = new FaultSpace(new Machine(circuit));
        var findings = Diagnostician.Diagnose(
            space,
            [new Reading(new Test(setup, new Probe.Sees(function.Name, true)), new ReadingResult.Word(Answer.Dead))]
        );
        LaneMarks.Mark(space, findings);
    }
}
