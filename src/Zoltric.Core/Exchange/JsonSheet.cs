using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;

namespace Zoltric.Core.Exchange;

/// <summary>
/// The JSON twin of a sheet: the same statements as objects, values as the notation writes them (<c>"8mohm"</c>). Its JSON Schema is
/// published by the application. Reading goes through the text form, so both say the same and are refused alike.
/// </summary>
public static class JsonSheet
{
    private static readonly JsonSerializerOptions Pretty = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>Writes a circuit as JSON.</summary>
    public static string Write(Circuit c)
    {
        ArgumentNullException.ThrowIfNull(c);
        var o = new JsonObject { ["title"] = c.Title };
        Put(o, "machine", c.Machine);
        Put(o, "family", c.Family);
        o["nominal"] = new JsonObject { ["volts"] = c.NominalVolts, ["system"] = c.Alternating ? "ac" : "dc" };
        o["drawnFrom"] = c.DrawnFrom.ToString().ToLowerInvariant();
        Put(o, "reference", c.Reference?.ToString());
        Put(o, "frame", c.Frame?.ToString());
        Put(o, "controls", c.Controls.Select(k => (JsonNode)Control(k)));
        Put(o, "parts", c.Parts.Select(p => (JsonNode)Part(p)));
        Put(o, "paths", c.Paths.Select(p => (JsonNode)Path(c, p)));
        Put(o, "functions", c.Functions.Select(f => (JsonNode)Function(f)));
        Put(o, "interlocks", c.Interlocks.Select(i => (JsonNode)new JsonObject { ["when"] = i.When.ToString(), ["stops"] = i.Stops }));
        Put(o, "codes", c.Codes.Select(k => (JsonNode)Code(k)));
        return o.ToJsonString(Pretty);
    }

    private static void Put(JsonObject o, string name, string? text)
    {
        if (text is not null)
            o[name] = text;
    }

    private static void Put(JsonObject o, string name, IEnumerable<JsonNode> items)
    {
        var array = new JsonArray([.. items]);
        if (array.Count > 0)
            o[name] = array;
    }

    private static void Put(JsonObject o, string name, IEnumerable<string> texts) =>
        Put(o, name, texts.Select(t => (JsonNode)JsonValue.Create(t)!));

    private static JsonObject Control(Control k)
    {
        var o = new JsonObject { ["name"] = k.Name };
        if (k.Given)
            o["given"] = true;
        Put(o, "positions", k.Positions);
        o["rest"] = k.Positions[k.Rest];
        Put(o, "held", k.Positions.Where(k.Held.Contains));
        return o;
    }

    private static JsonObject Part(Part p)
    {
        var o = new JsonObject { ["tag"] = p.Tag, ["kind"] = p.Kind.Word };
        if (p.Pins > 0)
            o["pins"] = p.Pins;
        Put(o, "values", p.Values.Select(QuantityText.Write));
        if (p.Named.Count > 0)
            o["named"] = new JsonObject(p.Named.Select(n => KeyValuePair.Create(n.Key, (JsonNode?)QuantityText.Write(n.Value))));
        Put(o, "words", p.Words);
        Put(o, "aux", p.Auxiliaries.Select(a => $"{a.A}-{a.B}"));
        Put(o, "lead", p.Lead);
        Put(o, "sides", p.Sides is var (first, second) ? $"{first}|{second}" : null);
        Put(o, "label", p.Label);
        Put(o, "place", p.Place);
        if (p.ReachGiven)
            o["reachMinutes"] = p.ReachMinutes;
        if (p.GoodOhms is { } g)
            o["goodOhms"] = new JsonObject { ["low"] = g.Low, ["high"] = g.High };
        Put(o, "hazards", p.Hazards);
        if (p.Odds is not 1)
            o["odds"] = p.Odds;
        if (p.Sealed)
            o["sealed"] = true;
        if (p.Safety)
            o["safety"] = true;
        Put(o, "when", p.When?.ToString());
        Put(
            o,
            "contacts",
            p.Contacts.Select(l =>
            {
                var contact = new JsonObject
                {
                    ["state"] = l.Closed ? "closed" : "open",
                    ["from"] = l.A,
                    ["to"] = l.B,
                };
                Put(contact, "when", l.When?.ToString());
                return (JsonNode)contact;
            })
        );
        Put(o, "lines", p.ModuleLines.Select(l => SheetWriter.ModuleText(p, l)));
        return o;
    }

    private static JsonObject Path(Circuit c, PathRoute path)
    {
        var hops = new JsonArray();
        foreach (var hop in path.Hops)
        {
            var o = new JsonObject();
            if (hop.Join is { WireId: null })
                o["metal"] = true;
            else if (hop.Join is { WireId: { } id } && c.FindWire(id) is { } w)
                o["wire"] = Wire(w);
            o["at"] = SheetWriter.Hop(c, hop);
            hops.Add(o);
        }
        return new JsonObject { ["hops"] = hops };
    }

