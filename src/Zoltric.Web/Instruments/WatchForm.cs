using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Instruments.StandIns;

namespace Zoltric.Web.Instruments;

/// <summary>What is watched on the simulated machine, as it is typed.</summary>
/// <param name="Before">Controls before.</param>
/// <param name="Then">Controls that are moved while it watches.</param>
/// <param name="One">First channel: <c>V …</c> or <c>clamp …</c>.</param>
/// <param name="Two">Second channel; empty for none.</param>
/// <param name="Milliseconds">How long.</param>
public sealed record WatchForm(string? Before, string? Then, string? One, string? Two, double Milliseconds)
{
    private const double LeastMilliseconds = 1,
        MostMilliseconds = 4000;

    public static WatchForm Nothing { get; } = new("", "", "", "", 500);

    /// <summary>The supply, and the current out of it, while a function is asked for.</summary>
    public static WatchForm For(Circuit circuit, MachineFunction? function)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var source = circuit.Sources.FirstOrDefault();
        var then = function is null ? null : FunctionSetups.SetupFor(circuit, function);
        var wire = source is null
            ? null
            : circuit.Wires.FirstOrDefault(w => w.From == new Terminal(source.Tag, "+") || w.To == new Terminal(source.Tag, "+"));
        return new WatchForm(
            "",
            then is { Steps.Count: 1 } ? then.ToString() : "",
            source is null ? "" : $"V {source.Tag}.+ {source.Tag}.-",
            wire is null ? "" : $"clamp {wire.Id}",
            500
        );
    }

    /// <summary>What it says, or why it says nothing.</summary>
    public (Watch? Watch, string? Why) Read(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        if (Of(circuit, Before) is not { } before)
            return (null, $"“{Before}” is no setup.");
        if (Of(circuit, Then) is not { Interventions.Count: 0, Steps: [var moves] })
            return (null, $"“{Then}” moves no control: write key=START or the like.");
        var channels = new List<Probe>();
        foreach (var text in new[] { One, Two }.Where(t => !string.IsNullOrWhiteSpace(t)))
            if (
                ReadingReader.Read(circuit, $" : {text!.Trim()} = 0{(text.TrimStart().StartsWith('V') ? "V" : "A")}").Value is
                { Test.Probe: Probe.Volts { Function: VoltsFunction.Dc } or Probe.Clamp } read
            )
                channels.Add(read.Test.Probe);
            else
                return (null, $"“{text}” is nothing that a channel lies on: V and a point, or clamp and a wire.");
        if (channels.Count == 0)
            return (null, "Say what the first channel lies on: V and a point, or clamp and a wire.");
        return Milliseconds is >= LeastMilliseconds and <= MostMilliseconds
            ? (new Watch(before, moves, Milliseconds / 1000, channels), null)
            : (null, $"Between {LeastMilliseconds} ms and {MostMilliseconds} ms are watched.");
    }

    private static Setup? Of(Circuit circuit, string? text) =>
        ReadingReader.Read(circuit, $"{text?.Trim()} : V {circuit.ReferencePoint} = 0V").Value?.Test.Setup;
}
