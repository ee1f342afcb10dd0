using System.Data.Common;
using Dapper;

namespace Zoltric.Store;

/// <summary>Takes whole jobs out of the store and puts them in, without loss.</summary>
public sealed class JobArchive(Database database)
{
    private static readonly JobTable Lines =
            new("line", "id", "phase, text, author, at, minutes, struck, judgement, low, high, meaning, meter, dial, span"),
        Intake = new("intake", "job_id", "hours, since, conditions, sounds, author, at"),
        Codes = new("code", "id", "number, status, count, author, at"),
        Safety = new("safety", "id", "kind, item, result, author, at"),
        Handovers = new("handover", "id", "from_author, author, repeats, at"),
        Parts = new("part_used", "id", "name, price, needed, author, at"),
        Limits = new("job_limit", "kind, what", "kind, what"),
        Finding = new("finding", "job_id", "fault, share, proof, cause, repair, parts, method, labour, rate, author, at"),
        Verified = new("verification", "id", "item, kind, result, passed, author, at"),
        Notes = new("note", "id", "text, author, at"),
        Attachments = new("attachment", "id", "name, type, caption, stage, data, author, at"),
        Captures = new("capture", "id", "name, setup, channels, data, author, at"),
        Changes = new("job_change", "id", "what, was, now, author, at");

    /// <summary>Names of the tables whose rows belong to a job and travel with it.</summary>
    internal static IEnumerable<string> Tables =>
        new[] { Lines, Intake, Codes, Safety, Handovers, Parts, Limits, Finding, Verified, Notes, Attachments, Captures, Changes }.Select(
            t => t.Table
        );

    /// <summary>The machine of a file's name that has its very sheet, its newest version of it; null where there is none.</summary>
    internal static Task<(long Machine, long Sheet, string Name, long Version)?> WhereItBelongs(
        DbConnection connection,
        JobFile file,
        DbTransaction? transaction = null
    ) =>
        connection.QueryFirstOrDefaultAsync<(long, long, string, long)?>(
            "SELECT m.id, s.id, m.name, s.version FROM machine m JOIN sheet s ON s.machine_id = m.id "
                + "WHERE (m.name = @Machine OR m.name LIKE @Machine || ', imported%') AND s.text = @Sheet ORDER BY s.version DESC LIMIT 1",
            file,
            transaction
        );

    public async Task<JobFile?> Export(long jobId)
    {
        await using var c = database.Open();
        return await Read(c, jobId);
    }

    /// <summary>The whole job.</summary>
    internal static async Task<JobFile?> Read(DbConnection c, long jobId, DbTransaction? t = null)
    {
        var file = await c.QuerySingleOrDefaultAsync<JobFile>(
            """
            SELECT m.name AS machine, m.family, m.site, s.text AS sheet, j.complaint, j.strategy, j.meter, j.rules, j.author,
            j.opened_at, j.closed_at, j.outcome, j.odds, j.holder, j.seal
            FROM job j JOIN machine m ON m.id = j.machine_id JOIN sheet s ON s.id = j.sheet_id WHERE j.id = @jobId
            """,
            new { jobId },
            t
        );
        if (file is null)
            return null;
        return file with
        {
            Lines = await Lines.Read<JobFileLine>(c, jobId, t),
            Intake = (await Intake.Read<IntakeRow>(c, jobId, t)).SingleOrDefault(),
            Codes = await Codes.Read<CodeRow>(c, jobId, t),
            Safety = await Safety.Read<SafetyRow>(c, jobId, t),
            Handovers = await Handovers.Read<HandoverRow>(c, jobId, t),
            Parts = await Parts.Read<PartRow>(c, jobId, t),
            Limits = await Limits.Read<LimitRow>(c, jobId, t),
            Finding = (await Finding.Read<FindingRow>(c, jobId, t)).SingleOrDefault(),
            Verified = await Verified.Read<VerificationRow>(c, jobId, t),
            Notes = await Notes.Read<JobFileNote>(c, jobId, t),
            Attachments = await Attachments.Read<JobFileAttachment>(c, jobId, t),
            Captures = await Captures.Read<JobFileCapture>(c, jobId, t),
            Changes = await Changes.Read<JobChange>(c, jobId, t),
        };
    }

