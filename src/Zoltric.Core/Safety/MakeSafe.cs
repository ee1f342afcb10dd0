using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Safety;

/// <summary>When something must have been said before a test.</summary>
public enum SafetyNeed
{
    /// <summary>Before the first test of any kind.</summary>
    Any,

    /// <summary>Before a control is moved that may set the machine going.</summary>
    Moving,

    /// <summary>Before a tip touches dangerous volts.</summary>
    Live,

    /// <summary>Before ohms where the long form holds: locked, and proved dead.</summary>
    Dead,
}

/// <summary>One thing to be understood and done before a test that needs it.</summary>
/// <param name="Id">Stable name under which the answer is kept.</param>
/// <param name="Say">One line.</param>
/// <param name="More">Details, shown when asked for.</param>
public sealed record SafetyItem(string Id, SafetyNeed Need, string Say, string? More = null);

/// <summary>
/// What is to be said before tests on a machine: from what can move, heat, start or hold energy in it, and from the volts at its nets.
/// Common practice unless a source stands beside it; local codes and licensed practice come first.
/// </summary>
public static class MakeSafe
{
    /// <summary>Id of the item that is done by locking and proving dead.</summary>
    public const string LockedId = "locked";

    /// <summary>
    /// What one kind of lift asks for besides. Common practice, no source; the maker's procedure and the local code say more.
    /// </summary>
    private static (string Say, string More)? OfLift(string family) =>
        family switch
        {
            MachineFamily.Elevator => (
                "Car empty and landed, landings barred, stop switch of pit or car top pressed before going there.",
                "Each contact of the safety string is read by itself and never bridged; doors, governor and buffers are in it."
            ),
            MachineFamily.Platform => (
                "Platform down or on its props, legs out, nobody on it; lowering from the ground tried first.",
                "Worked on while it is up: on the maker's prop, never on its valve alone."
            ),
            MachineFamily.Hoist => (
                "No vehicle on it, or on its mechanical locks; nobody under it.",
                "A hoist that hangs on one side is not moved by electrical means."
            ),
            MachineFamily.StairLift => (
                "Rail clear from end to end, nobody on seat or stairs.",
                "One with batteries in its carriage moves with the mains off: its own switch is the isolator."
            ),
            _ => null,
        };

    public static IReadOnlyList<SafetyItem> Items(Circuit circuit, SafetyFacts? facts = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var wet = facts?.Wet == true;
        var plan = IsolationPlan.Of(circuit);
        var hazards = circuit.Parts.SelectMany(p => p.Hazards).ToHashSet(StringComparer.OrdinalIgnoreCase);
        string Named(string hazard) => Names(circuit.Parts.Where(p => p.Hazards.Contains(hazard, StringComparer.OrdinalIgnoreCase)));
        var items = new List<SafetyItem>
        {
            new(
                "local",
                SafetyNeed.Any,
                "Local codes, the maker's procedure and licensed practice come first.",
                "What is computed here is calculated, never “safe”."
            ),
        };
        if (Stations(circuit) is { Count: > 0 } stations)
            items.Add(
                new(
                    "others",
                    SafetyNeed.Any,
                    $"Everyone who can start it knows, and keeps off: "
                        + string.Join(stations.Any(s => s.Contains(',', StringComparison.Ordinal)) ? "; " : ", ", stations.Take(4))
                        + (stations.Count > 4 ? " …." : ".")
                )
            );
        switch (circuit.Family)
        {
            case { } lift when MachineFamily.IsLift(lift):
                items.Add(
                    new(
                        "lift",
                        SafetyNeed.Any,
                        "Nobody on or under it, a competent person there, emergency lowering known.",
                        "Rescue plan known, the maker's procedure at hand, the station selected."
                    )
                );
                if (OfLift(lift) is var (say, more))
                    items.Add(new("lift-kind", SafetyNeed.Any, say, more));
                break;
            case "truck":
                items.Add(new("stand", SafetyNeed.Any, "Parked, braked, wheels chocked; raised bodies propped."));
                break;
            case "offroad":
                items.Add(new("stand", SafetyNeed.Any, "Parked and chocked; implements lowered or blocked, hydraulics bled."));
                break;
            case "appliance":
                items.Add(new("stand", SafetyNeed.Any, "Plug or feed known and in sight; gas shut where there is any."));
                break;
            case "industrial":
                items.Add(new("stand", SafetyNeed.Any, "Raised parts lowered or blocked; air and springs let go."));
                break;
        }
        if (SelfStarters(circuit) is { Count: > 0 } starters)
            items.Add(
                new(
                    "self-start",
                    SafetyNeed.Any,
                    $"It may start by itself: {Names(starters)}. Hands clear of what it drives.",
                    "Never push a contactor in by hand."
                )
            );
        if (circuit.Parts.Any(p => p.Kind is Battery) || hazards.Contains("acid"))
            items.Add(
                new(
                    "battery",
                    SafetyNeed.Any,
                    "Battery: ground lead off first, on last; no sparks, no metal jewellery.",
                    "Gas, acid, short-circuit current. Never lift a battery lead with the engine running."
                )
            );
        foreach (var energy in plan.Stored.GroupBy(s => s.Energy, s => s.Part))
            items.Add(
                new(
                    energy.Key,
                    SafetyNeed.Any,
                    energy.Key is "capacitor"
                        ? $"{Names(energy)} holds its charge: discharge it and measure before touching."
                        : $"{Names(energy)} holds energy ({energy.Key}): let it go or block it first."
                )
            );
        if (plan.NeverMeasured.Count > 0)
            items.Add(
                new(
                    "beyond",
                    SafetyNeed.Any,
                    $"{Names(plan.NeverMeasured)}: never measured. The maker's discharge procedure, licensed practice only."
                )
            );
        if (hazards.Contains("hot"))
            items.Add(new("hot", SafetyNeed.Any, $"{Named("hot")}: hot long after; let it cool before reaching in."));
        foreach (var never in TestRules.NeverOhms)
            if (hazards.Contains(never))
                items.Add(new(never, SafetyNeed.Any, $"{Named(never)}: no ohms, no jumpers, nothing unplugged with the supply on."));
        if (circuit.Parts.Where(Bridges.Moves).ToList() is { Count: > 0 } moving)
            items.Add(
                new(
                    "moving",
                    SafetyNeed.Moving,
                    $"It may move when a control is operated: {Names(moving)}. Chocked, everyone "
                        + $"clear.{(HasEngine(circuit) ? " Engine: outdoors." : "")}"
                )
            );
        if (TestRules.HasDangerousVolts(circuit, wet))
            items.Add(
                new(
                    "permitted",
                    SafetyNeed.Live,
                    $"Live work, up to {Bridges.Said(Worst(circuit))}: I am permitted to do it here. One hand, insulated "
                        + $"tips. A lost neutral: stop.",
                    $"Meter and leads of the right category (IEC "
                        + $"61010-031).{(wet ? " Wet place: the limits are 12 V AC and 30 V DC." : "")}"
                )
            );
        if (!plan.IsShort)
            items.Add(
                new(
                    LockedId,
                    SafetyNeed.Dead,
                    "Isolated, my own lock on, proved dead with a tester shown live before and after.",
                    "29 CFR 1910.147 and 1910.333, EN 50110-1."
                )
            );
        return items;
    }

