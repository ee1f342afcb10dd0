using System.Text.Json;
using Zoltric.Core.Checking;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Planning;
using Zoltric.Core.Exchange;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Safety;
using Zoltric.Core.Solving;
using Zoltric.Web.Sheets;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Api;

/// <summary>The circuit interface: check, simulate, expect, diagnose. Stateless; everything stands in the request.</summary>
public static class CircuitApi
{
    private const int MostLines = 2000;

    public static void MapCircuitApi(this WebApplication app)
    {
        var api = app.MapGroup("/api/v1").WithTags("circuit").AddEndpointFilter(DropUnfinished);
        api.MapPost("/check", Check)
            .IsHeavy()
            .Produces<CheckAnswer>()
            .ProducesProblem(400)
            .WithSummary("Reads a sheet and says what is wrong with it");
        api.MapPost("/simulate", Simulate)
            .IsHeavy()
            .Produces<SimulateAnswer>()
            .ProducesProblem(400)
            .WithSummary("What the meter would show on a machine with these faults");
        api.MapPost("/expect", Expect).IsHeavy().Produces<ExpectAnswer>().ProducesProblem(400).WithSummary("What a healthy machine shows");
        api.MapPost("/diagnose", Diagnose)
            .IsHeavy()
            .Produces<DiagnoseAnswer>()
            .ProducesProblem(400)
            .WithSummary("Weighs the readings and says where to probe next");
    }

    /// <summary>What nobody got an answer from is not kept: half worked out, it only takes the room of the machines at work.</summary>
    private static async ValueTask<object?> DropUnfinished(EndpointFilterInvocationContext asked, EndpointFilterDelegate next)
    {
        try
        {
            return await next(asked);
        }
        catch (Exception e) when (e is TooMuchWorkException or OperationCanceledException)
        {
            if (asked.Arguments.OfType<IAsksOfSheet>().FirstOrDefault() is { } request && TextOf(request.Sheet, out _) is { } text)
                asked.HttpContext.RequestServices.GetRequiredService<SheetLibrary>().Drop(text);
            throw;
        }
    }

    private static IResult Check(SheetRequest request)
    {
        var text = TextOf(request.Sheet, out var unread);
        if (text is null && request.Sheet.ValueKind != JsonValueKind.Object)
            return Refuse("sheet", unread[0], unread);
        if (text is null)
            return Results.Ok(new CheckAnswer(false, unread.Select(Item).ToList(), 0, 0, 0));
        var parsed = SheetReader.Read(text);
        var problems = parsed
            .Problems.Concat(parsed.Ok ? SheetChecker.Check(parsed.Value!, text) : [])
            .OrderBy(p => p.Line)
            .ThenBy(p => p.Column)
            .ToList();
        return Results.Ok(
            new CheckAnswer(
                problems.TrueForAll(p => p.Severity != Severity.Error),
                problems.Select(Item).ToList(),
                parsed.Value?.Parts.Count ?? 0,
                parsed.Value?.Wires.Count ?? 0,
                parsed.Value?.Functions.Count ?? 0
            )
        );
    }

    private static ProblemItem Item(Problem p) =>
        new(p.Severity == Severity.Error ? "error" : "warning", p.Line, p.Column, p.Message, p.Found, p.Expected, p.Suggestion);

    private static IResult Simulate(SimulateRequest request, SheetLibrary library)
    {
        if (Ready(library, request.Sheet, out var sheet) is { } bad)
            return bad;
        var faults = new List<Fault>();
        var texts = request.Faults ?? [];
        for (var i = 0; i < texts.Count; i++)
        {
            var parsed = FaultReader.Read(sheet.Circuit, texts[i] ?? "", i + 1);
            if (parsed.Value is not { } read)
                return Refuse("faults", parsed.Problems[0]);
            try
            {
                sheet.Machine.Check(read);
            }
            catch (FaultException e)
            {
                return Refuse("faults", new Problem(Severity.Error, i + 1, 1, e.Message, texts[i]));
            }
            faults.AddRange(read);
        }
        if (Lines(sheet.Circuit, request.Lines, "lines", out var readings) is { } wrong)
            return wrong;
        var notes = new Dictionary<Setup, string?>();
        return Results.Ok(
            new SimulateAnswer(
                readings
                    .Select(
                        (r, i) =>
                        {
                            var shown = Meter.Read(sheet.Machine, r.Test, faults);
                            if (!notes.TryGetValue(r.Test.Setup, out var note))
                                notes[r.Test.Setup] = note = StateNotes.Note(
                                    sheet.Machine,
                                    sheet.Machine.Run(r.Test.Setup, faults),
                                    r.Test.Setup,
                                    faults
                                );
                            return new Measured(request.Lines![i], Finite(shown.Value), Unit(shown), shown.Text, note);
                        }
                    )
                    .ToList()
            )
        );
    }

