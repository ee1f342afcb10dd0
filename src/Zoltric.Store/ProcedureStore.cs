using Dapper;

namespace Zoltric.Store;

public sealed class ProcedureRow
{
    public long Id { get; init; }

    /// <summary>Null for one that is for no machine of ours.</summary>
    public long? MachineId { get; init; }
    public string Machine { get; init; } = "";
    public string Title { get; init; } = "";
    public string Text { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

public sealed class ProcedureRunRow
{
    public long Id { get; init; }
    public long ProcedureId { get; init; }

    /// <summary>As it was when the run began.</summary>
    public string Text { get; init; } = "";
}

public sealed class ProcedureAnswerRow
{
    public long Id { get; init; }
    public string Step { get; init; } = "";
    public string Answer { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>Procedures, and the answers given while one is run in a job. An answer that is taken back stays on record.</summary>
public sealed class ProcedureStore(Database database, TimeProvider clock)
{
    private const string Columns = """
        SELECT p.id, p.machine_id AS MachineId, COALESCE(m.name, '') AS Machine, p.title, p.text, p.author, p.at
        FROM procedure p LEFT JOIN machine m ON m.id = p.machine_id
        """;

    /// <summary>The newest first; those of a machine and those of none where one is named.</summary>
    public async Task<IReadOnlyList<ProcedureRow>> All(long? machineId = null)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<ProcedureRow>(
                $"{Columns} WHERE @machineId IS NULL OR p.machine_id IS NULL OR p.machine_id = @machineId ORDER BY p.id DESC LIMIT 500",
                new { machineId }
            )
        ).AsList();
    }

    public async Task<ProcedureRow?> Find(long id)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<ProcedureRow>($"{Columns} WHERE p.id = @id", new { id });
    }

    public async Task<long> Keep(long? machineId, string title, string text, string author)
    {
        await using var c = database.Open();
        return await c.ExecuteScalarAsync<long>(
            """
            INSERT INTO procedure (machine_id, title, text, author, at) VALUES (@machineId, @title, @text, @author, @at)
            RETURNING id
            """,
            new
            {
                machineId,
                title,
                text,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    /// <summary>Puts a mended text in the place of the one that was there. Runs keep the text they were begun with.</summary>
    public async Task Mend(long id, string title, string text, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE procedure SET title = @title, text = @text, author = @author, at = @at WHERE id = @id",
            new
            {
                id,
                title,
                text,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    /// <summary>The run of a procedure in a job, begun when there is none.</summary>
    public async Task<ProcedureRunRow> Run(long jobId, ProcedureRow procedure)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        await using var c = database.Open();
        await c.ExecuteAsync(
            "INSERT INTO procedure_run (job_id, procedure_id, text) VALUES (@jobId, @Id, @Text) ON CONFLICT (job_id, procedure_id) DO "
                + "NOTHING",
            new
            {
                jobId,
                procedure.Id,
                procedure.Text,
            }
        );
        return (await FindRun(jobId, procedure.Id))!;
    }

    /// <summary>The run of a procedure in a job; null where none was begun.</summary>
    public async Task<ProcedureRunRow?> FindRun(long jobId, long procedureId)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<ProcedureRunRow>(
            "SELECT id, procedure_id AS ProcedureId, text FROM procedure_run WHERE job_id = @jobId AND procedure_id = @procedureId",
            new { jobId, procedureId }
        );
    }

    /// <summary>Answers that stand, in the order given.</summary>
    public async Task<IReadOnlyList<ProcedureAnswerRow>> Answers(long runId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<ProcedureAnswerRow>(
                "SELECT id, step, answer, author, at FROM procedure_answer WHERE run_id = @runId AND taken_back = 0 ORDER BY id",
                new { runId }
            )
        ).AsList();
    }

    /// <summary>Keeps an answer; the same one at the same step twice, as from a second tap, is one.</summary>
    /// <param name="after">How many answers stood when it was given: another has come meanwhile where that is no longer so.</param>
    /// <returns>True when it was kept.</returns>
    public async Task<bool> Answer(long runId, int after, string step, string answer, string author)
    {
        await using var c = database.Open();
        return await c.ExecuteAsync(
                """
                INSERT INTO procedure_answer (run_id, step, answer, author, at)
                SELECT @runId, @step, @answer, @author, @at
                WHERE (SELECT COUNT(*) FROM procedure_answer WHERE run_id = @runId AND taken_back = 0) = @after
                """,
                new
                {
                    runId,
                    after,
                    step,
                    answer,
                    author,
                    at = MachineStore.Now(clock),
                }
            ) > 0;
    }

    /// <summary>Takes the last answer back.</summary>
    public async Task Back(long runId)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            """
            UPDATE procedure_answer SET taken_back = 1
            WHERE id = (SELECT MAX(id) FROM procedure_answer WHERE run_id = @runId AND taken_back = 0)
            """,
            new { runId }
        );
    }
}
