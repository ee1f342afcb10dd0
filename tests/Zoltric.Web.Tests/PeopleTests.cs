using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.RegularExpressions;

namespace Zoltric.Web.Tests;

/// <summary>A workshop over the network: who comes in, under whose name things are kept, whose lock comes off.</summary>
public sealed partial class PeopleTests
{
    private const string LeadPin = "271828",
        Pin = "314159";

    /// <summary>A browser without a screen: it keeps its cookies and follows no redirect by itself.</summary>
    private sealed class Phone(ServerProcess server) : IDisposable
    {
        private readonly HttpClient _client = new(new HttpClientHandler { AllowAutoRedirect = false })
        {
            BaseAddress = new Uri(server.Address),
        };

        public (int Status, string Body, string To) Get(string path)
        {
            using var answer = _client.GetAsync(path).Result;
            return Read(answer);
        }

        /// <summary>Posts a form as its page gives it, with the token against forgery of that page.</summary>
        public (int Status, string Body, string To) Post(string page, string path, params (string Name, string Value)[] fields)
        {
            var token = ServerProcess.FormToken(Get(page).Body);
            using var form = new FormUrlEncodedContent(
                fields.Select(f => KeyValuePair.Create(f.Name, f.Value)).Append(KeyValuePair.Create("__RequestVerificationToken", token))
            );
            using var answer = _client.PostAsync(path, form).Result;
            return Read(answer);
        }

        public (int Status, string Body, string To) Post(string path, params (string Name, string Value)[] fields) =>
            Post(path, path, fields);

        /// <summary>Lets the phone in and signs somebody in.</summary>
        public Phone As(string name, string pin)
        {
            Post("/people/pair", ("Code", server.PairingCode));
            Post("/people/sign-in", ("Name", name), ("Pin", pin)).To.ShouldBe("/");
            return this;
        }

        private static (int, string, string) Read(HttpResponseMessage answer) =>
            ((int)answer.StatusCode, answer.Content.ReadAsStringAsync().Result, answer.Headers.Location?.ToString() ?? "");

        public void Dispose() => _client.Dispose();
    }

    [GeneratedRegex("zt_[0-9a-f]{64}")]
    private static partial Regex ProgramToken();

    /// <summary>A workshop with a lead, two technicians and an office, seen from phones alone.</summary>
    private static (ServerProcess Server, Phone Lead) Open()
    {
        var server = ServerProcess.Workshop(ownScreen: false);
        var lead = new Phone(server);
        lead.Post("/people/pair", ("Code", server.PairingCode)).To.ShouldBe("/people/sign-in");
        lead.Post("/people/first", ("Name", "Maud Sedge"), ("Pin", LeadPin)).To.ShouldBe("/people");
        foreach (var (name, role) in new[] { ("Orla Venn", "technician"), ("Iver Dunmore", "technician"), ("Tilde Marr", "office") })
            lead.Post("/people", "/people?handler=Add", ("name", name), ("role", role), ("pin", Pin)).Status.ShouldBe(302);
        return (server, lead);
    }