    private static IResult Expect(ExpectRequest request, SheetLibrary library)
    {
        if (Ready(library, request.Sheet, out var sheet) is { } bad)
            return bad;
        if (Lines(sheet.Circuit, request.Lines, "lines", out var readings) is { } wrong)
            return wrong;
        return Results.Ok(
            new ExpectAnswer(
                readings
                    .Select(
                        (r, i) =>
                        {
                            var shown = Meter.Read(sheet.Machine, r.Test);
                            var band = HealthyBand.Of(shown, MeterClass.Service);
                            return new ExpectedItem(
                                request.Lines![i],
                                Finite(band.Low),
                                Finite(band.Nominal),
                                Finite(band.High),
                                Unit(shown),
                                band.Text
                            );
                        }
                    )
                    .ToList()
            )
        );
    }

    private static IResult Diagnose(DiagnoseRequest request, SheetLibrary library)
    {
        if (Ready(library, request.Sheet, out var sheet) is { } bad)
            return bad;
        if (!Strategies.TryParse(request.Strategy, out var strategy))
            return Refuse(
                "strategy",
                new Problem(
                    Severity.Error,
                    1,
                    1,
                    $"There is no strategy {request.Strategy}.",
                    request.Strategy,
                    string.Join(", ", Strategies.All)
                )
            );
        if (MeterClass.Find(request.Meter) is not { } meter)
            return Refuse(
                "meter",
                new Problem(
                    Severity.Error,
                    1,
                    1,
                    $"There is no meter class {request.Meter}.",
                    request.Meter,
                    string.Join(", ", MeterClass.All.Select(m => m.Name))
                )
            );
        var circumstances = Circumstances.None;
        foreach (var word in request.Circumstances ?? [])
            if (CircumstanceWords.Of(word ?? "") is { } one)
                circumstances |= one;
            else
                return Refuse(
                    "circumstances",
                    new Problem(Severity.Error, 1, 1, $"There is no circumstance “{word}”.", word, string.Join(", ", CircumstanceWords.All))
                );
        if (Lines(sheet.Circuit, request.Readings, "readings", out var readings) is { } wrong)
            return wrong;
        for (var i = 0; i < readings.Count; i++)
            if (readings[i].Result is null && readings[i].Test.Probe is not Probe.Replaced)
                return Refuse(
                    "readings",
                    new Problem(
                        Severity.Error,
                        i + 1,
                        (request.Readings![i]?.Length ?? 0) + 1,
                        "This reading has no result.",
                        "the end of the line",
                        "= and the result"
                    )
                );
        var f = sheet.Diagnose(
            readings,
            new DiagnosisOptions
            {
                Strategy = strategy,
                Meter = meter,
                Circumstances = circumstances,
            }
        );
        return Results.Ok(
            new DiagnoseAnswer(
                f.Verdicts.Select(
                        (v, i) =>
                            new VerdictItem(
                                request.Readings![i],
                                Words.For(v.Judgement),
                                Finite(v.Expected.GoodSoFar?.Low),
                                Finite(v.Expected.GoodSoFar?.High),
                                v.Meaning
                            )
                    )
                    .ToList(),
                f.Suspects.Select(g => new SuspectItem(
                        g.Words.ToList(),
                        g.Share,
                        g.Ohms is { } o ? new ResistanceItem(o.Low, o.Best, o.High) : null,
                        g.Places
                    ))
                    .ToList(),
                f.Stretch is { } s ? new StretchItem(s.FromTerminal.ToString(), s.ToTerminal.ToString(), s.Parts) : null,
                f.OffSheet,
                f.Next.Select(n => Next(sheet.Circuit, n)).ToList(),
                (f.Stop is { } stop ? new[] { stop } : [])
                    .Concat(AgainstRules(sheet, readings))
                    .Concat(f.Cautions)
                    .Concat(f.Next.Take(1).SelectMany(n => n.Cautions))
                    .Distinct()
                    .ToList(),
                f.Solved
            )
        );
    }