    private static JsonObject Wire(Wire w)
    {
        var o = new JsonObject();
        Put(o, "number", w.Numbered ? w.Id : null);
        Put(o, "colour", w.Colour);
        Put(o, "size", SheetWriter.Size(w));
        if (w.LengthMetres is { } m)
            o["metres"] = m;
        if (w.Celsius is { } t)
            o["celsius"] = t;
        return o;
    }

    private static JsonObject Function(MachineFunction f)
    {
        var o = new JsonObject { ["name"] = f.Name, ["test"] = SheetWriter.Test(f) };
        Put(o, "when", f.When?.ToString());
        Put(o, "after", SheetWriter.After(f));
        return o;
    }

    private static JsonObject Code(FaultCode k)
    {
        var o = new JsonObject { ["code"] = k.Code };
        Put(o, "meaning", k.Meaning);
        Put(o, "about", k.About);
        return o;
    }

    /// <summary>
    /// Reads the JSON twin. Problems of the JSON itself carry its line and column; those of a statement name it as a JSON pointer and carry
    /// the line of the text form that <see cref="ToText"/> gives.
    /// </summary>
    public static Parsed<Circuit> Read(string json)
    {
        var text = ToText(json);
        if (text.Value is null)
            return new Parsed<Circuit>(null, text.Problems);
        var parsed = SheetReader.Read(text.Value.Text);
        return parsed with
        {
            Problems = [.. parsed.Problems.Select(p => p with { Message = $"{text.Value.PointerOf(p.Line)}: {p.Message}" })],
        };
    }

    /// <summary>The text form of a JSON sheet, with the JSON pointer each line comes from.</summary>
    public sealed record SheetText(string Text, IReadOnlyList<string> Pointers)
    {
        public string PointerOf(int line) => line >= 1 && line <= Pointers.Count ? Pointers[line - 1] : "/";
    }

    public static Parsed<SheetText> ToText(string json)
    {
        try
        {
            var root = JsonNode.Parse(json ?? "", null, new JsonDocumentOptions { MaxDepth = 32 });
            return new Parsed<SheetText>(new Reader().Sheet(root), []);
        }
        catch (JsonException e)
        {
            return Fail(
                (int)(e.LineNumber ?? 0) + 1,
                (int)(e.BytePositionInLine ?? 0) + 1,
                "This is not JSON: " + e.Message.Split(" LineNumber", StringSplitOptions.None)[0],
                "a JSON object"
            );
        }
        catch (NotationException e)
        {
            return new Parsed<SheetText>(null, [e.Problem]);
        }
        catch (Exception e) when (HalfCharacter.Is(e))
        {
            return Fail(1, 1, HalfCharacter.Said, "whole characters");
        }
    }

    private static Parsed<SheetText> Fail(int line, int column, string message, string expected) =>
        new(null, [new Problem(Severity.Error, line, column, message, null, expected)]);

    /// <summary>Turns objects into statements, one line each.</summary>
    private sealed class Reader
    {
        private readonly StringBuilder _text = new();
        private readonly List<string> _pointers = [];

        private static NotationException Wrong(string pointer, string message, string expected) =>
            new(new Problem(Severity.Error, 1, 1, $"{pointer}: {message}", null, expected));

        private void Line(string pointer, string line)
        {
            _text.Append(line).Append('\n');
            _pointers.Add(pointer);
        }

        public SheetText Sheet(JsonNode? root)
        {
            if (root is not JsonObject o)
                throw Wrong("/", "A sheet is one object.", "a JSON object");
            foreach (var (name, _) in o)
                if (Array.IndexOf(Known, name) < 0)
                    throw Wrong("/" + name, "A sheet has no such member.", string.Join(", ", Known));
            Line("/title", $"sheet {Quoted(o, "title", "/", true)}");
            if (o.ContainsKey("machine"))
                Line(
                    "/machine",
                    $"machine {Quoted(o, "machine", "/", true)}{(Word(o, "family", "/") is { } family ? " family " + family : "")}"
                );
            if (o["nominal"] is { } nominal)
                Line(
                    "/nominal",
                    $"nominal {SheetWriter.Number(Real(Object(nominal, "/nominal"), "volts", "/nominal") ?? 12)}V "
                        + $"{Word(Object(nominal, "/nominal"), "system", "/nominal") ?? "dc"}"
                );
            if (Word(o, "drawnFrom", "/") is { } drawn)
                Line("/drawnFrom", $"drawn from {drawn}");
            if (Word(o, "reference", "/") is { } reference)
                Line("/reference", $"reference {reference}");
            if (Word(o, "frame", "/") is { } frame)
                Line("/frame", $"frame {frame}");
            Each(o, "controls", Control);
            Each(o, "parts", Part);
            Each(o, "paths", Path);
            Each(o, "functions", (f, p) =>
                Line(p, $"function {Quoted(f, "name", p, true)}: {Free(f, "test", p, true)}{Clause(f, "after", p)}{Clause(f, "when", p)}")
            );
            Each(o, "interlocks", (i, p) => Line(p, $"interlock {Free(i, "when", p, true)} stops {Quoted(i, "stops", p, true)}"));
            Each(o, "codes", (k, p) =>
                Line(
                    p,
                    $"code "
                        + $"{Word(k, "code", p, true)}{(k.ContainsKey("meaning") ? " " + Quoted(k, "meaning", p, true) : "")}"
                        + $"{(Words(k, "about", p) is { Count: > 0 } about ? " about " + string.Join(", ", about) : "")}"
                )
            );
            return new SheetText(_text.ToString(), _pointers);
        }

