using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;
using AngleSharp.Dom;
using AngleSharp.Html.Parser;
using Zoltric.Core.Exchange;
using Zoltric.Core.Notation;

namespace Zoltric.Web.Tests;

/// <summary>
/// Whatever is sent through whatever door is answered: every form of every kind of page, every query, every address for programs, with
/// values
/// that nobody means well with. 2,000 inputs in every run, as many as ZOLTRIC_HOSTILE says by option.
/// </summary>
public sealed partial class HostileTests(ITestOutputHelper output)
{
    private const int Senders = 2;
    private const string Token = "__RequestVerificationToken";

    private static readonly int Inputs = int.TryParse(
        Environment.GetEnvironmentVariable("ZOLTRIC_HOSTILE"),
        NumberStyles.None,
        CultureInfo.InvariantCulture,
        out var n
    )
        ? n
        : 2000;

    /// <summary>A form as it stands on a page: what a client is meant to send.</summary>
    private sealed record Door(string Action, HttpMethod Method, List<(string Name, string Value, bool Hidden, bool File)> Fields)
    {
        public string Kind => Digits().Replace(Action, "N") + " " + string.Join(',', Fields.Select(f => f.Name).Distinct().Order());
    }

    /// <summary>Every kind of form and every query, from up to two pages of each kind that links lead to.</summary>
    private static async Task<List<Door>> Doors(HttpClient client)
    {
        var parser = new HtmlParser();
        var doors = new Dictionary<string, Door>();
        var seen = new Dictionary<string, int>();
        var next = new Queue<string>(["/"]);
        var known = new HashSet<string> { "/" };
        while (next.TryDequeue(out var path))
        {
            var kind = Digits().Replace(path.Split('?')[0], "N");
            if (seen.GetValueOrDefault(kind) >= 2)
                continue;
            using var answer = await client.GetAsync(path, HttpCompletionOption.ResponseHeadersRead);
            if (answer.Content.Headers.ContentType?.MediaType != "text/html")
                continue;
            seen[kind] = seen.GetValueOrDefault(kind) + 1;
            var page = parser.ParseDocument(await answer.Content.ReadAsStringAsync());
            string Here(string? link) => new Uri(new Uri(client.BaseAddress!, path), link ?? "").PathAndQuery;
            foreach (var form in page.QuerySelectorAll("form"))
            {
                var post = form.GetAttribute("method")?.Equals("post", StringComparison.OrdinalIgnoreCase) == true;
                var door = new Door(
                    Here(form.GetAttribute("action") is { Length: > 0 } a ? a : path),
                    post ? HttpMethod.Post : HttpMethod.Get,
                    [.. form.QuerySelectorAll("[name]").Select(e => (e.GetAttribute("name")!, Value(e), IsHidden(e), IsFile(e)))]
                );
                doors.TryAdd(door.Kind, door);
            }
            foreach (var a in page.QuerySelectorAll("a[href]"))
                if (
                    a.GetAttribute("href") is { } href
                    && new Uri(client.BaseAddress!, Here(href)).Host == client.BaseAddress!.Host
                    && !href.StartsWith("http", StringComparison.Ordinal)
                )
                {
                    var to = Here(href).Split('#')[0];
                    if (to.Contains('?', StringComparison.Ordinal))
                    {
                        var query = to.Split('?')[1].Split('&').Select(p => p.Split('='));
                        var door = new Door(
                            to.Split('?')[0],
                            HttpMethod.Get,
                            [.. query.Select(p => (p[0], Uri.UnescapeDataString(p.ElementAtOrDefault(1) ?? ""), false, false))]
                        );
                        doors.TryAdd("GET " + door.Kind, door);
                    }
                    if (known.Add(to))
                        next.Enqueue(to);
                }
        }
        seen.Count.ShouldBeGreaterThan(25, "pages were not found");
        return [.. doors.Values];
    }

    private static string Value(IElement e) => e.GetAttribute("value") ?? (e.TagName == "TEXTAREA" ? e.TextContent : "");

    private static bool IsHidden(IElement e) => e.GetAttribute("type") == "hidden";

    private static bool IsFile(IElement e) => e.GetAttribute("type") == "file";

    /// <summary>Values from a random source: what is nearly right, and what is nothing at all.</summary>
    private sealed class Spite(Random random, string[] sheets, string twin, string job)
    {
        private static readonly string[] Bad =
        [
            "",
            " ",
            "\0",
            "\ud800",
            "\u202e reversed \u0007",
            "NaN",
            "1e999",
            "-1e308",
            "99999999999999999999",
            "-1",
            "0",
            "2147483648",
            "<script>alert(1)</script>",
            "'; DROP TABLE line; --",
            "../../../../etc/passwd",
            "=1+1",
            "{{7*7}}",
            "%s%n%x",
            "[[[[[[[[[[[[[[[[",
            "\"\"\"\"",
            "power=ON : V : : = = = 12",
            " : V K1.86 = ",
            " : sees \"\" = dead",
            "off off off off",
            "unplug X1, pull F1, after 99999999min : V G1.+ = 12V",
            "swap K1 K1, swap K1 K1 : ohm K1 = 0..OL",
            " : V G1.+ = 12..-12V",
            ": insul G1.+ G1.- = 1e30ohm",
            "2026-13-45T99:99:99Z",
            "true",
            "null",
            "[]",
            "{}",
            "127.0.0.1:1",
            "localhost:99999",
            "/dev/zero",
            "https://0x7f000001/",
            "sheet \"x\"\npart",
            "name,from,to\n,,\n\"",
        ];
        private static readonly string[] Words =
        [
            "open",
            "resists -1ohm",
            "0",
            "1e300",
            "∞",
            "K1.86",
            "GND1",
            "\"",
            "-[",
            "]-",
            "->",
            ":",
            "=",
            "..",
            "when",
            "and",
            "closed",
            "12V",
            "part",
            "path",
            "function",
            "interlock",
        ];