    private static int Program(ServerProcess server, string? token)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/check") { Content = JsonContent.Create(new { sheet = "" }) };
        if (token is not null)
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return (int)server.Client.SendAsync(request).Result.StatusCode;
    }

    [Fact]
    public void Nobody_comes_in_without_a_phone_that_was_let_in_and_a_name_with_its_PIN()
    {
        var (server, lead) = Open();
        using var _ = server;
        using var __ = lead;
        using var stranger = new Phone(server);
        foreach (var page in new[] { "/", "/jobs/1", "/jobs/1/report", "/machines", "/people", "/people/sign-in", "/people/first" })
            stranger.Get(page).To.ShouldBe("/people/pair", page);
        stranger.Get("/people/pair").Body.ShouldNotContain(server.PairingCode);
        stranger.Post("/people/pair", ("Code", "AAAA-AAAA")).Body.ShouldContain("That is not the code");
        stranger.Post("/people/pair", ("Code", server.PairingCode.ToLowerInvariant())).To.ShouldBe("/people/sign-in");
        // Let in is not signed in, and no way leads past the first lead.
        stranger.Get("/jobs/1").To.ShouldBe("/people/sign-in?back=%2Fjobs%2F1");
        stranger.Get("/people/first").To.ShouldBe("/people/sign-in");
        for (var i = 0; i < 4; i++)
            stranger.Post("/people/sign-in", ("Name", "Orla Venn"), ("Pin", "000111")).Body.ShouldContain("does not belong to that name");
        stranger.Post("/people/sign-in", ("Name", "Orla Venn"), ("Pin", "000111")).Body.ShouldContain("rests for five minutes");
        // The right PIN helps no more, until it has rested or a lead gives a new one.
        stranger.Post("/people/sign-in", ("Name", "Orla Venn"), ("Pin", Pin)).Body.ShouldContain("rests for five minutes");
        lead.Post("/people", "/people?handler=Pin", ("id", "2"), ("pin", "161803")).Status.ShouldBe(302);
        stranger.Post("/people/sign-in", ("Name", "Orla Venn"), ("Pin", Pin)).Status.ShouldBe(200);
        stranger.Post("/people/sign-in", ("Name", "Orla Venn"), ("Pin", "161803"), ("Back", "http://elsewhere.example/")).To.ShouldBe("/");
        stranger.Get("/").Status.ShouldBe(200);
        // A technician looks after nobody; an office does not work on jobs.
        stranger.Get("/people").Status.ShouldBe(403);
        // Who was put out is out with the next request; a phone too.
        lead.Post("/people", "/people?handler=Active", ("id", "2"), ("active", "false"));
        stranger.Get("/").To.ShouldStartWith("/people/sign-in");
        lead.Post("/people", "/people?handler=Active", ("id", "1"), ("active", "false")).Body.ShouldContain("Somebody has to lead");
        lead.Post("/people", "/people?handler=Phone", ("id", "2"));
        stranger.Get("/").To.ShouldBe("/people/pair");
    }

    [Fact]
    public void A_name_is_that_of_the_session_whatever_is_sent()
    {
        var (server, lead) = Open();
        using var _ = server;
        using var __ = lead;
        using var orla = new Phone(server).As("Orla Venn", Pin);
        using var iver = new Phone(server).As("Iver Dunmore", Pin);
        using var office = new Phone(server).As("Tilde Marr", Pin);
        // Started in another's name: it is the session's.
        var job = orla.Post("/", ("Function", FirstFunction(orla)), ("State", "dead"), ("Who", "Iver Dunmore"));
        var id = JobId().Match(job.To).Groups[1].Value;
        var export = orla.Get($"/api/v1/jobs/{id}/export").Body;
        export.ShouldContain("Orla Venn");
        export.ShouldNotContain("Iver Dunmore");
        // Another may look and not write until the job is theirs.
        var line = ("text", " : sees \"" + Function(export) + "\" = works");
        iver.Post($"/jobs/{id}/trace", $"/jobs/{id}/trace?handler=Reading", line).Body.ShouldContain("Orla Venn has this job in hand");
        iver.Post($"/jobs/{id}/trace", $"/jobs/{id}/trace?handler=TakeOver", ("who", "Maud Sedge"));
        orla.Get($"/api/v1/jobs/{id}/export").Body.ShouldContain("\"holder\": \"Iver Dunmore\"");
        orla.Post($"/jobs/{id}/trace", $"/jobs/{id}/trace?handler=Reading", line).Body.ShouldContain("Iver Dunmore has this job in hand");
        // Nothing else of a job is written by who does not have it; words and locks are each person's own.
        foreach (
            var write in new[] { "trace?handler=Strike&line=1", "trace?handler=Meter", "repair?handler=Finding", "intake?handler=Facts" }
        )
            orla.Post($"/jobs/{id}/trace", $"/jobs/{id}/{write}").Status.ShouldBe(403, write);
        orla.Post($"/jobs/{id}/safe", $"/jobs/{id}/safe?handler=Said", ("items", "local")).Status.ShouldBe(302);
        iver.Post($"/jobs/{id}/trace", $"/jobs/{id}/trace?handler=Strategy", ("strategy", "BestValue")).To.ShouldEndWith("/trace");
        // The office reads.
        office.Get($"/jobs/{id}/report").Status.ShouldBe(200);
        office.Post($"/jobs/{id}/report", $"/jobs/{id}/safe?handler=Lock", ("number", "9")).Status.ShouldBe(403);
        office.Get("/people").Status.ShouldBe(403);
    }

    [GeneratedRegex("/jobs/([0-9]+)")]
    private static partial Regex JobId();

    [GeneratedRegex("<option value=\"([0-9]+\\|[^*\"]+)\"")]
    private static partial Regex Choice();

    [GeneratedRegex("sees \\\\(?:u0022|\")([^\\\\]+)\\\\")]
    private static partial Regex Seen();

    private static string FirstFunction(Phone phone) => WebUtility.HtmlDecode(Choice().Match(phone.Get("/").Body).Groups[1].Value);

    private static string Function(string export) => Seen().Match(export).Groups[1].Value;

    [Fact]
    public void A_lock_comes_off_by_its_owner_or_by_a_lead_with_the_reason_on_record()
    {
        var (server, lead) = Open();
        using var _ = server;
        using var __ = lead;
        using var orla = new Phone(server).As("Orla Venn", Pin);
        using var iver = new Phone(server).As("Iver Dunmore", Pin);
        var safe = $"/jobs/{OpenJobOnMains(server)}/safe";
        orla.Post(safe, $"{safe}?handler=Lock", ("number", "L-7")).Status.ShouldBe(302);
        iver.Get(safe).Body.ShouldContain("L-7");
        iver.Post(safe, $"{safe}?handler=Lock", ("off", "true"));
        iver.Post(safe, $"{safe}?handler=Force", ("whose", "Orla Venn"), ("reason", "in the way"));
        iver.Get(safe).Body.ShouldContain("L-7");
        lead.Post(safe, $"{safe}?handler=Force", ("whose", "Orla Venn"), ("reason", " ")).Body.ShouldContain("Say why Orla Venn cannot");
        lead.Post(safe, $"{safe}?handler=Force", ("whose", "Orla Venn"), ("reason", "gone home, machine walked round"))
            .Status.ShouldBe(302);
        var after = lead.Get(safe).Body;
        after.ShouldContain("Maud Sedge took off the lock of Orla Venn: gone home, machine walked round");
        orla.Get(safe).Body.ShouldNotContain("Take my lock off");
    }

    private static long OpenJobOnMains(ServerProcess server)
    {
        using var c = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={server.Data}");
        c.Open();
        using var command = c.CreateCommand();
        command.CommandText =
            "SELECT j.id FROM job j JOIN machine m ON m.id = j.machine_id WHERE j.closed_at IS NULL AND m.name LIKE '%DR-6%' LIMIT 1";
        return (long)command.ExecuteScalar()!;
    }

    [Fact]
    public void A_program_calls_with_a_token_and_no_more_once_it_is_put_out()
    {
        var (server, lead) = Open();
        using var _ = server;
        using var __ = lead;
        Program(server, null).ShouldBe(401);
        Program(server, "zt_" + new string('0', 64)).ShouldBe(401);
        var made = lead.Post("/people", "/people?handler=Program", ("name", "stores"), ("person", "2"));
        var token = ProgramToken().Match(made.Body).Value;
        Program(server, token).ShouldBe(200);
        lead.Get("/people").Body.ShouldNotContain(token);
        lead.Post("/people", "/people?handler=ProgramOff", ("id", "1"));
        Program(server, token).ShouldBe(401);
    }

    [Fact]
    public void On_the_servers_own_screen_the_first_lead_begins_and_the_code_stands()
    {
        using var server = ServerProcess.Workshop(ownScreen: true);
        using var browser = new Browser(1280, 800);
        browser.Driver.Navigate().GoToUrl(server.Address);
        browser.Driver.Navigate().GoToUrl(server.Address + "/people/sign-in");
        browser.Find("#first").Text.ShouldContain("Who leads?");
        browser.Find("#Name").SendKeys("Maud Sedge");
        browser.Find("[name=Pin]").SendKeys("1111");
        browser.Click(() => browser.Find("main button.go"));
        browser.Until(() => browser.Has(".problem"), "a PIN that is too short is not refused");
        browser.Find(".problem").Text.ShouldContain("6 figures or more");
        browser.Find("[name=Pin]").SendKeys(LeadPin);
        browser.Click(() => browser.Find("main button.go"));
        browser.Until(() => browser.Has("#people"), "the first lead does not begin");
        browser.Find("#people").Text.ShouldBe("People");
        browser.Shot("people");
        browser.Driver.Navigate().GoToUrl(server.Address + "/people/pair");
        browser.Find("#pairing-code").Text.ShouldBe(server.PairingCode);
        browser.Shot("pair");
        browser.Click(() => browser.Find("[data-keys]"));
        browser.Click(() => browser.Find(".who-form button"));
        browser.Until(() => browser.Has("#who"), "signing out leads to signing in");
    }
}
