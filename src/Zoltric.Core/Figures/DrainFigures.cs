using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Core.Figures;

/// <summary>A drain at rest found fuse by fuse: millivolts across each to amps, and how long the battery lasts.</summary>
public sealed class DrainFigures : FigureSheet
{
    public override string Name => "drain";
    public override string Title => "Drain at rest, fuse by fuse";
    public override string For => "Millivolts across every fuse, none pulled: which of them carries the drain";

    private const int Rows = 6,
        MostFuses = 24;

    private const string Rated = "rating-",
        Volts = "volts-",
        Whole = "whole";

    public override IReadOnlyList<FigureField> Fields { get; } =
    [.. Common, .. Enumerable.Range(1, Rows).SelectMany(i => Pair($"{i}", $"Fuse {i}", i == 1 ? "10A" : "", i == 1 ? "0mV" : ""))];

    private static FigureField[] Common =>
        [
            new(Whole, "All of it: amps in the battery's lead, machine asleep", Dimension.Ampere, "0.6A") { Least = 0, Most = 50 },
            new("allowed", "Drain that is allowed, for each battery", Dimension.Ampere, "50mA") { Least = 0.001, Most = 5 },
            new("batteries", "Batteries side by side", Dimension.None, "1") { Least = 1, Most = 12 },
            new("capacity", "Amp-hours of one", Dimension.None, "100") { Least = 1, Most = 5000 },
        ];

    private static IEnumerable<FigureField> Pair(string tag, string label, string rating, string volts) =>
        [
            new(Rated + tag, $"{label}, rating", Dimension.Ampere, rating)
            {
                Optional = true,
                Least = 1,
                Most = 60,
            },
            new(Volts + tag, $"{label}, volts across it", Dimension.Volt, volts)
            {
                Optional = true,
                Least = 0,
                Most = 1,
            },
        ];

    private static IEnumerable<Part> Fuses(Circuit circuit) =>
        circuit.Parts.Where(p => p.Kind is Fuse && p.Has("blade") && p.Value(Dimension.Ampere) is >= 1 and <= 60).Take(MostFuses);

    /// <summary>A fuse of the sheet has its rating in the name of its field.</summary>
    public override IReadOnlyList<FigureField> FieldsOn(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        return
        [
            .. Common,
            .. Fuses(circuit)
                .Select(f => new FigureField(FieldOf(f), $"{f.Spoken}, {Rating(f)} A, volts across it", Dimension.Volt, "")
                {
                    Optional = true,
                    Least = 0,
                    Most = 1,
                }),
        ];
    }

    private static string FieldOf(Part fuse) => $"{Volts}{fuse.Tag}@{Rating(fuse)}";

    private static string Rating(Part fuse) => $"{fuse.Value(Dimension.Ampere):0.##}";

    /// <summary>Tag and rating of what a field of volts is about; null where no rating was written.</summary>
    private static (string Tag, double Amps)? FuseOf(string field, FigureValues v)
    {
        var named = field[Volts.Length..].Split('@');
        var amps = named.Length > 1 ? double.Parse(named[1], CultureInfo.InvariantCulture) : v.Find(Rated + named[0]);
        return amps is { } a ? (named.Length > 1 ? named[0] : $"fuse {named[0]}", a) : null;
    }

    public override string RestsOn =>
        "Cold resistance of blade fuses by rating, typical data-sheet values from memory, ± 20 %: it finds the circuit; the amps in the "
        + "battery's lead are the figure. 50 mA a battery is common practice where the maker says nothing. Wait until the modules "
        + "sleep, ten "
        + "minutes or more, hood switch and door latch closed by hand; a clamp wakes nothing. Volts read in series in the battery's "
        + "lead are no "
        + "measure: they hang on the meter.";

    public override FigureResult Work(FigureValues v)
    {
        ArgumentNullException.ThrowIfNull(v);
        var (whole, allowed) = (v[Whole], v["allowed"] * v["batteries"]);
        var fuses = v
            .Numbers.Where(n => n.StartsWith(Volts, StringComparison.Ordinal))
            .Select(n => (Read: v[n], Fuse: FuseOf(n, v)))
            .Where(f => f.Fuse is not null)
            .Select(f => (f.Read, f.Fuse!.Value.Tag, Ohms: Defaults.FuseElementOhms(f.Fuse.Value.Amps)))
            .Select(f => (f.Tag, f.Read, f.Ohms, Amps: f.Read / f.Ohms))
            .OrderByDescending(f => f.Amps)
            .ToList();
        var seen = fuses.Sum(f => f.Amps);
        var rows = fuses
            .Select(
                (f, i) =>
                    new FigureRow(
                        f.Tag,
                        [
                            Say(f.Read, Dimension.Volt),
                            Say(f.Ohms, Dimension.Ohm),
                            Say(f.Amps, Dimension.Ampere),
                            whole > 0 ? $"{Math.Min(f.Amps / whole, 1):P0}" : "",
                        ],
                        i == 0 && f.Amps > 0.2 * allowed ? "Most of it: unplug what hangs on this one, one after another, until it falls."
                            : f.Amps < 0.005 ? "As good as nothing."
                            : ""
                    )
                    {
                        Sound = f.Amps <= 0.2 * allowed,
                    }
            )
            .ToList();
        var says = new List<string>
        {
            whole > allowed
                ? $"{Say(whole, Dimension.Ampere)} is more than the {Say(allowed, Dimension.Ampere)} allowed: {24 * whole:0.#} "
                    + $"amp-hours a day, "
                    + $"half of the charge in {0.5 * v["capacity"] * v["batteries"] / (24 * whole):0.#} days."
                : $"{Say(whole, Dimension.Ampere)} is within the {Say(allowed, Dimension.Ampere)} allowed. Is it asleep, and is it so "
                    + $"every night?",
        };
        if (fuses.Count > 0)
            says.Add(
                seen < 0.5 * whole && whole > allowed
                    ? $"These fuses carry {Say(seen, Dimension.Ampere)} of it: the rest goes past them. Charger, starter cable, links "
                        + $"and what "
                        + "somebody has joined to the battery."
                    : $"These fuses carry {Say(seen, Dimension.Ampere)} together."
            );
        return new FigureResult(says, ["volts across", "its ohms", "amps", "of the whole"], rows);
    }

    public override IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(part);
        return part.Kind is Battery && Fuses(circuit).Any()
            ? new Dictionary<string, string> { ["batteries"] = $"{circuit.Parts.Count(p => p.Kind is Battery)}" }
            : null;
    }

    public override IEnumerable<string> Lines(Circuit circuit, Part part, Func<string, string?> written)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(written);
        return Fuses(circuit)
            .Where(f => written(FieldOf(f)) is { Length: > 0 })
            .Select(f => $" : drop {f.Tag} = {FigureReader.Result(Dimension.Volt, written(FieldOf(f))!)}");
    }
}
