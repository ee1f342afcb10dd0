using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Metering;

/// <summary>
/// What share of its rating a load is meant to have in a function: a fan behind its resistor, two elements in series, a lamp at half light
/// do with less than the rating as long as they live. Who stands at the machine calls that working.
/// </summary>
public static class MeantShare
{
    /// <summary>The sound machine of a circuit, made when it is first run, and what was found on it.</summary>
    private sealed class Sound(Circuit circuit)
    {
        private readonly Lazy<Machine> _machine = new(() => new Machine(circuit));

        public Machine Machine => _machine.Value;
        public ConcurrentDictionary<string, double> Shares { get; } = new();
    }

    private static readonly ConditionalWeakTable<Circuit, Sound> Made = [];

    /// <summary>
    /// The share that the sound machine has in the function's own state, the most where its condition offers several, if that lies
    /// between weak and works; else 1. A run of the sound machine for each, the first time that it is asked.
    /// </summary>
    public static double Of(Circuit circuit, MachineFunction f)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(f);
        var sound = Made.GetValue(circuit, static c => new Sound(c));
        return sound.Shares.GetOrAdd(f.Name, static (_, x) => Find(x.circuit, x.sound, x.f), (circuit, sound, f));
    }

    private static double Find(Circuit circuit, Sound sound, MachineFunction f)
    {
        if (f.Test is not FunctionTest.LoadWorks { Tag: var tag } || circuit.IndexOf(tag) is not (>= 0 and var part))
            return 1;
        if (circuit.Parts[part].Model.Load is not { } load || FunctionSetups.SetupsFor(circuit, f) is not { Count: > 0 } setups)
            return 1;
        var share = setups.Max(s => LoadState.Share(sound.Machine.Run(s), part));
        return share >= load.WeakShare && share < load.WorksShare ? share : 1;
    }
}
