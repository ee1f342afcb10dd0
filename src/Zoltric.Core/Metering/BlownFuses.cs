using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Metering;

/// <summary>
/// What a machine with faults keeps of how it was run: a fuse that something has blown stays blown in every later setting, until a new one
/// is put in. (A setting settled by itself knows nothing of the one before.)
/// </summary>
public sealed class BlownFuses(Machine machine)
{
    private readonly Dictionary<string, Fault> _blown = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Tags of those that are blown.</summary>
    public IReadOnlyCollection<string> Tags => _blown.Keys;

    private readonly HashSet<string> _renewed = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>These faults but those of a fuse that is out now, and a blown fuse for each that has gone.</summary>
    public IReadOnlyList<Fault> With(IReadOnlyList<Fault> faults) =>
        _blown.Count + _renewed.Count == 0 ? faults : [.. faults.Where(f => !IsOut(f)), .. _blown.Values];

    /// <summary>A fault of the fuse itself, and not of its holder, that went with it.</summary>
    private bool IsOut(Fault f) => _renewed.Contains(f.Target) && (f.Kind == FaultKind.Blown || f.Words == "resists");

    /// <summary>Runs the machine with these faults, and remembers what blows.</summary>
    public OperatingPoint Run(Setup setup, IReadOnlyList<Fault> faults, ToleranceDraw? vary = null)
    {
        var run = machine.Run(setup, With(faults), vary: vary);
        foreach (var (tag, _) in run.Blown)
            if (machine.Circuit.FindPart(tag) is { Kind: Circuits.Kinds.Fuse } fuse)
                _blown.TryAdd(fuse.Tag, new Fault(fuse.Tag, "blown"));
        return run;
    }

    /// <summary>
    /// A reading on the machine as it was left, which may blow something itself. A new fuse that is put in is no reading: good.
    /// </summary>
    /// <param name="vary">The values of the very machine; null for those of the sheet.</param>
    public MeterReading Read(Test test, IReadOnlyList<Fault> faults, ToleranceDraw? vary = null)
    {
        ArgumentNullException.ThrowIfNull(test);
        if (test.Probe is Probe.Replaced put)
        {
            Renew(put.Tag);
            return MeterReading.Word(Answer.Good);
        }
        var run = Run(test.Setup, faults, vary);
        return test.Probe.Loads ? Meter.Read(machine, test, With(faults), vary) : Meter.Read(run, test);
    }

    /// <summary>A new one is put in; false where none had blown there.</summary>
    public bool Renew(string tag)
    {
        _renewed.Add(tag);
        return _blown.Remove(tag);
    }
}
