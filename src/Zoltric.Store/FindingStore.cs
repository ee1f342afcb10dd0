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

    public async Task Keep(long jobId, string fault, double share, string proof, string cause, string repair, string parts, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync("""
            INSERT INTO finding (job_id, fault, share, proof, cause, repair, parts, author, at) VALUES (@jobId, @fault, @share, @proof, @cause, @repair, @parts, @author, @at)
            ON CONFLICT (job_id) DO UPDATE SET fault = @fault, share = @share, proof = @proof, cause = @cause, repair = @repair, parts = @parts, author = @author, at = @at
            """, new { jobId, fault, share, proof, cause, repair, parts, author, at = MachineStore.Now(clock) });
    }

    public async Task<IReadOnlyList<VerificationRow>> Verified(long jobId)
    {
        await using var c = database.Open();
        return (await c.QueryAsync<VerificationRow>("SELECT * FROM verification WHERE job_id = @jobId ORDER BY id", new { jobId })).AsList();
    }

    public async Task Verify(long jobId, string item, string kind, string result, bool passed, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync("""
            INSERT INTO verification (job_id, item, kind, result, passed, author, at) VALUES (@jobId, @item, @kind, @result, @passed, @author, @at)
            ON CONFLICT (job_id, item) DO UPDATE SET result = @result, passed = @passed, author = @author, at = @at
            """, new { jobId, item, kind, result, passed, author, at = MachineStore.Now(clock) });
    }
}
