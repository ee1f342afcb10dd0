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
            }
        );
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
            }
        );
    }

    /// <summary>Something that was shown holds no more: a lead was fitted again.</summary>
    public async Task Reopen(long jobId, string item, string why)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE verification SET passed = 0, result = @why WHERE job_id = @jobId AND item = @item",
            new
            {
                jobId,
                item,
                why,
            }
        );
    }
}
