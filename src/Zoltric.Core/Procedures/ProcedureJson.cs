using System.Text.Json;
using System.Text.Json.Serialization;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Procedures;

/// <summary>The JSON twin of a procedure's text; its schema is docs/data/procedure.schema.json.</summary>
public static class ProcedureJson
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private sealed record File(
        string? Title,
        string? For,
        string? MadeBy,
        IReadOnlyList<string>? Cautions,
        IReadOnlyList<string>? Notes,
        IReadOnlyList<Step>? Steps
    );

    private sealed record Step(
        string? Number,
        string? Question,
        string? Set,
        string? Meter,
        string? Where,
        string? Reading,
        IReadOnlyList<OnePin>? Pins,
        double Minutes,
        IReadOnlyList<string>? Notes,
        IReadOnlyList<string>? Cautions,
        IReadOnlyList<Answer>? Answers
    );

    private sealed record OnePin(string? Name, string? Good, string? Reading);

    private sealed record Answer(string? When, string? Step, string? Repair, string? Of, string? Ask);

    public static string Write(Procedure p)
    {
        ArgumentNullException.ThrowIfNull(p);
        return JsonSerializer.Serialize(
            new File(
                p.Title,
                Some(p.AppliesTo),
                Some(p.MadeBy),
                Some(p.Cautions),
                Some(p.Notes),
                [
                    .. p.Steps.Select(s => new Step(
                        s.Number,
                        s.Question,
                        Some(s.Set),
                        Some(s.Meter),
                        Some(s.Where),
                        Some(s.Reading),
                        s.Pins.Count == 0 ? null : [.. s.Pins.Select(p => new OnePin(p.Name, p.Good.ToString(), Some(p.Reading)))],
                        s.Minutes,
                        Some(s.Notes),
                        Some(s.Cautions),
                        [
                            .. s.Answers.Select(a => new Answer(
                                a.When.ToString(),
                                (a.Leads as StepLead.ToStep)?.Number,
                                (a.Leads as StepLead.Repair)?.Text,
                                Some((a.Leads as StepLead.Repair)?.Of ?? ""),
                                (a.Leads as StepLead.Ask)?.Text
                            )),
                        ]
                    )),
                ]
            ),
            Options
        );
    }

    /// <summary>Reads the twin by writing it as text, so that both have one set of rules.</summary>
    public static Parsed<Procedure> Read(string json)
    {
        ArgumentNullException.ThrowIfNull(json);
        File? file;
        try
        {
            file = JsonSerializer.Deserialize<File>(json, Options);
        }
        catch (JsonException e)
        {
            return Fail($"This is no JSON of a procedure: {e.Path ?? "$"}", (int)(e.LineNumber ?? 0) + 1);
        }
        catch (Exception e) when (HalfCharacter.Is(e))
        {
            return Fail(HalfCharacter.Said, 1);
        }
        if (file?.Title is not { Length: > 0 } title || file.Steps is null)
            return Fail("A procedure has a title and steps.", 1);
        var steps = new List<ProcedureStep>();
        foreach (var s in file.Steps)
        {
            var answers = new List<StepAnswer>();
            foreach (var a in s?.Answers ?? [])
            {
                StepLead? lead =
                    a?.Step is { Length: > 0 } to ? new StepLead.ToStep(to)
                    : a?.Repair is { Length: > 0 } repair ? new StepLead.Repair(repair, a.Of ?? "")
                    : a?.Ask is { Length: > 0 } ask ? new StepLead.Ask(ask)
                    : null;
                if (lead is null || ProcedureText.Rule(a!.When ?? "") is not { } rule)
                    return Fail($"Step {s?.Number}: an answer has when, and one of step, repair and ask.", 1);
                answers.Add(new StepAnswer(rule, lead));
            }
            var pins = new List<StepPin>();
            foreach (var pin in s?.Pins ?? [])
            {
                if (pin?.Name is not { Length: > 0 } name || ProcedureText.Rule(pin.Good ?? "") is not { } good)
                    return Fail($"Step {s?.Number}: a pin has a name and good, what it shows where it is good.", 1);
                pins.Add(new StepPin(name, good) { Reading = pin.Reading ?? "" });
            }
            steps.Add(
                new ProcedureStep(s?.Number ?? "", s?.Question ?? "")
                {
                    Set = s?.Set ?? "",
                    Meter = s?.Meter ?? "",
                    Where = s?.Where ?? "",
                    Reading = s?.Reading ?? "",
                    Pins = pins,
                    Minutes = s?.Minutes ?? 0,
                    Notes = s?.Notes ?? [],
                    Cautions = s?.Cautions ?? [],
                    Answers = answers,
                }
            );
        }
        return ProcedureText.Read(
            ProcedureText.Write(
                new Procedure(title, steps)
                {
                    AppliesTo = file.For ?? "",
                    MadeBy = file.MadeBy ?? "",
                    Cautions = file.Cautions ?? [],
                    Notes = file.Notes ?? [],
                }
            )
        );
    }

    private static Parsed<Procedure> Fail(string message, int line) => new(null, [new Problem(Severity.Error, line, 1, message)]);

    private static string? Some(string text) => text.Length > 0 ? text : null;

    private static IReadOnlyList<string>? Some(IReadOnlyList<string> texts) => texts.Count > 0 ? texts : null;
}
