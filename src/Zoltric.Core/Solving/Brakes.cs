using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Solving;

/// <summary>
/// Brakes that springs hold shut and a coil lifts: a coil that is called a brake, fed wherever the sheet has a motor work. A motor that is
/// fed while its brake stays shut stands and draws what a held rotor draws. Common practice, no source.
/// </summary>
internal sealed class Brakes(Machine machine)
{
    // Runs the machine: one that is cut off must not be remembered as what there is, nor keep others waiting.
    private readonly Lazy<(int Brake, int Motor)[]> _pairs = new(() => [.. Pairs(machine)], LazyThreadSafetyMode.PublicationOnly);

    /// <summary>True for machines without one, which need no second run.</summary>
    public bool None { get; } = !machine.Circuit.Parts.Any(IsBrake);

    private static bool IsBrake(Part p) => p.Kind is Coil && p.Label?.Contains("brake", StringComparison.OrdinalIgnoreCase) == true;

    private static bool Turns(Part p) => p.Kind is Motor or Motor1 or Motor3;

    /// <summary>Motors that stand because their brake does, as faults of theirs; empty where none does.</summary>
    public IReadOnlyList<Fault> Held(OperatingPoint op, IReadOnlyList<Fault> faults)
    {
        var held = new List<Fault>();
        foreach (var (brake, motor) in _pairs.Value)
        {
            var tag = machine.Circuit.Parts[motor].Tag;
            if (Share(op, motor) < machine.Circuit.Parts[motor].Model.Load!.WeakShare || faults.Any(f => f.Target == tag))
                continue;
            if (Share(op, brake) < machine.Circuit.Parts[brake].Model.Load!.WeakShare || op.Stuck(brake))
                held.Add(new Fault(tag, "seized"));
        }
        return held;
    }

    private static double Share(OperatingPoint op, int part)
    {
        var load = op.Circuit.Parts[part].Model.Load!;
        return load.Links.Average(l => op.MostLinkAmps(part, l)) / load.Rated;
    }

    /// <summary>Brake and motor that a sound machine feeds together in every function of the motor.</summary>
    private static IEnumerable<(int Brake, int Motor)> Pairs(Machine machine)
    {
        var circuit = machine.Circuit;
        var brakes = Enumerable.Range(0, circuit.Parts.Count).Where(i => IsBrake(circuit.Parts[i])).ToList();
        var works = circuit
            .Functions.Select(f => (f.Test as FunctionTest.LoadWorks, Setup: FunctionSetups.SetupFor(circuit, f)))
            .Where(x => x is (not null, not null) && circuit.FindPart(x.Item1.Tag) is { } p && Turns(p))
            .Select(x => (Motor: circuit.IndexOf(x.Item1!.Tag), Run: machine.RunUnbraked(x.Setup!)))
            .GroupBy(x => x.Motor, x => x.Run);
        foreach (var motor in works)
        foreach (var brake in brakes)
            if (
                circuit.Parts[motor.Key].Model.Faults.Any(m => m.Words == "seized")
                && motor.All(run => Share(run, brake) >= circuit.Parts[brake].Model.Load!.WorksShare)
            )
                yield return (brake, motor.Key);
    }
}