    private static NextItem Next(Circuit circuit, Advice n)
    {
        var order = ProbeOrder.Of(circuit, n.Test, n.Expected.GoodSoFar?.High ?? n.Expected.Healthy.High);
        return new NextItem(
            n.Test.ToString(),
            n.Gain,
            n.Minutes,
            n.Why,
            n.Outcomes.Select(o => new OutcomeItem(o.Result, o.Leads)).ToList(),
            order.Meter.Function,
            order.Meter.Range,
            order.Tips.Select(t => new TipItem(t.Point, t.Name, t.Place, t.Wire)).ToList(),
            order.Needs
        );
    }

    /// <summary>Readings that were taken against a rule of safety: they are weighed, since the record must be true, and said.</summary>
    private static IEnumerable<string> AgainstRules(ReadySheet sheet, List<Reading> readings) =>
        readings
            .Select(
                (r, i) =>
                    Bridges.Forbidden(sheet.Machine, r.Test) is { } bridge ? $"Reading {i + 1} was against the rules: {bridge.Why}" : null
            )
            .OfType<string>();

    private static string? Unit(MeterReading s) => s.Dimension == Dimension.None ? null : Units.Sign(s.Dimension);

    private static double? Finite(double? v) => v is { } x && double.IsFinite(x) ? x : null;

    /// <summary>The text of a sheet that was sent as text or as its JSON twin; null with the problems when it is neither.</summary>
    private static string? TextOf(JsonElement sheet, out IReadOnlyList<Problem> problems)
    {
        problems = [];
        switch (sheet.ValueKind)
        {
            case JsonValueKind.String:
                try
                {
                    return sheet.GetString();
                }
                catch (Exception e) when (HalfCharacter.Is(e))
                {
                    problems = [new Problem(Severity.Error, 1, 1, HalfCharacter.Said, null, "whole characters")];
                    return null;
                }
            case JsonValueKind.Undefined or JsonValueKind.Null:
                return "";
            case JsonValueKind.Object:
                var twin = JsonSheet.ToText(sheet.GetRawText());
                problems = twin.Problems;
                return twin.Value?.Text;
            default:
                problems =
                [
                    new Problem(
                        Severity.Error,
                        1,
                        1,
                        "A sheet is a text or an object.",
                        sheet.ValueKind.ToString(),
                        "a string, or the JSON twin"
                    ),
                ];
                return null;
        }
    }

    private static IResult? Ready(SheetLibrary library, JsonElement sent, out ReadySheet sheet)
    {
        sheet = null!;
        if (TextOf(sent, out var unread) is not { } text)
            return Refuse("sheet", unread[0], unread);
        var parsed = library.Get(text);
        sheet = parsed.Value!;
        return parsed.Value is null ? Refuse("sheet", parsed.Problems.First(p => p.Severity == Severity.Error), parsed.Problems) : null;
    }

    private static IResult? Lines(Circuit circuit, IReadOnlyList<string>? texts, string where, out List<Reading> readings)
    {
        readings = [];
        if (texts is { Count: > MostLines })
            return Refuse(
                where,
                new Problem(Severity.Error, MostLines, 1, $"More than {MostLines} lines.", null, "fewer lines in one request")
            );
        for (var i = 0; i < (texts?.Count ?? 0); i++)
        {
            var parsed = ReadingReader.Read(circuit, texts![i] ?? "", null, i + 1);
            if (parsed.Value is not { } r)
                return Refuse(where, parsed.Problems[0]);
            readings.Add(r);
        }
        return null;
    }

    /// <summary>RFC 9457 problem details with the place of the first problem.</summary>
    private static IResult Refuse(string where, Problem p, IReadOnlyList<Problem>? all = null) =>
        Results.Problem(
            title: $"The {where} cannot be used.",
            detail: p.ToString(),
            statusCode: 400,
            extensions: new Dictionary<string, object?>
            {
                ["in"] = where,
                ["line"] = p.Line,
                ["column"] = p.Column,
                ["message"] = p.Message,
                ["found"] = p.Found,
                ["expected"] = p.Expected,
                ["suggestion"] = p.Suggestion,
                ["problems"] = (all ?? [p]).Select(Item).ToList(),
            }
        );
}
