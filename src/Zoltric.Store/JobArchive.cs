using Dapper;

namespace Zoltric.Store;

/// <summary>Takes whole jobs out of the store and puts them in, without loss.</summary>
public sealed class JobArchive(Database database)
{
    public async Task<JobFile?> Export(long jobId)
    {
        await using var c = database.Open();
        var file = await c.QuerySingleOrDefaultAsync<JobFile>("""
            SELECT m.name AS machine, m.family, m.site, s.text AS sheet, j.complaint, j.strategy, j.meter, j.rules, j.author, j.opened_at, j.closed_at, j.outcome
            FROM job j JOIN machine m ON m.id = j.machine_id JOIN sheet s ON s.id = j.sheet_id WHERE j.id = @jobId
            """, new { jobId });
        if (file is null) return null;
        var p = new { jobId };
        return file with
        {
            Lines = (await c.QueryAsync<JobFileLine>("SELECT phase, text, author, at, minutes, struck, judgement, low, high, meaning FROM line WHERE job_id = @jobId ORDER BY id", p)).AsList(),
            Limits = (await c.QueryAsync<LimitRow>("SELECT kind, what FROM job_limit WHERE job_id = @jobId ORDER BY kind, what", p)).AsList(),
            Finding = await c.QuerySingleOrDefaultAsync<FindingRow>("SELECT fault, share, proof, cause, repair, parts, author, at FROM finding WHERE job_id = @jobId", p),
            Verified = (await c.QueryAsync<VerificationRow>("SELECT item, kind, result, passed, author, at FROM verification WHERE job_id = @jobId ORDER BY id", p)).AsList(),
            Notes = (await c.QueryAsync<JobFileNote>("SELECT text, author, at FROM note WHERE job_id = @jobId ORDER BY id", p)).AsList(),
            Attachments = (await c.QueryAsync<JobFileAttachment>("SELECT name, type, caption, data, author, at FROM attachment WHERE job_id = @jobId ORDER BY id", p)).AsList(),
        };
    }

    /// <summary>
    /// Puts a job in, all of it or nothing. It joins the machine of its name when that has this very sheet as one of its versions; else it brings
    /// a machine of its own, so that nobody's newest sheet is changed by what someone sent.
    /// </summary>
    /// <returns>Id of the job.</returns>
    public async Task<long> Import(JobFile file)
    {
        ArgumentNullException.ThrowIfNull(file);
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var sheet = await c.QueryFirstOrDefaultAsync<(long Machine, long Sheet)?>("SELECT m.id, s.id FROM machine m JOIN sheet s ON s.machine_id = m.id WHERE (m.name = @Machine OR m.name LIKE @Machine || ', imported%') AND s.text = @Sheet ORDER BY s.version DESC LIMIT 1", file, t);
        if (sheet is null)
        {
            var name = file.Machine;
            for (var n = 1; await c.ExecuteScalarAsync<long>("SELECT count(*) FROM machine WHERE name = @name", new { name }, t) > 0; n++) name = n == 1 ? $"{file.Machine}, imported" : $"{file.Machine}, imported {n}";
            var machine = await c.QuerySingleAsync<long>("INSERT INTO machine (name, family, site) VALUES (@name, @Family, @Site) RETURNING id", new { name, file.Family, file.Site }, t);
            sheet = (machine, await c.QuerySingleAsync<long>("INSERT INTO sheet (machine_id, version, text, created_at) VALUES (@machine, 1, @Sheet, @OpenedAt) RETURNING id", new { machine, file.Sheet, file.OpenedAt }, t));
        }
        var job = await c.QuerySingleAsync<long>("""
            INSERT INTO job (machine_id, sheet_id, complaint, strategy, meter, rules, author, opened_at, closed_at, outcome)
            VALUES (@Machine, @Sheet, @Complaint, @Strategy, @Meter, @Rules, @Author, @OpenedAt, @ClosedAt, @Outcome) RETURNING id
            """, new { sheet.Value.Machine, sheet.Value.Sheet, file.Complaint, file.Strategy, file.Meter, file.Rules, file.Author, file.OpenedAt, file.ClosedAt, file.Outcome }, t);
        foreach (var l in file.Lines)
            await c.ExecuteAsync("INSERT INTO line (job_id, phase, text, author, at, minutes, struck, judgement, low, high, meaning) VALUES (@job, @Phase, @Text, @Author, @At, @Minutes, @Struck, @Judgement, @Low, @High, @Meaning)",
                new { job, l.Phase, l.Text, l.Author, l.At, l.Minutes, l.Struck, l.Judgement, l.Low, l.High, l.Meaning }, t);
        foreach (var l in file.Limits) await c.ExecuteAsync("INSERT OR IGNORE INTO job_limit (job_id, kind, what) VALUES (@job, @Kind, @What)", new { job, l.Kind, l.What }, t);
        if (file.Finding is { } f)
            await c.ExecuteAsync("INSERT INTO finding (job_id, fault, share, proof, cause, repair, parts, author, at) VALUES (@job, @Fault, @Share, @Proof, @Cause, @Repair, @Parts, @Author, @At)",
                new { job, f.Fault, f.Share, f.Proof, f.Cause, f.Repair, f.Parts, f.Author, f.At }, t);
        foreach (var v in file.Verified)
            await c.ExecuteAsync("INSERT INTO verification (job_id, item, kind, result, passed, author, at) VALUES (@job, @Item, @Kind, @Result, @Passed, @Author, @At)", new { job, v.Item, v.Kind, v.Result, v.Passed, v.Author, v.At }, t);
        foreach (var n in file.Notes) await c.ExecuteAsync("INSERT INTO note (job_id, text, author, at) VALUES (@job, @Text, @Author, @At)", new { job, n.Text, n.Author, n.At }, t);
        foreach (var a in file.Attachments)
            await c.ExecuteAsync("INSERT INTO attachment (job_id, name, type, caption, data, author, at) VALUES (@job, @Name, @Type, @Caption, @Data, @Author, @At)", new { job, a.Name, a.Type, a.Caption, a.Data, a.Author, a.At }, t);
        await t.CommitAsync();
        return job;
    }
}
