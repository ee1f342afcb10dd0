using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;

namespace Zoltric.Web.Tests;

/// <summary>While a technician measures, the server weighs what each answer would lead to.</summary>
public sealed class WorkAheadTests
{
    private static double Figure(ServerProcess server, string name) =>
        double.Parse(
            server
                .Client.GetStringAsync("/metrics")
                .Result.Split('\n')
                .First(l => l.StartsWith($"{name} ", StringComparison.Ordinal))
                .Split(' ')[1],
            CultureInfo.InvariantCulture
        );

    /// <summary>Solver steps of the answers to a job's first orders, given when nothing is worked ahead any more.</summary>
    private static double StepsOfAnswers(bool ahead, int answers)
    {
        using var server = ServerProcess.DemoWith("--Zoltric:Ahead", ahead ? "true" : "false");
        using var b = new Browser(1280, 800);
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/6/trace");
        b.As("Tamsin Reke");
        Technician.MakeSafe(b);
        var steps = 0.0;
        for (var i = 0; i < answers; i++)
        {
            if (ahead)
                b.Until(() => Idle(server), "it works ahead without end");
            var before = Figure(server, "zoltric_solver_steps");
            var order = b.Find("#order").GetAttribute("data-line");
            b.Click("[data-answer='1']");
            b.Until(() => b.Find("#order").GetAttribute("data-line") != order, "no next order");
            steps += Figure(server, "zoltric_solver_steps") - before;
        }
        (Figure(server, "zoltric_worked_ahead") > 0).ShouldBe(ahead);
        return steps;
    }

    private static bool Idle(ServerProcess server)
    {
        var before = Figure(server, "zoltric_worked_ahead");
        Thread.Sleep(1500);
        return before > 0 && Figure(server, "zoltric_worked_ahead") == before;
    }

    [Fact]
    public void An_answer_finds_weighed_what_it_leads_to()
    {
        var (with, without) = (StepsOfAnswers(true, 2), StepsOfAnswers(false, 2));
        without.ShouldBeGreaterThan(500);
        with.ShouldBeLessThan(without / 10);
    }

    /// <summary>A workshop in which somebody always looks at something: what is worked ahead goes on between the pages.</summary>
    [Fact]
    public async Task Pages_hold_it_up_and_do_not_undo_it()
    {
        using var server = ServerProcess.DemoWith("--Zoltric:Ahead", "true");
        using var until = CancellationTokenSource.CreateLinkedTokenSource(TestContext.Current.CancellationToken);
        until.CancelAfter(TimeSpan.FromSeconds(60));
        // Jobs in hand are weighed after the start, each of which takes longer than from one page to the next.
        while (Figure(server, "zoltric_worked_ahead") < 3)
        {
            (await server.Client.GetAsync("/upkeep", until.Token)).EnsureSuccessStatusCode();
            await Task.Delay(100, until.Token);
        }
    }

    /// <summary>Who listens to a bus computes nothing meanwhile: what a program asks for need not stand back for it.</summary>
    [Fact]
    public async Task A_page_that_waits_for_a_bus_keeps_nobody_waiting()
    {
        var stop = TestContext.Current.CancellationToken;
        using var server = ServerProcess.DemoWith("--Zoltric:Ahead", "false");
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        var page = await server.Client.GetStringAsync("/jobs/12/intake", stop);
        using var form = new FormUrlEncodedContent(
            new Dictionary<string, string>
            {
                ["address"] = $"{silent.LocalEndpoint}",
                ["__RequestVerificationToken"] = ServerProcess.FormToken(page),
            }
        );
        var sheet = await File.ReadAllTextAsync(Path.Combine(ServerProcess.Root, "scenario", "sheets", "PR-3.sheet"), stop);
        Task<HttpResponseMessage> Ask() =>
            server.Client.PostAsJsonAsync("/api/v1/simulate", new { sheet, lines = new[] { " : V G1.+" } }, stop);
        // What is asked for first is compiled first.
        (await Ask()).EnsureSuccessStatusCode();
        var listening = server.Client.PostAsync("/jobs/12/intake?handler=Listen", form, stop);
        using var heard = await silent.AcceptTcpClientAsync(stop);
        var asked = Ask();
        (await Task.WhenAny(asked, listening)).ShouldBe(asked);
        (await asked).EnsureSuccessStatusCode();
        (await (await listening).Content.ReadAsStringAsync(stop)).ShouldContain("Nothing was heard of the bus");
    }
}
