using Dapper;

namespace Zoltric.Store;

/// <summary>What was found and mended on a job, and what was shown afterwards.</summary>
public sealed class FindingStore(Database database, TimeProvider clock)
{
    public async Task<FindingRow?> Find(long jobId)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<FindingRow>("SELECT * FROM finding WHERE job_id = @jobId", new { jobId });
    }

    /// <summary>Keeps the finding of a job in the place of what stood there; author and time are of now.</summary>
    public async Task Keep(long jobId, FindingRow finding, string author)
    {
        ArgumentNullException.ThrowIfNull(finding);
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        if (await c.QuerySingleOrDefaultAsync<FindingRow>("SELECT * FROM finding WHERE job_id = @jobId", new { jobId }, t) is { } was)
            foreach (var (what, before, now) in Differences(was, finding))
                await JobHistory.Write(t, jobId, what, before, now, author, clock);
        await c.ExecuteAsync(
            """
            INSERT INTO finding (job_id, fault, share, proof, cause, repair, parts, method, labour, rate, author, at) VALUES
            (@jobId, @Fault, @Share, @Proof, @Cause, @Repair, @Parts, @Method, @Labour, @Rate, @author, @at)
            ON CONFLICT (job_id) DO UPDATE SET fault = @Fault, share = @Share, proof = @Proof, cause = @Cause, repair = @Repair,
            parts = @Parts, method = @Method, labour = @Labour, rate = @Rate, author = @author, at = @at
            """,
            new
            {
                jobId,
                finding.Fault,
                finding.Share,
                finding.Proof,
                finding.Cause,
                finding.Repair,
                finding.Parts,
                finding.Method,
                finding.Labour,
                finding.Rate,
                author,
                at = MachineStore.Now(clock),
            },
            t
        );
        await t.CommitAsync();
    }

    private static IEnumerable<(string What, string Was, string Now)> Differences(FindingRow a, FindingRow b)
    {
        static string Text(double? x) => x?.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture) ?? "";
        yield return ("what it was", a.Fault, b.Fault);
        yield return ("why it failed", a.Cause, b.Cause);
        yield return ("what was done", a.Repair, b.Repair);
        yield return ("parts in words", a.Parts, b.Parts);
        yield return ("how it was joined", a.Method, b.Method);
        yield return ("hours", Text(a.Labour), Text(b.Labour));
        yield return ("rate", Text(a.Rate), Text(b.Rate));
    }

    public async Task<IReadOnlyList<VerificationRow>> Verified(long jobId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<VerificationRow>("SELECT * FROM verification WHERE job_id = @jobId ORDER BY id", new { jobId })
        ).AsList();
    }

    public async Task Verify(long jobId, string item, string kind, string result, bool passed, string author)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        const string read =
            "SELECT result || CASE passed WHEN 1 THEN ', shown' ELSE ', not shown' END FROM verification "
            + "WHERE job_id = @jobId AND item = @item";
        if (await c.QuerySingleOrDefaultAsync<string>(read, new { jobId, item }, t) is { } was)
            await JobHistory.Write(t, jobId, item, was, $"{result}, {(passed ? "shown" : "not shown")}", author, clock);
        await c.ExecuteAsync(
            """
            INSERT INTO verification (job_id, item, kind, result, passed, author, at) VALUES (@jobId, @item, @kind, @result,
            @passed, @author, @at)
            ON CONFLICT (job_id, item) DO UPDATE SET result = @result, passed = @passed, author = @author, at = @at
            """,
            new
            {
                jobId,
                item,
                kind,
                result,
                passed,
                author,
                at = MachineStore.Now(clock),
            },
            t
        );
        await t.CommitAsync();
    }

    /// <summary>Something that was shown holds no more: a lead was fitted again.</summary>
    public async Task Reopen(long jobId, string item, string why, string author)
    {
        await using var c = database.Open();
        await using var t = await c.BeginTransactionAsync();
        var was = await c.QuerySingleOrDefaultAsync<string>(
            "SELECT result FROM verification WHERE job_id = @jobId AND item = @item",
            new { jobId, item },
            t
        );
        if (was is null)
            return;
        await c.ExecuteAsync(
            "UPDATE verification SET passed = 0, result = @why WHERE job_id = @jobId AND item = @item",
            new
            {
                jobId,
                item,
                why,
            },
            t
        );
        await JobHistory.Write(t, jobId, item, was, why, author, clock);
        await t.CommitAsync();
    }
}
