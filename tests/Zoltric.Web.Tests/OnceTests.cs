using Dapper;
using Microsoft.Data.Sqlite;

namespace Zoltric.Web.Tests;

/// <summary>A form whose answer was lost, or that is pressed twice, is done once.</summary>
public sealed class OnceTests
{
    /// <summary>Sends the form of a handler as it stands, so many times; the codes of the answers.</summary>
    private static List<long> Send(Browser b, string handler, string fill, int times) =>
        [
            .. (
                (IEnumerable<object>)
                    b.Driver.ExecuteAsyncScript(
                        $$"""
                        const done = arguments[arguments.length - 1];
                        const form = [...document.forms].find(f => f.action.includes('handler={{handler}}'));
                        {{fill}}
                        const body = new FormData(form);
                        (async () => {
                          const codes = [];
                          for (let i = 0; i < {{times}}; i++) codes.push((await fetch(form.action, { method: 'POST', body })).status);
                          done(codes);
                        })();
                        """
                    )!
            ).Cast<long>(),
        ];

    private static long Count(ServerProcess server, string sql)
    {
        using var c = new SqliteConnection($"Data Source={server.Data}");
        return c.QuerySingle<long>(sql);
    }

    [Fact]
    public void What_is_sent_twice_is_done_once_and_what_is_refused_may_be_sent_again()
    {
        using var server = new ServerProcess();
        using var b = new Browser(390, 844);
        b.Driver.Navigate().GoToUrl(server.Address);
        b.As("Tamsin Reke");
        // A note on the report.
        var notes = Count(server, "SELECT count(*) FROM note");
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/2/report");
        Send(b, "Note", "form.elements.text.value = 'plug full of water'", 3).ShouldAllBe(c => c == 200);
        Count(server, "SELECT count(*) FROM note").ShouldBe(notes + 1);
        // Another text on the same page is another note: nothing that was typed is lost.
        Send(b, "Note", "form.elements.text.value = 'seal is missing'", 1).ShouldAllBe(c => c == 200);
        Count(server, "SELECT count(*) FROM note").ShouldBe(notes + 2);
        // A lock, and a tester shown live: the second of it would be the proof after the pairs.
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/4/safe");
        b.Until(() => b.Has("#step"), "no place for the lock");
        var rows = Count(server, "SELECT count(*) FROM safety");
        // What the page cannot do is not done, and said.
        Send(b, "Lock", "form.action = form.action.replace('handler=Lock', 'handler=Nothing')", 1).ShouldBe([404L]);
        b.Driver.Navigate().Refresh();
        b.Until(() => b.Has("#step"), "no place for the lock");
        Send(b, "Lock", "form.elements.number.value = 'L-7'", 2).ShouldAllBe(c => c == 200);
        Count(server, "SELECT count(*) FROM safety").ShouldBe(rows + 1);
        // A restart forgets none of it.
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/4/safe");
        server.Kill();
        server.Start();
        // A finding that says nothing is refused with its reason each time.
        b.Driver.Navigate().GoToUrl($"{server.Address}/jobs/2/repair");
        Send(b, "Finding", "", 2).ShouldAllBe(c => c == 200);
        Count(server, "SELECT count(*) FROM finding WHERE job_id = 2").ShouldBe(0);
        Send(b, "Finding", "form.elements['Cause'] && (form.elements['Cause'].value = 'pin pushed out')", 1).ShouldAllBe(c => c == 200);
    }
}
