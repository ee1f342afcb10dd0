using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Faults;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;
using Zoltric.Drawing.Schematic;

namespace Zoltric.Web.Sheets;

/// <summary>A sheet ready for work: read once, its machine and its fault space made when first asked for.</summary>
public sealed class ReadySheet(Circuit circuit, LearntOdds learnt)
{
    private readonly Lazy<Machine> _machine = new(() => new Machine(circuit));
    private readonly Lazy<FaultSpace> _space = new(() => new FaultSpace(new Machine(circuit), learnt));

    private readonly Lazy<Page> _page = new(() => PageLayout.Of(circuit));

    public Circuit Circuit { get; } = circuit;

    private IReadOnlyList<string>? _faultWords;

    /// <summary>Faults that can be put in, as they are written.</summary>
    public IReadOnlyList<string> FaultWords =>
        _faultWords ??= [
            .. FaultCatalogue
                .Of(Machine)
                .Select(s => (s.Values.Count == 0 ? s.Template : s.With(s.Values[s.Values.Count / 2])).ToString())
                .Distinct(),
        ];

    private IReadOnlyDictionary<string, double>? _baseShares;

    /// <summary>Share of the base odds by kind of what fails.</summary>
    public IReadOnlyDictionary<string, double> BaseShares => _baseShares ??= LearntOdds.BaseShares(Circuit, FaultCatalogue.Of(Machine));

    /// <summary>The drawing of the sheet.</summary>
    public Page Page => _page.Value;
    public Machine Machine => _machine.Value;
    public FaultSpace Space => _space.Value;

    private const int MostFindings = 4;
    private readonly Lock _gate = new();
    private readonly LinkedList<(string Key, Findings Findings)> _findings = new();

    /// <summary>What the readings come to; worked out once however often a screen asks.</summary>
    public Findings Diagnose(IReadOnlyList<Reading> readings, DiagnosisOptions options)
    {
        var key = string.Join(
            '\n',
            readings
                .Select(r => r.ToString())
                .Prepend(string.Join('|', options.Limits.Places.Concat(options.Limits.Setups).Order()))
                .Prepend(
                    $"{options.Strategy} {options.Meter.Name} {options.Alternatives} {options.Verdicts} {options.Facts.Wet} "
                        + $"{options.Circumstances} "
                        + $"{options.Isolation?.Signature}"
                )
        );
        lock (_gate)
            foreach (var known in _findings)
                if (known.Key == key)
                    return known.Findings;
        var findings = Diagnostician.Diagnose(Space, readings, options);
        lock (_gate)
        {
            _findings.AddFirst((key, findings));
            if (_findings.Count > MostFindings)
                _findings.RemoveLast();
        }
        return findings;
    }
}

/// <summary>Keeps the sheets last used. Bounded and disposable: everything in it can be computed again from the text.</summary>
public sealed class SheetLibrary
{
    private const int Most = 6;
    private readonly Lock _gate = new();
    private readonly LinkedList<(string Text, string Odds, ReadySheet Sheet)> _recent = new();

    /// <summary>The sheet, or the problems that keep it from being used.</summary>
    /// <param name="odds">What its odds have learnt, as a job keeps it; empty for the base odds.</param>
    public Parsed<ReadySheet> Get(string text, string odds = "")
    {
        lock (_gate)
        {
            for (var node = _recent.First; node is not null; node = node.Next)
            {
                if (node.Value.Text != text || node.Value.Odds != odds)
                    continue;
                _recent.Remove(node);
                _recent.AddFirst(node);
                return new Parsed<ReadySheet>(node.Value.Sheet, []);
            }
        }
        var parsed = SheetReader.Read(text);
        if (parsed.Value is not { } circuit || !parsed.Ok)
            return new Parsed<ReadySheet>(null, parsed.Problems);
        var ready = new ReadySheet(circuit, LearntOdds.Read(odds));
        lock (_gate)
        {
            _recent.AddFirst((text, odds, ready));
            if (_recent.Count > Most)
                _recent.RemoveLast();
        }
        return new Parsed<ReadySheet>(ready, parsed.Problems);
    }
}
