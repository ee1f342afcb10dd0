using Zoltric.Store;

namespace Zoltric.Web.Tests;

/// <summary>A closed job is sealed in the store itself: what comes just after the close does not get in.</summary>
public sealed class SealTests
{
    [Fact]
    public async Task A_closed_job_takes_no_capture_and_keeps_those_it_has()
    {
        var folder = Directory.CreateTempSubdirectory("zoltric-seal-");
        try
        {
            var database = new Database(Path.Combine(folder.FullName, "shop.db"));
            database.Migrate();
            var (jobs, captures) = (new JobStore(database, TimeProvider.System), new CaptureStore(database, TimeProvider.System));
            var machines = new MachineStore(database, TimeProvider.System);
            var machine = (await machines.Find(await machines.Keep("Pump", null, "Works", "machine: Pump")))!;
            var job = await jobs.Open(machine.Id, machine.SheetId, "dead", "1", "T. Quill", []);
            var kept = (await captures.Add(job, "before", "", "[]", "s,V\n0,1", "T. Quill")).ShouldNotBeNull();
            (await captures.Say(job, kept, "run=ON", "[]")).ShouldBeTrue();

            await jobs.Close(job, "mended");

            (await captures.Add(job, "after", "", "[]", "s,V\n0,2", "T. Quill")).ShouldBeNull();
            (await captures.Say(job, kept, "run=OFF", "[]")).ShouldBeFalse();
            await captures.Replace(job, kept, "other", "[]", "s,V\n0,3");
            var row = (await captures.Find(kept)).ShouldNotBeNull();
            (row.Name, row.Setup, await captures.Text(kept)).ShouldBe(("before", "run=ON", "s,V\n0,1"));
        }
        finally
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            folder.Delete(true);
        }
    }
}