        public int Next(int most) => random.Next(most);

        public bool Chance(double of) => random.NextDouble() < of;

        public string Sheet() => Mangle(sheets[Next(sheets.Length)]);

        public string Job() => Mangle(job);

        /// <summary>A sheet as JSON holds it: mostly a text, sometimes the twin, sometimes anything.</summary>
        public string SheetInJson() =>
            Next(10) switch
            {
                0 => Json(For("sheet \"x\"")),
                1 => Mangle(twin),
                2 => twin.Replace("\"tag\": \"", "\"tag\": \"\\ud800", StringComparison.Ordinal),
                _ => Json(Sheet()),
            };

        /// <summary>A text of ours with some of it taken out, doubled, exchanged or replaced.</summary>
        public string Mangle(string text)
        {
            var s = text;
            for (var n = Next(4); n >= 0 && s.Length > 0; n--)
            {
                var at = Next(s.Length);
                var length = Math.Min(s.Length - at, 1 + Next(1 + Next(60)));
                s = Next(5) switch
                {
                    0 => s.Remove(at, length),
                    1 => s.Insert(at, s.Substring(at, length)),
                    2 => s.Insert(at, " " + Words[Next(Words.Length)] + " "),
                    3 => string.Concat(s.AsSpan(0, at), Words[Next(Words.Length)], s.AsSpan(at + length)),
                    _ => Lines(s),
                };
            }
            return s;
        }

        private string Lines(string s)
        {
            var lines = s.Split('\n');
            var (a, b) = (Next(lines.Length), Next(lines.Length));
            (lines[a], lines[b]) = (lines[b], lines[a]);
            return string.Join('\n', lines);
        }

        public string For(string good) =>
            Next(10) switch
            {
                0 => new string((char)('a' + Next(26)), 1 + Next(1 + Next(200_000))),
                1 or 2 => Mangle(good),
                3 => Sheet(),
                _ => Bad[Next(Bad.Length)],
            };

        public byte[] File()
        {
            switch (Next(5))
            {
                case 0:
                    var noise = new byte[Next(20_000)];
                    random.NextBytes(noise);
                    return noise;
                case 1:
                    return Encoding.UTF8.GetBytes(Job());
                case 2:
                    return Encoding.UTF8.GetBytes("time,volts\n0,1\n1,\n" + Mangle("0.001,12.4\n0.002,12.3\n0.003,OL\n"));
                case 3:
                    return [0x50, 0x4B, 3, 4, .. Encoding.UTF8.GetBytes(Sheet())];
                default:
                    return Encoding.UTF8.GetBytes(Sheet());
            }
        }
    }

    private static HttpRequestMessage Ask(Door d, Spite spite)
    {
        var action = spite.Chance(0.1)
            ? Digits()
                .Replace(d.Action, _ => spite.Next(3) switch
                    {
                        0 => "0",
                        1 => "999999",
                        _ => "-1",
                    })
            : d.Action;
        if (spite.Chance(0.03))
            action = HandlerName().Replace(action, "handler=Nothing");
        var fields = d
            .Fields.Where(f => !f.File && (f.Name == Token || !spite.Chance(0.1)))
            .Select(f =>
                KeyValuePair.Create(
                    f.Name,
                    f.Name == Token ? f.Value
                        : spite.Chance(f.Hidden ? 0.2 : 0.7) ? spite.For(f.Value)
                        : f.Value
                )
            )
            .ToList();
        if (d.Method == HttpMethod.Get)
            return new(
                HttpMethod.Get,
                action.Split('?')[0] + "?" + string.Join('&', fields.Select(f => Uri.EscapeDataString(f.Key) + "=" + Escape(f.Value, 6000)))
            );
        var request = new HttpRequestMessage(HttpMethod.Post, action);
        if (d.Fields.Any(f => f.File))
        {
            var parts = new MultipartFormDataContent();
            foreach (var f in fields)
                parts.Add(new StringContent(f.Value), f.Key);
            foreach (var f in d.Fields.Where(f => f.File))
                parts.Add(new ByteArrayContent(spite.File()), f.Name, spite.Chance(0.5) ? "a.csv" : "../../x\u202e.exe");
            request.Content = parts;
        }
        else
            request.Content = new StringContent(
                string.Join('&', fields.Select(f => Uri.EscapeDataString(f.Key) + "=" + Escape(f.Value, int.MaxValue))),
                Encoding.ASCII,
                "application/x-www-form-urlencoded"
            );
        return request;
    }