    /// <summary>
    /// Puts a job in, all of it or nothing. It joins the machine of its name when that has this very sheet as one of its versions; else it
    /// brings a machine of its own, so that nobody's newest sheet is changed by what someone sent.
    /// </summary>
    /// <returns>Id of the job.</returns>
    /// <param name="imported">True for a file that someone sent; false for the demo's own.</param>
    public async Task<long> Import(JobFile file, bool imported = true)
    {
        ArgumentNullException.ThrowIfNull(file);
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var here = await WhereItBelongs(c, file, t);
        var sheet = here is { } known ? (known.Machine, known.Sheet) : ((long Machine, long Sheet)?)null;
        if (sheet is null)
        {
            var name = file.Machine;
            for (var n = 1; await c.ExecuteScalarAsync<long>("SELECT count(*) FROM machine WHERE name = @name", new { name }, t) > 0; n++)
                name = n == 1 ? $"{file.Machine}, imported" : $"{file.Machine}, imported {n}";
            var machine = await c.QuerySingleAsync<long>(
                "INSERT INTO machine (name, family, site) VALUES (@name, @Family, @Site) RETURNING id",
                new
                {
                    name,
                    file.Family,
                    file.Site,
                },
                t
            );
            sheet = (
                machine,
                await c.QuerySingleAsync<long>(
                    "INSERT INTO sheet (machine_id, version, text, created_at) VALUES (@machine, 1, @Sheet, @OpenedAt) RETURNING id",
                    new
                    {
                        machine,
                        file.Sheet,
                        file.OpenedAt,
                    },
                    t
                )
            );
        }
        var job = await c.QuerySingleAsync<long>(
            """
            INSERT INTO job (machine_id, sheet_id, complaint, strategy, meter, rules, author, opened_at, closed_at, outcome, odds,
            holder, imported, seal)
            VALUES (@Machine, @Sheet, @Complaint, @Strategy, @Meter, @Rules, @Author, @OpenedAt, @ClosedAt, @Outcome, @Odds,
            @holder, @imported, @seal) RETURNING id
            """,
            new
            {
                sheet.Value.Machine,
                sheet.Value.Sheet,
                file.Complaint,
                file.Strategy,
                file.Meter,
                file.Rules,
                file.Author,
                file.OpenedAt,
                file.ClosedAt,
                file.Outcome,
                file.Odds,
                holder = file.Holder.Length > 0 ? file.Holder : file.Author,
                imported,
                // What came with no seal was sealed by nobody.
                seal = file.ClosedAt is null ? null : file.Seal,
            },
            t
        );
        if (file.Intake is { } intake)
            await Intake.Write(t, job, [intake]);
        await Codes.Write(t, job, file.Codes);
        await Safety.Write(t, job, file.Safety, imported);
        await Handovers.Write(t, job, file.Handovers);
        await Parts.Write(t, job, file.Parts);
        await Lines.Write(t, job, file.Lines);
        await Limits.Write(t, job, file.Limits.DistinctBy(l => (l.Kind, l.What)));
        if (file.Finding is { } finding)
            await Finding.Write(t, job, [finding]);
        await Verified.Write(t, job, file.Verified);
        await Notes.Write(t, job, file.Notes);
        await Attachments.Write(t, job, file.Attachments);
        await Captures.Write(t, job, file.Captures);
        await Changes.Write(t, job, file.Changes, imported);
        if (!imported && file.ClosedAt is not null)
            await Seal(t, job);
        await t.CommitAsync();
        return job;
    }

    /// <summary>Seals a job that is closed in the same transaction.</summary>
    internal static async Task Seal(DbTransaction t, long jobId)
    {
        var c = t.Connection!;
        if (await Read(c, jobId, t) is { } file)
            await c.ExecuteAsync("UPDATE job SET seal = @seal WHERE id = @jobId", new { jobId, seal = JobSeal.Of(file) }, t);
    }
}