        private static readonly string[] Known =
        [
            "$schema",
            "title",
            "machine",
            "family",
            "nominal",
            "drawnFrom",
            "reference",
            "frame",
            "controls",
            "parts",
            "paths",
            "functions",
            "interlocks",
            "codes",
        ];

        private static void Each(JsonObject o, string name, Action<JsonObject, string> use)
        {
            if (o[name] is not { } node)
                return;
            if (node is not JsonArray array)
                throw Wrong("/" + name, "This is a list.", "an array of objects");
            for (var i = 0; i < array.Count; i++)
                use(Object(array[i], $"/{name}/{i}"), $"/{name}/{i}");
        }

        private static JsonObject Object(JsonNode? node, string pointer) =>
            node as JsonObject ?? throw Wrong(pointer, "This is an object.", "a JSON object");

        private void Control(JsonObject k, string p)
        {
            var (positions, held, rest) = (Words(k, "positions", p), Words(k, "held", p), Word(k, "rest", p));
            Line(
                p,
                $"{(Flag(k, "given", p) ? "given" : "control")} {Word(k, "name", p, true)}: "
                    + string.Join(
                        ", ",
                        positions.Select((x, i) => x + ((rest is null ? i == 0 : x == rest) ? "*" : "") + (held.Contains(x) ? " held" : ""))
                    )
            );
        }

        private void Part(JsonObject o, string p)
        {
            var s = new StringBuilder($"part {Word(o, "tag", p, true)} {Word(o, "kind", p, true)}");
            if (Real(o, "pins", p) is { } pins)
                s.Append(CultureInfo.InvariantCulture, $" {pins:0}");
            foreach (var v in Words(o, "values", p))
                s.Append(' ').Append(v);
            if (o["named"] is { } named)
                foreach (var (name, _) in Object(named, p + "/named"))
                    s.Append(
                        CultureInfo.InvariantCulture,
                        $" {Plain(name, p + "/named")}{(name.EndsWith("-delay", StringComparison.Ordinal) ? " " : "=")}"
                            + $"{Word(Object(named, p), name, p + "/named", true)}"
                    );
            foreach (var w in Words(o, "words", p))
                s.Append(' ').Append(w);
            if (Words(o, "aux", p) is { Count: > 0 } aux)
                s.Append(" aux ").AppendJoin(',', aux);
            if (o.ContainsKey("sides"))
                s.Append(" sides ").Append(Word(o, "sides", p, true));
            if (o.ContainsKey("lead"))
                s.Append(" field ").Append(Word(o, "lead", p, true));
            if (o.ContainsKey("label"))
                s.Append(' ').Append(Quoted(o, "label", p, true));
            if (o.ContainsKey("place"))
                s.Append(" at ").Append(Quoted(o, "place", p, true));
            if (Real(o, "reachMinutes", p) is { } reach)
                s.Append(CultureInfo.InvariantCulture, $" reach {SheetWriter.Number(reach * 60)}s");
            if (o["goodOhms"] is { } good)
                s.Append(
                    CultureInfo.InvariantCulture,
                    $" good "
                        + $"{SheetWriter.Number(Real(Object(good, p), "low", p) ?? 0)}ohm.."
                        + $"{SheetWriter.Number(Real(Object(good, p), "high", p) ?? 0)}ohm"
                );
            foreach (var h in Words(o, "hazards", p))
                s.Append(" hazard ").Append(h);
            if (Real(o, "odds", p) is { } odds)
                s.Append(" odds ").Append(SheetWriter.Number(odds));
            if (Flag(o, "sealed", p))
                s.Append(" sealed");
            if (Flag(o, "safety", p))
                s.Append(" safety");
            Line(p, s + Clause(o, "when", p));
            if (o["contacts"] is JsonArray contacts)
                for (var i = 0; i < contacts.Count; i++)
                {
                    var (c, at) = (Object(contacts[i], $"{p}/contacts/{i}"), $"{p}/contacts/{i}");
                    Line(
                        at,
                        $"  {Word(c, "state", at, true)} {Word(c, "from", at, true)}-{Word(c, "to", at, true)}{Clause(c, "when", at)}"
                    );
                }
            if (o["lines"] is JsonArray lines)
                for (var i = 0; i < lines.Count; i++)
                    Line($"{p}/lines/{i}", "  " + Checked(Text(lines[i], $"{p}/lines/{i}"), $"{p}/lines/{i}"));
        }

