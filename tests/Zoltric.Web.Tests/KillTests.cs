using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Zoltric.Web.Tests;

/// <summary>
/// A server that is cut off again and again while people write, every second time with the power of its disk: what it acknowledged stands
/// once, what it did not may be sent again, and what belongs to a line is there after the next look. Ten cuts in every run, as many as
/// ZOLTRIC_KILLS says by option.
/// </summary>
public sealed partial class KillTests
{
    private const int Phones = 2,
        CutsAJob = 10;

    private static readonly int Cuts = int.TryParse(
        Environment.GetEnvironmentVariable("ZOLTRIC_KILLS"),
        NumberStyles.None,
        CultureInfo.InvariantCulture,
        out var n
    )
        ? n
        : 10;

    /// <summary>One phone: its lines so far by token, and whether each was acknowledged.</summary>
    private sealed class Phone(string address, long job, string function) : IDisposable
    {
        private readonly HttpClient _client = new(new HttpClientHandler { AllowAutoRedirect = false })
        {
            BaseAddress = new Uri(address),
            Timeout = TimeSpan.FromSeconds(20),
        };
        private readonly List<(string Token, string Text)> _open = [];
        private int _given;

        public ConcurrentQueue<string> Acknowledged { get; } = [];

        public void Dispose() => _client.Dispose();

        public string Path => $"/jobs/{job}/trace";

        /// <summary>
        /// Writes lines until the server is gone; first again what it did not acknowledge. An answer that does not come in time is asked
        /// for again, as a phone would: on a box that is shared the first one, weighed from cold, may take longer than anybody waits.
        /// </summary>
        public async Task Write(CancellationToken stop)
        {
            while (!stop.IsCancellationRequested)
                try
                {
                    await WriteOn(stop);
                }
                catch (OperationCanceledException) { }
                catch (Exception e) when (e is HttpRequestException or IOException)
                {
                    return;
                }
        }

        private async Task WriteOn(CancellationToken stop)
        {
            var page = await _client.GetStringAsync(Path, stop);
            var forgery = ServerProcess.FormToken(page);
            using var words = new FormUrlEncodedContent(
                Item()
                    .Matches(page)
                    .Select(m => KeyValuePair.Create("items", m.Groups[1].Value))
                    .Append(KeyValuePair.Create("__RequestVerificationToken", forgery))
            );
            using var said = await _client.PostAsync($"/jobs/{job}/safe?handler=Said", words, stop);
            while (!stop.IsCancellationRequested)
            {
                if (_open.Count == 0)
                    _open.Add(($"cut-{job}-{++_given}", $" : sees \"{function}\" = dead"));
                var (token, text) = _open[0];
                using var form = new FormUrlEncodedContent(
                    new Dictionary<string, string>
                    {
                        ["text"] = text,
                        ["token"] = token,
                        ["__RequestVerificationToken"] = forgery,
                    }
                );
                using var answer = await _client.PostAsync($"{Path}?handler=Reading", form, stop);
                // What was kept leads on to the page; a refusal is a page itself.
                answer.StatusCode.ShouldBe(HttpStatusCode.Redirect, await answer.Content.ReadAsStringAsync(stop));
                Acknowledged.Enqueue(token);
                _open.RemoveAt(0);
            }
        }
    }