    /// <summary>What a test needs, of all that the machine has.</summary>
    public static IReadOnlyList<SafetyItem> Needed(Circuit circuit, Test test, SafetyFacts? facts = null)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(test);
        if (test.Probe is Probe.Code or Probe.Replaced)
            return [];
        var off = IsolationPlan.Of(circuit).IsOff(test.Setup);
        return
        [
            .. Items(circuit, facts)
                .Where(i =>
                    i.Need switch
                    {
                        SafetyNeed.Any => true,
                        SafetyNeed.Moving => !off && test.Setup.Steps.Count > 0,
                        SafetyNeed.Live => TestRules.IsDangerouslyLive(circuit, test, facts?.Wet == true),
                        _ => off && test.Probe.SendsCurrent,
                    }
                ),
        ];
    }

    /// <summary>
    /// Where somebody can set the machine going: places of what hands operate. Switches that watch a seat, a gear, a door or a limit are
    /// sensors and start nothing.
    /// </summary>
    private static List<string> Stations(Circuit circuit) =>
        [
            .. circuit
                .Parts.Where(p =>
                    p.Place is not null
                    && p.Kind is Switch or Button
                    && p.Model.Coil is null
                    && !SafetyParts.IsSafety(circuit, p)
                    && !SafetyParts.IsInterlock(circuit, p)
                    && SafetyParts.ControlsOf(p).Any(c => circuit.FindControl(c) is { Given: false })
                )
                .Select(p => p.Place!)
                .Distinct(),
        ];

    /// <summary>What starts it without a hand: so marked, thermostats, timers, float switches.</summary>
    private static List<Part> SelfStarters(Circuit circuit) =>
        [
            .. circuit.Parts.Where(p =>
                p.Hazards.Contains("self-start", StringComparer.OrdinalIgnoreCase)
                || p.Kind is Thermostat or Circuits.Kinds.Timer
                || p.Label is { } label
                    && p.Model.Coil is null
                    && p.Model.Links.Any(l => l is Link.Contact)
                    && label.Contains("float", StringComparison.OrdinalIgnoreCase)
            ),
        ];

    private static bool HasEngine(Circuit circuit) =>
        circuit.Parts.Any(p => p.Kind is Starter or Charger) || circuit.FindControl("engine") is not null;

    /// <summary>Largest volts at any net of the machine.</summary>
    public static Exposure Worst(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return Nets.Of(circuit).Sections.Aggregate(Exposure.None, (e, s) => Exposure.Largest(e, s.Own));
    }

    private static string Names(IEnumerable<Part> parts)
    {
        var all = parts.DistinctBy(p => p.Tag).ToList();
        return string.Join(", ", all.Take(3).Select(p => p.Label ?? p.Spoken)) + (all.Count > 3 ? " …" : "");
    }
}
