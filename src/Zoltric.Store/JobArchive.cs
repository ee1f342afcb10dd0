using Dapper;

namespace Zoltric.Store;

/// <summary>Takes whole jobs out of the store and puts them in, without loss.</summary>
public sealed class JobArchive(Database database)
{
    public async Task<JobFile?> Export(long jobId)
    {
        await using var c = database.Open();
        var file = await c.QuerySingleOrDefaultAsync<JobFile>(
            """
            SELECT m.name AS machine, m.family, m.site, s.text AS sheet, j.complaint, j.strategy, j.meter, j.rules, j.author,
            j.opened_at, j.closed_at, j.outcome, j.odds, j.holder
            FROM job j JOIN machine m ON m.id = j.machine_id JOIN sheet s ON s.id = j.sheet_id WHERE j.id = @jobId
            """,
            new { jobId }
        );
        if (file is null)
            return null;
        var p = new { jobId };
        return file with
        {
            Lines = (
                await c.QueryAsync<JobFileLine>(
                    "SELECT phase, text, author, at, minutes, struck, judgement, low, high, meaning FROM line WHERE job_id = "
                        + "@jobId ORDER BY id",
                    p
                )
            ).AsList(),
            Intake = await c.QuerySingleOrDefaultAsync<IntakeRow>(
                "SELECT hours, since, conditions, sounds, author, at FROM intake WHERE job_id = @jobId",
                p
            ),
            Codes = (
                await c.QueryAsync<CodeRow>("SELECT number, status, count, author, at FROM code WHERE job_id = @jobId ORDER BY id", p)
            ).AsList(),
            Safety = (
                await c.QueryAsync<SafetyRow>("SELECT kind, item, result, author, at FROM safety WHERE job_id = @jobId ORDER BY id", p)
            ).AsList(),
            Handovers = (
                await c.QueryAsync<HandoverRow>(
                    "SELECT from_author, author, repeats, at FROM handover WHERE job_id = @jobId ORDER BY id",
                    p
                )
            ).AsList(),
            Parts = (
                await c.QueryAsync<PartRow>("SELECT name, price, needed, author, at FROM part_used WHERE job_id = @jobId ORDER BY id", p)
            ).AsList(),
            Limits = (
                await c.QueryAsync<LimitRow>("SELECT kind, what FROM job_limit WHERE job_id = @jobId ORDER BY kind, what", p)
            ).AsList(),
            Finding = await c.QuerySingleOrDefaultAsync<FindingRow>(
                "SELECT fault, share, proof, cause, repair, parts, method, labour, rate, author, at FROM finding WHERE job_id = @jobId",
                p
            ),
            Verified = (
                await c.QueryAsync<VerificationRow>(
                    "SELECT item, kind, result, passed, author, at FROM verification WHERE job_id = @jobId ORDER BY id",
                    p
                )
            ).AsList(),
            Notes = (await c.QueryAsync<JobFileNote>("SELECT text, author, at FROM note WHERE job_id = @jobId ORDER BY id", p)).AsList(),
            Attachments = (
                await c.QueryAsync<JobFileAttachment>(
                    "SELECT name, type, caption, stage, data, author, at FROM attachment WHERE job_id = @jobId ORDER BY id",
                    p
                )
            ).AsList(),
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
        var sheet = await c.QueryFirstOrDefaultAsync<(long Machine, long Sheet)?>(
            "SELECT m.id, s.id FROM machine m JOIN sheet s ON s.machine_id = m.id WHERE (m.name = @Machine OR m.name LIKE "
                + "@Machine || ', imported%') AND s.text = @Sheet ORDER BY s.version DESC LIMIT 1",
            file,
            t
        );
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
            holder, imported)
            VALUES (@Machine, @Sheet, @Complaint, @Strategy, @Meter, @Rules, @Author, @OpenedAt, @ClosedAt, @Outcome, @Odds,
            @holder, @imported) RETURNING id
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
            },
            t
        );
        if (file.Intake is { } i)
            await c.ExecuteAsync(
                "INSERT INTO intake (job_id, hours, since, conditions, sounds, author, at) VALUES (@job, @Hours, @Since, "
                    + "@Conditions, @Sounds, @Author, @At)",
                new
                {
                    job,
                    i.Hours,
                    i.Since,
                    i.Conditions,
                    i.Sounds,
                    i.Author,
                    i.At,
                },
                t
            );
        foreach (var k in file.Codes)
            await c.ExecuteAsync(
                "INSERT INTO code (job_id, number, status, count, author, at) VALUES (@job, @Number, @Status, @Count, @Author, @At)",
                new
                {
                    job,
                    k.Number,
                    k.Status,
                    k.Count,
                    k.Author,
                    k.At,
                },
                t
            );
        foreach (var s in file.Safety)
            await c.ExecuteAsync(
                "INSERT INTO safety (job_id, kind, item, result, author, at, imported) VALUES (@job, @Kind, @Item, @Result, "
                    + "@Author, @At, @imported)",
                new
                {
                    job,
                    s.Kind,
                    s.Item,
                    s.Result,
                    s.Author,
                    s.At,
                    imported,
                },
                t
            );
        foreach (var h in file.Handovers)
            await c.ExecuteAsync(
                "INSERT INTO handover (job_id, from_author, author, repeats, at) VALUES (@job, @FromAuthor, @Author, @Repeats, @At)",
                new
                {
                    job,
                    h.FromAuthor,
                    h.Author,
                    h.Repeats,
                    h.At,
                },
                t
            );
        foreach (var p in file.Parts)
            await c.ExecuteAsync(
                "INSERT INTO part_used (job_id, name, price, needed, author, at) VALUES (@job, @Name, @Price, @Needed, @Author, @At)",
                new
                {
                    job,
                    p.Name,
                    p.Price,
                    p.Needed,
                    p.Author,
                    p.At,
                },
                t
            );
        foreach (var l in file.Lines)
            await c.ExecuteAsync(
                "INSERT INTO line (job_id, phase, text, author, at, minutes, struck, judgement, low, high, meaning) VALUES "
                    + "(@job, @Phase, @Text, @Author, @At, @Minutes, @Struck, @Judgement, @Low, @High, @Meaning)",
                new
                {
                    job,
                    l.Phase,
                    l.Text,
                    l.Author,
                    l.At,
                    l.Minutes,
                    l.Struck,
                    l.Judgement,
                    l.Low,
                    l.High,
                    l.Meaning,
                },
                t
            );
        foreach (var l in file.Limits)
            await c.ExecuteAsync(
                "INSERT OR IGNORE INTO job_limit (job_id, kind, what) VALUES (@job, @Kind, @What)",
                new
                {
                    job,
                    l.Kind,
                    l.What,
                },
                t
            );
        if (file.Finding is { } f)
            await c.ExecuteAsync(
                "INSERT INTO finding (job_id, fault, share, proof, cause, repair, parts, method, labour, rate, author, at) "
                    + "VALUES (@job, @Fault, @Share, @Proof, @Cause, @Repair, @Parts, @Method, @Labour, @Rate, @Author, @At)",
                new
                {
                    job,
                    f.Fault,
                    f.Share,
                    f.Proof,
                    f.Cause,
                    f.Repair,
                    f.Parts,
                    f.Method,
                    f.Labour,
                    f.Rate,
                    f.Author,
                    f.At,
                },
                t
            );
        foreach (var v in file.Verified)
            await c.ExecuteAsync(
                "INSERT INTO verification (job_id, item, kind, result, passed, author, at) VALUES (@job, @Item, @Kind, "
                    + "@Result, @Passed, @Author, @At)",
                new
                {
                    job,
                    v.Item,
                    v.Kind,
                    v.Result,
                    v.Passed,
                    v.Author,
                    v.At,
                },
                t
            );
        foreach (var n in file.Notes)
            await c.ExecuteAsync(
                "INSERT INTO note (job_id, text, author, at) VALUES (@job, @Text, @Author, @At)",
                new
                {
                    job,
                    n.Text,
                    n.Author,
                    n.At,
                },
                t
            );
        foreach (var a in file.Attachments)
            await c.ExecuteAsync(
                "INSERT INTO attachment (job_id, name, type, caption, stage, data, author, at) VALUES (@job, @Name, @Type, "
                    + "@Caption, @Stage, @Data, @Author, @At)",
                new
                {
                    job,
                    a.Name,
                    a.Type,
                    a.Caption,
                    a.Stage,
                    a.Data,
                    a.Author,
                    a.At,
                },
                t
            );
        await t.CommitAsync();
        return job;
    }
}