        private void Path(JsonObject o, string p)
        {
            if (o["hops"] is not JsonArray { Count: > 1 } hops)
                throw Wrong(p + "/hops", "A path has at least two hops.", "an array of hops");
            var s = new StringBuilder("path ");
            for (var i = 0; i < hops.Count; i++)
            {
                var (hop, at) = (Object(hops[i], $"{p}/hops/{i}"), $"{p}/hops/{i}");
                if (i > 0)
                    s.Append(
                        Flag(hop, "metal", at) ? " = "
                        : hop["wire"] is { } wire ? Wire(Object(wire, at + "/wire"), at + "/wire")
                        : " - "
                    );
                s.Append(Word(hop, "at", at, true));
            }
            Line(p, s.ToString());
        }

        private static string Wire(JsonObject w, string p)
        {
            string?[] words =
            [
                Word(w, "number", p),
                Word(w, "colour", p),
                Word(w, "size", p),
                Real(w, "metres", p) is { } m ? SheetWriter.Number(m) + "m" : null,
                Real(w, "celsius", p) is { } t ? SheetWriter.Number(t) + "C" : null,
            ];
            var given = words.OfType<string>().ToList();
            return given.Count == 0 ? " - " : $" -[{string.Join(' ', given)}]- ";
        }

        private static string Clause(JsonObject o, string name, string p) => o.ContainsKey(name) ? $" {name} {Free(o, name, p, true)}" : "";

        private static string Text(JsonNode? node, string p) =>
            node is JsonValue v && v.TryGetValue<string>(out var text) ? text : throw Wrong(p, "This is a text.", "a JSON string");

        /// <summary>One line without a comment sign, as a statement can hold it.</summary>
        private static string Checked(string text, string p) =>
            text.AsSpan().IndexOfAny("\r\n#") >= 0 || string.IsNullOrWhiteSpace(text)
                ? throw Wrong(p, "This is empty, or has a line break or # in it.", "one line of text")
                : text;

        private static string? Free(JsonObject o, string name, string p, bool needed = false) =>
            o[name] is { } node ? Checked(Text(node, $"{p}/{name}"), $"{p}/{name}")
            : needed ? throw Wrong(p, $"“{name}” is missing.", name)
            : null;

        private static string Plain(string text, string p) =>
            Checked(text, p).Any(c => char.IsWhiteSpace(c) || c is '"')
                ? throw Wrong(p, "This is one word without quotes.", "one word")
                : text;

        private static string? Word(JsonObject o, string name, string p, bool needed = false) =>
            Free(o, name, p, needed) is { } text ? Plain(text, $"{p}/{name}") : null;

        private static string Quoted(JsonObject o, string name, string p, bool needed)
        {
            if (o[name] is null && needed)
                throw Wrong(p, $"“{name}” is missing.", name);
            var text = Text(o[name], $"{p}/{name}");
            return text.AsSpan().IndexOfAny("\r\n\"") >= 0
                ? throw Wrong($"{p}/{name}", "A name has no quotes or line breaks in it.", "plain text")
                : $"\"{text}\"";
        }

        private static List<string> Words(JsonObject o, string name, string p)
        {
            if (o[name] is not { } node)
                return [];
            if (node is not JsonArray array)
                throw Wrong($"{p}/{name}", "This is a list.", "an array of strings");
            return [.. array.Select((x, i) => Plain(Text(x, $"{p}/{name}/{i}"), $"{p}/{name}/{i}"))];
        }

        private static double? Real(JsonObject o, string name, string p) =>
            o[name] switch
            {
                null => null,
                JsonValue v when v.TryGetValue<double>(out var x) && double.IsFinite(x) => x,
                _ => throw Wrong($"{p}/{name}", "This is a number.", "a JSON number"),
            };

        private static bool Flag(JsonObject o, string name, string p) =>
            o[name] switch
            {
                null => false,
                JsonValue v when v.TryGetValue<bool>(out var x) => x,
                _ => throw Wrong($"{p}/{name}", "This is true or false.", "true or false"),
            };
    }
}