    [Fact]
    public async Task What_was_acknowledged_stands_once_whenever_the_server_is_cut_off()
    {
        using var server = ServerProcess.OnAFrailDisk();
        var jobs = Rows<long>(server, "SELECT id FROM job WHERE closed_at IS NULL ORDER BY id");
        var phones = jobs.Select(j => new Phone(server.Address, j, FunctionOf(server, j))).ToList();
        phones.Count.ShouldBeGreaterThanOrEqualTo(Phones);
        var random = new Random(20_27);
        for (var cut = 0; cut < Cuts; cut++)
        {
            using var stop = new CancellationTokenSource();
            // No job has a hundred lines: after a while both go on to the next.
            var at = phones.Skip(Phones * (cut / CutsAJob % (phones.Count / Phones))).Take(Phones);
            var writing = at.Select(p => Task.Run(() => p.Write(stop.Token))).ToList();
            var before = phones.Sum(p => p.Acknowledged.Count);
            // The first answer after a start is weighed from cold, on a box that is shared maybe for a minute.
            for (var wait = 0; wait < 900 && phones.Sum(p => p.Acknowledged.Count) == before; wait++)
                await Task.Delay(100, TestContext.Current.CancellationToken);
            await Task.Delay(random.Next(0, 1000), TestContext.Current.CancellationToken);
            if (cut % 2 == 0)
                server.Kill();
            else
                server.CutPower(random);
            await stop.CancelAsync();
            await Task.WhenAll(writing);
            server.Start();
        }
        phones.Sum(p => p.Acknowledged.Count).ShouldBeGreaterThan(Cuts, "nothing was written between the cuts");
        var kept = Rows<string>(server, "SELECT token FROM line WHERE token LIKE 'cut-%'");
        kept.Count.ShouldBe(kept.Distinct().Count(), "a line stands twice");
        phones.SelectMany(p => p.Acknowledged).Except(kept).ShouldBeEmpty("an acknowledged line is lost");
        foreach (var p in phones)
            (await server.Client.GetAsync(p.Path, TestContext.Current.CancellationToken)).IsSuccessStatusCode.ShouldBeTrue();
        Rows<string>(server, "SELECT token FROM line WHERE token LIKE 'cut-%' AND judgement IS NULL").ShouldBeEmpty("a verdict is missing");
        phones.ForEach(p => p.Dispose());
        Rows<string>(server, "PRAGMA integrity_check").ShouldBe(["ok"]);
        Rows<long>(
                server,
                "SELECT count(*) FROM job j WHERE closed_at IS NOT NULL AND NOT EXISTS (SELECT 1 FROM logbook l WHERE l.rowid = j.id)"
            )
            .ShouldBe([0L], "a closed job cannot be found");
    }

    [Fact]
    public async Task A_backup_under_load_holds_what_was_acknowledged_before_it()
    {
        using var server = new ServerProcess();
        var jobs = Rows<long>(server, "SELECT id FROM job WHERE closed_at IS NULL ORDER BY id LIMIT 2");
        var phones = jobs.Select(j => new Phone(server.Address, j, FunctionOf(server, j))).ToList();
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(TestContext.Current.CancellationToken);
        var writing = phones.Select(p => Task.Run(() => p.Write(stop.Token))).ToList();
        var copies = new List<(string File, List<string> Before)>();
        for (var i = 0; i < 3; i++)
        {
            for (var wait = 0; wait < 300 && phones.Any(p => p.Acknowledged.Count < 4 * (i + 1)); wait++)
                await Task.Delay(100, TestContext.Current.CancellationToken);
            var before = phones.SelectMany(p => p.Acknowledged).ToList();
            var file = Path.Combine(Path.GetDirectoryName(server.Data)!, $"copy-{i}.db");
            ServerProcess.Command("--Zoltric:Data", server.Data, "--backup", file).ShouldBe(0);
            copies.Add((file, before));
        }
        await stop.CancelAsync();
        await Task.WhenAll(writing);
        phones.Sum(p => p.Acknowledged.Count).ShouldBeGreaterThan(copies[2].Before.Count, "nothing was written meanwhile");
        phones.ForEach(p => p.Dispose());
        foreach (var (file, before) in copies)
        {
            server.Kill();
            ServerProcess.Command("--Zoltric:Data", server.Data, "--restore", file).ShouldBe(0);
            before.Count.ShouldBeGreaterThan(0);
            var kept = Rows<string>(server, "SELECT token FROM line WHERE token LIKE 'cut-%'");
            before.Except(kept).ShouldBeEmpty();
            kept.Count.ShouldBe(kept.Distinct().Count(), "a line stands twice");
            server.Start();
            (await server.Client.GetAsync(phones[0].Path, TestContext.Current.CancellationToken)).IsSuccessStatusCode.ShouldBeTrue();
        }
    }

    /// <summary>Closed when it is let go of: one that stays open would see the file through a log that a cut has taken away.</summary>
    private static SqliteConnection Open(ServerProcess server) => new($"Data Source={server.Data};Pooling=False");

    private static string FunctionOf(ServerProcess server, long job)
    {
        using var c = Open(server);
        return Function()
            .Match(c.QuerySingle<string>("SELECT s.text FROM job j JOIN sheet s ON s.id = j.sheet_id WHERE j.id = @job", new { job }))
            .Groups[1]
            .Value;
    }

    private static List<T> Rows<T>(ServerProcess server, string sql)
    {
        using var c = Open(server);
        return [.. c.Query<T>(sql)];
    }

    [GeneratedRegex("(?m)^function \"([^\"]+)\"")]
    private static partial Regex Function();

    [GeneratedRegex("name=\"items\" value=\"([^\"]+)\"")]
    private static partial Regex Item();
}