    private static string Escape(string s, int most) =>
        string.Concat(Encoding.UTF8.GetBytes(s.Length > most / 3 ? s[..(most / 3)] : s).Select(b => $"%{b:X2}"));

    private static HttpRequestMessage AskAsProgram(Spite spite)
    {
        var path = new[] { "check", "simulate", "expect", "diagnose", "jobs/import" }[spite.Next(5)];
        var body =
            path == "jobs/import"
                ? spite.Job()
                : $$"""{"sheet": {{spite.SheetInJson()}}, "lines": [{{Json(spite.For(" : V G1.+"))}}], "readings": [{{Json(
                    spite.For(" : V G1.+ = 12V")
                )}}], "faults": [{{Json(spite.For("w1 open"))}}], "setup": {{Json(spite.For("key=ON"))}}}""";
        var bytes = Encoding.UTF8.GetBytes(spite.Chance(0.2) ? spite.Mangle(body) : body);
        var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/" + path) { Content = new ByteArrayContent(bytes) };
        request.Content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        return request;
    }

    /// <summary>As JSON writes it, a lone surrogate included.</summary>
    private static string Json(string s) =>
        "\"" + string.Concat(s.Select(c => c is >= ' ' and < (char)127 and not ('"' or '\\') ? $"{c}" : $"\\u{(int)c:x4}")) + "\"";

    [Fact]
    public async Task Whatever_is_sent_is_answered_and_nothing_breaks()
    {
        using var server = new ServerProcess();
        using var client = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false })
        {
            BaseAddress = new Uri(server.Address),
            Timeout = TimeSpan.FromMinutes(1),
        };
        var doors = await Doors(client);
        output.WriteLine($"{doors.Count} kinds of doors beside five for programs");
        var sheets = Directory
            .GetFiles(Path.Combine(ServerProcess.Root, "scenario", "sheets"), "*.sheet")
            .Select(File.ReadAllText)
            .ToArray();
        var twin = JsonSheet.Write(SheetReader.Read(sheets[0]).Value!);
        var job = await client.GetStringAsync("/api/v1/jobs/1/export", TestContext.Current.CancellationToken);
        var (broken, times) = (new List<string>(), new List<(double Seconds, string What)>());
        var given = 0;
        async Task Send(int sender)
        {
            var spite = new Spite(new Random(sender), sheets, twin, job);
            while (Interlocked.Increment(ref given) <= Inputs)
            {
                using var request = spite.Chance(0.25) ? AskAsProgram(spite) : Ask(doors[spite.Next(doors.Count)], spite);
                var what = $"{request.Method} {request.RequestUri}";
                var start = Stopwatch.GetTimestamp();
                try
                {
                    using var answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
                    // Lists that stay open are read no further than their head.
                    var text =
                        answer.Content.Headers.ContentType?.MediaType == "text/event-stream"
                            ? ""
                            : await answer.Content.ReadAsStringAsync();
                    lock (times)
                    {
                        times.Add((Stopwatch.GetElapsedTime(start).TotalSeconds, what));
                        if (
                            answer.StatusCode == HttpStatusCode.InternalServerError
                            || text.Contains("   at Zoltric.", StringComparison.Ordinal)
                        )
                            broken.Add($"{(int)answer.StatusCode} {what}");
                    }
                }
                catch (Exception e) when (e is HttpRequestException or TaskCanceledException)
                {
                    lock (times)
                        broken.Add($"{e.Message} {what}");
                }
            }
        }
        await Task.WhenAll(Enumerable.Range(1, Senders).Select(Send));
        times.Sort();
        output.WriteLine(
            $"{times.Count} inputs, half under {times[times.Count / 2].Seconds * 1000:0} ms, "
                + $"{times.Count(t => t.Seconds > 5)} over 5 s; {server.Megabytes} MB"
        );
        foreach (
            var slow in times.Where(t => t.Seconds > 5).GroupBy(t => Digits().Replace(t.What.Split('?')[0], "N")).OrderBy(g => -g.Count())
        )
            output.WriteLine($"{slow.Count()} to {slow.Key}, {slow.Max(t => t.Seconds):0.0} s the longest");
        foreach (var (seconds, what) in times.TakeLast(5))
            output.WriteLine($"{seconds:0.0} s {what[..Math.Min(what.Length, 200)]}");
        broken.ShouldBeEmpty($"{server.Said}");
        server.Said.ShouldNotContain("unhandled", Case.Insensitive);
        (await client.GetAsync("/readyz", TestContext.Current.CancellationToken)).IsSuccessStatusCode.ShouldBeTrue();
    }

    [GeneratedRegex(@"handler=\w+")]
    private static partial Regex HandlerName();

    [GeneratedRegex(@"\d+")]
    private static partial Regex Digits();
}
