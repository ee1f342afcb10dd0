using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Zoltric.Core.Tests.Solving;

namespace Zoltric.Bench;

/// <summary>
/// Technicians who trace the demo's machines on a running server, each on a copy of a job, as their screens would: the page, its answers,
/// a pause; with <c>phones</c> the next orders as well, with <c>slowest</c> which took longest. Prints how long pages and readings took,
/// and how much of the processor was lent out elsewhere meanwhile, where the system tells.
/// </summary>
internal static class LoadDriver
{
    /// <summary>Open jobs of the demo.</summary>
    private const int Jobs = 13;

    private sealed record Took(string What, double Milliseconds, int Code, int Job);

    public static async Task Run(Uri server, IReadOnlyList<string> options)
    {
        string Option(string name, string usual) =>
            options.FirstOrDefault(o => o.StartsWith(name + "=", StringComparison.Ordinal))?[(name.Length + 1)..] ?? usual;
        var pause = double.Parse(Option("pause", "45"), CultureInfo.InvariantCulture);
        var seconds = double.Parse(Option("seconds", "180"), CultureInfo.InvariantCulture);
        var hostile = options.Contains("hostile");
        var phones = options.Contains("phones");
        Console.WriteLine("technicians  pause   readings   p50    p95    most   pages  p50    p95    failed   memory   elsewhere");
        foreach (var many in Option("technicians", "1,10,25,50").Split(',').Select(int.Parse))
        {
            var (took, before) = (new List<Took>(), Processor());
            using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(seconds));
            var beside = hostile ? Hostile(server, stop.Token) : Task.CompletedTask;
            await Task.WhenAll(
                Enumerable.Range(0, many).Select(i => Technician(server, i, pause, phones, took, stop.Token)).Append(beside)
            );
            var after = Processor();
            var elsewhere = (after.Lent - before.Lent) / Math.Max(1, after.All - before.All);
            Print(many, pause, took, $"{await Memory(server)}   {100 * elsewhere:0} %");
            if (options.Contains("slowest"))
                Slowest(took);
        }
    }

    private static void Print(int many, double pause, List<Took> took, string memory)
    {
        double[] Of(string what) => [.. took.Where(t => t.What == what).Select(t => t.Milliseconds).Order()];
        string At(double[] all, double share) => all.Length == 0 ? "-" : $"{all[Math.Min(all.Length - 1, (int)(share * all.Length))]:0} ms";
        var (readings, pages) = (Of("reading"), Of("page"));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{many, 11}  {pause, 4:0} s  {readings.Length, 9}  {At(readings, 0.5), 7} {At(readings, 0.95), 7} {At(readings, 1), 8} "
                    + $"{pages.Length, 6} {At(pages, 0.5), 7} {At(pages, 0.95), 7} {took.Count(t => t.Code >= 400), 6}   {memory}"
            )
        );
    }

    /// <summary>Ticks of the processor in all, and those of them that went to other machines on the same hardware; zeroes where the system
    /// does not tell.</summary>
    private static (double All, double Lent) Processor()
    {
        const string told = "/proc/stat";
        if (!File.Exists(told))
            return (0, 0);
        // User, nice, system, idle, waiting, interrupts twice, stolen (proc(5)).
        double[] ticks =
        [
            .. File.ReadLines(told)
                .First()
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Skip(1)
                .Take(8)
                .Select(t => double.Parse(t, CultureInfo.InvariantCulture)),
        ];
        return (ticks.Sum(), ticks[^1]);
    }

    /// <summary>The slowest twelve, with the demo job that each was a copy of.</summary>
    private static void Slowest(List<Took> took) =>
        Console.WriteLine(
            string.Join(", ", took.OrderByDescending(t => t.Milliseconds).Take(12).Select(t => $"{t.What} of {t.Job} {t.Milliseconds:0}"))
        );

    private static async Task Technician(Uri server, int index, double pause, bool phones, List<Took> took, CancellationToken stop)
    {
        var random = new Random(1000 + index);
        var parser = new HtmlParser();
        var machine = 0;
        using var http = new HttpClient { BaseAddress = server, Timeout = TimeSpan.FromMinutes(2) };
        http.DefaultRequestHeaders.Add("Cookie", $"zoltric-name=Technician%20{index}");
        try
        {
            // They do not all begin at once.
            await Task.Delay(TimeSpan.FromSeconds(random.NextDouble() * pause), stop);
            machine = 1 + index % Jobs;
            var job = await Copy(http, machine, stop);
            while (!stop.IsCancellationRequested)
            {
                var page = await parser.ParseDocumentAsync(await Ask("page", () => http.GetAsync($"/jobs/{job}/trace", stop)), stop);
                var orders = phones ? Ask("ahead", () => http.GetAsync($"/jobs/{job}/ahead", stop)) : Task.CompletedTask;
                await Task.WhenAll(orders, Task.Delay(TimeSpan.FromSeconds(pause * (0.5 + random.NextDouble())), stop));
                var forms = page.QuerySelectorAll<IHtmlFormElement>("form").ToList();
                if (
                    Pick([
                        .. forms.Where(f => Goes(f, "Reading") && f.QuerySelector("[data-answer]") is not null && Text(f) is not null),
                    ]) is
                    { } answer
                )
                    await Ask("reading", () => Send(http, answer, true, stop));
                else if (Pick([.. forms.Where(f => Goes(f, "Said"))]) is { } said)
                    await Ask("word", () => Send(http, said, false, stop));
                else
                    // Found, or it wants a lock: the next machine.
                    job = await Copy(http, machine = 1 + random.Next(Jobs), stop);
            }
        }
        catch (OperationCanceledException) { }

        // The good answer more often than another.
        IHtmlFormElement? Pick(List<IHtmlFormElement> of) =>
            of.Count == 0 ? null : of[random.NextDouble() < 0.6 ? 0 : random.Next(of.Count)];

        async Task<string> Ask(string what, Func<Task<HttpResponseMessage>> ask)
        {
            var since = Stopwatch.GetTimestamp();
            using var answer = await ask();
            var text = await answer.Content.ReadAsStringAsync(stop);
            lock (took)
                took.Add(new Took(what, Stopwatch.GetElapsedTime(since).TotalMilliseconds, (int)answer.StatusCode, machine));
            return text;
        }
    }

    private static bool Goes(IHtmlFormElement form, string handler) =>
        form.GetAttribute("action")?.Contains($"handler={handler}", StringComparison.OrdinalIgnoreCase) == true;

    private static string? Text(IHtmlFormElement form) => form.QuerySelector<IHtmlInputElement>("[name=text][type=hidden]")?.Value;

    private static Task<HttpResponseMessage> Send(HttpClient http, IHtmlFormElement form, bool part, CancellationToken stop)
    {
        var fields = form.QuerySelectorAll<IHtmlInputElement>("input")
            .Where(i => i.Name is { Length: > 0 } && (i.Type is not ("checkbox" or "radio") || i.IsChecked))
            .Select(i => KeyValuePair.Create(i.Name!, i.Value));
        var request = new HttpRequestMessage(HttpMethod.Post, form.GetAttribute("action")) { Content = new FormUrlEncodedContent(fields) };
        if (part)
            request.Headers.Add("HX-Request", "true");
        return http.SendAsync(request, stop);
    }

    /// <summary>A job of one's own, of the same machine with the same readings.</summary>
    private static async Task<long> Copy(HttpClient http, int of, CancellationToken stop)
    {
        using var file = new StringContent(await http.GetStringAsync($"/api/v1/jobs/{of}/export", stop), Encoding.UTF8, "application/json");
        using var kept = await http.PostAsync("/api/v1/jobs/import", file, stop);
        kept.EnsureSuccessStatusCode();
        return JsonNode.Parse(await kept.Content.ReadAsStringAsync(stop))!["id"]!.GetValue<long>();
    }

    /// <summary>A ring of relays, each fed by the next, asked for again and again, each time as another sheet.</summary>
    private static async Task Hostile(Uri server, CancellationToken stop)
    {
        using var http = new HttpClient { BaseAddress = server, Timeout = TimeSpan.FromMinutes(10) };
        try
        {
            for (var i = 0; !stop.IsCancellationRequested; i++)
            {
                using var answer = await http.PostAsJsonAsync(
                    "/api/v1/diagnose",
                    new { sheet = $"{RelayRing.Sheet(101)}# {i}\n", readings = Array.Empty<string>() },
                    stop
                );
                await Task.Delay(100, stop);
            }
        }
        catch (OperationCanceledException) { }
    }

    /// <summary>What the server's process holds, as its metrics say.</summary>
    private static async Task<string> Memory(Uri server)
    {
        using var http = new HttpClient { BaseAddress = server };
        var line = (await http.GetStringAsync("/metrics"))
            .Split('\n')
            .FirstOrDefault(l => l.StartsWith("process_working_set_bytes ", StringComparison.Ordinal));
        return line is null ? "-" : $"{double.Parse(line.Split(' ')[1], CultureInfo.InvariantCulture) / 1048576:0} MB";
    }
}
