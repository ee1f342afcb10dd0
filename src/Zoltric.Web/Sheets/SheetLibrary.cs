using System.Runtime.CompilerServices;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Faults;
using Zoltric.Core.Keeping;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Drawing.Schematic;

namespace Zoltric.Web.Sheets;

/// <summary>A sheet ready for work: read once, its machine and its fault space made when first asked for.</summary>
public sealed class ReadySheet(Circuit circuit, LearntOdds learnt, Shelf shelf) : IGivesBack
{
    private readonly Lazy<Machine> _machine = new(() => new Machine(circuit), LazyThreadSafetyMode.PublicationOnly);
    private FaultSpace? _space;
    private readonly Lazy<Page> _page = new(() => PageLayout.Of(circuit));

    public Circuit Circuit { get; } = circuit;

    private IReadOnlyList<Suspect>? _catalogue;

    private IReadOnlyList<Suspect> Catalogue => _catalogue ??= FaultCatalogue.Suspects(Machine);

    private IReadOnlyList<string>? _faultWords;

    /// <summary>Faults that can be put in, as they are written.</summary>
    public IReadOnlyList<string> FaultWords =>
        _faultWords ??= [
            .. Catalogue.Select(s => (s.Values.Count == 0 ? s.Template : s.With(s.Values[s.Values.Count / 2])).ToString()).Distinct(),
        ];

    /// <summary>The drawing of the sheet.</summary>
    public Page Page => _page.Value;
    public Machine Machine => _machine.Value;

    /// <summary>Every fault of the machine; on the machine that everything else of the sheet runs on.</summary>
    /// <remarks>Two who ask at once may both make it: who stands back for others must not keep them waiting.</remarks>
    public FaultSpace Space => _space ?? Interlocked.CompareExchange(ref _space, new FaultSpace(Machine, learnt, shelf), null) ?? _space!;

    /// <summary>
    /// Bytes of what findings and their lanes hold for each suspect, without the belief they rest on: 400 to 1,000 as live memory after a
    /// complaint on three demo sheets, and more with every reading; and of a sheet with its drawing.
    /// </summary>
    private const int BytesBySuspect = 2_000,
        BytesOfSheet = 500_000;

    /// <summary>Bytes that the sheet, its machine and its runs hold.</summary>
    public long HeldBytes => BytesOfSheet + (_machine.IsValueCreated ? Machine.HeldBytes : 0) + (_space?.HeldBytes ?? 0);

    /// <inheritdoc/>
    public long? OldestUse => _space?.OldestUse;

    /// <inheritdoc/>
    public long PartBytes => _space?.PartBytes ?? 0;

    /// <inheritdoc/>
    public long DropOldest() => _space?.DropOldest() ?? 0;

    /// <summary>What the readings come to; worked out once however often a screen asks.</summary>
    public Findings Diagnose(IReadOnlyList<Reading> readings, DiagnosisOptions options)
    {
        var key = string.Join(
            '\n',
            readings
                .Select(r => r.ToString())
                .Prepend(string.Join('|', options.Limits.Places.Concat(options.Limits.Setups).Order()))
                .Prepend(
                    $"findings {options.Strategy} {options.Meter.Name} {options.Alternatives} {options.Verdicts} {options.Facts.Wet} "
                        + $"{options.Circumstances} "
                        + $"{options.Isolation?.Signature}"
                )
        );
        return shelf.Find<Findings>(key)
            ?? _inHand.Get(key, () =>
                shelf.Find<Findings>(key)
                ?? shelf.Keep(key, Diagnostician.Diagnose(Space, readings, options), () => (long)BytesBySuspect * Space.Suspects.Count)
            );
    }

    private readonly InHand<Findings> _inHand = new();

    private readonly ConditionalWeakTable<Findings, IReadOnlyList<MarkedLane>> _lanes = [];

    /// <summary>The lanes as the findings mark them; kept as long as these are.</summary>
    public IReadOnlyList<MarkedLane> Lanes(Findings findings) => _lanes.GetValue(findings, f => LaneMarks.Mark(Space, f));
}

/// <summary>Sheets ready for work, kept in the one store of what is computed. Anything in it can be computed again from the text.</summary>
public sealed class SheetLibrary(ComputedStore store)
{
    /// <summary>The sheet, or the problems that keep it from being used.</summary>
    /// <param name="odds">What its odds have learnt, as a job keeps it; empty for the base odds.</param>
    public Parsed<ReadySheet> Get(string text, string odds = "")
    {
        var shelf = store.ShelfOf(SheetKey(text, odds));
        if (shelf.Find<ReadySheet>(Shelf.Sheets) is { } known)
            return new Parsed<ReadySheet>(known, []);
        var parsed = SheetReader.Read(text);
        if (parsed.Value is not { } circuit || !parsed.Ok)
            return new Parsed<ReadySheet>(null, parsed.Problems);
        var ready = new ReadySheet(circuit, LearntOdds.Read(odds), shelf);
        return new Parsed<ReadySheet>(shelf.Keep(Shelf.Sheets, ready, () => ready.HeldBytes), parsed.Problems);
    }

    /// <summary>Lets go of a sheet by its base odds, and of what was worked out from it; who works on it keeps it until done.</summary>
    public void Drop(string text) => store.Drop(SheetKey(text, ""));

    private static string SheetKey(string text, string odds) => $"{odds}\n{text}";
}
