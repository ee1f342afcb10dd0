using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;

namespace Zoltric.Core.Training;

/// <summary>What an exercise shows at its points, for an instructor who answers from paper.</summary>
public static class PaperPoints
{
    /// <summary>
    /// Each wired terminal on the drawing, of a part that is no bare joint, with its volts on the machine as it is and on a sound one.
    /// </summary>
    public static IEnumerable<(string Point, string Shows, string Sound)> Of(Circuit circuit, ExerciseRun run, Setup setup)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(setup);
        var fuses = new BlownFuses(run.Machine);
        if (run.Complaint is { } complaint)
            fuses.Run(complaint.Test.Setup, run.Hidden);
        var nets = Nets.Of(circuit);
        var wired = circuit.Wires.SelectMany(w => new[] { w.From, w.To }).ToHashSet();
        foreach (var part in circuit.Parts.Where(p => !p.Model.IsPoint))
        foreach (var name in part.Model.Terminals)
        {
            var at = new Terminal(part.Tag, name, part.Kind is Circuits.Kinds.PinRow);
            if (!wired.Contains(at))
                continue;
            var test = new Test(setup, new Probe.Volts(at, nets.CommonOf(at), nets.FunctionAt(at)));
            yield return ($"{at}", fuses.Read(test, run.Hidden).Text, Meter.Read(run.Machine, test).Text);
        }
    }
}
