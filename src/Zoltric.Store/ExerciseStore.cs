using Dapper;

namespace Zoltric.Store;

public sealed class ExerciseRow
{
    public long Id { get; init; }

    /// <summary>What an instructor gives out.</summary>
    public string Code { get; init; } = "";
    public string Title { get; init; } = "";
    public string Machine { get; init; } = "";
    public long Level { get; init; }

    /// <summary>What it teaches, a line each.</summary>
    public string Skills { get; init; } = "";
    public string Text { get; init; } = "";
    public string SheetText { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";

    public IReadOnlyList<string> SkillList => Skills.Split('\n', StringSplitOptions.RemoveEmptyEntries);
}

public sealed class ExerciseRunRow
{
    public long Id { get; init; }
    public long ExerciseId { get; init; }
    public string Learner { get; init; } = "";
    public string StartedAt { get; init; } = "";
    public string? EndedAt { get; init; }
    public bool Right { get; init; }

    /// <summary>True where something unsafe ended it.</summary>
    public bool Stopped { get; init; }
    public double Minutes { get; init; }

    /// <summary>Price of parts that mended nothing.</summary>
    public double InVain { get; init; }

    /// <summary>How sure the learner was, 0 to 1; null where it was not said.</summary>
    public double? Sure { get; init; }
}

/// <summary>Exercises, and what learners did in them.</summary>
public sealed class ExerciseStore(Database database, TimeProvider clock)
{
    private const string Columns = "id, code, title, machine, level, skills, text, sheet_text AS SheetText, author, at";
    private const string RunColumns =
        "id, exercise_id AS ExerciseId, learner, started_at AS StartedAt, ended_at AS EndedAt, right, stopped, minutes, in_vain AS InVain, "
        + "sure";

    public async Task<IReadOnlyList<ExerciseRow>> All()
    {
        await using var c = database.Open();
        return (await c.QueryAsync<ExerciseRow>($"SELECT {Columns} FROM exercise ORDER BY level, id LIMIT 1000")).AsList();
    }

    public async Task<ExerciseRow?> Find(long id)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<ExerciseRow>($"SELECT {Columns} FROM exercise WHERE id = @id", new { id });
    }

    public async Task<ExerciseRow?> Find(string code)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<ExerciseRow>(
            $"SELECT {Columns} FROM exercise WHERE code = @code COLLATE NOCASE",
            new { code }
        );
    }

    /// <summary>Keeps an exercise; nothing is changed where its code is taken.</summary>
    public async Task<long?> Add(ExerciseRow row)
    {
        ArgumentNullException.ThrowIfNull(row);
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<long?>(
            "INSERT INTO exercise (code, title, machine, level, skills, text, sheet_text, author, at) VALUES (@Code, @Title, @Machine, "
                + "@Level, @Skills, @Text, @SheetText, @Author, @At) ON CONFLICT DO NOTHING RETURNING id",
            new
            {
                row.Code,
                row.Title,
                row.Machine,
                row.Level,
                row.Skills,
                row.Text,
                row.SheetText,
                row.Author,
                At = MachineStore.Now(clock),
            }
        );
    }

    public async Task<long> Start(long exerciseId, string learner)
    {
        await using var c = database.Open();
        return await c.QuerySingleAsync<long>(
            "INSERT INTO exercise_run (exercise_id, learner, started_at) VALUES (@exerciseId, @learner, @at) RETURNING id",
            new
            {
                exerciseId,
                learner,
                at = MachineStore.Now(clock),
            }
        );
    }

    public async Task<ExerciseRunRow?> Run(long id)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<ExerciseRunRow>($"SELECT {RunColumns} FROM exercise_run WHERE id = @id", new { id });
    }

    /// <summary>Runs of one learner, or of all where none is named; in order.</summary>
    public async Task<IReadOnlyList<ExerciseRunRow>> Runs(string? learner)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<ExerciseRunRow>(
                $"SELECT {RunColumns} FROM exercise_run WHERE @learner IS NULL OR learner = @learner ORDER BY id",
                new { learner }
            )
        ).AsList();
    }

    public async Task<IReadOnlyList<string>> Acts(long runId)
    {
        await using var c = database.Open();
        return (await c.QueryAsync<string>("SELECT text FROM exercise_act WHERE run_id = @runId ORDER BY id", new { runId })).AsList();
    }

    /// <summary>Keeps one act; false where another was kept meanwhile, or the run has ended.</summary>
    /// <param name="after">Acts that stood when it was done.</param>
    public async Task<bool> Do(long runId, int after, string text)
    {
        await using var c = database.Open();
        return await c.ExecuteAsync(
                "INSERT INTO exercise_act (run_id, text, at) SELECT @runId, @text, @at WHERE (SELECT count(*) FROM exercise_act "
                    + "WHERE run_id = @runId) = @after AND EXISTS (SELECT 1 FROM exercise_run WHERE id = @runId AND ended_at IS NULL)",
                new
                {
                    runId,
                    after,
                    text,
                    at = MachineStore.Now(clock),
                }
            ) > 0;
    }

    /// <summary>Writes how a run has ended, once.</summary>
    public async Task End(long runId, bool right, bool stopped, double minutes, double inVain, double? sure)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE exercise_run SET ended_at = @at, right = @right, stopped = @stopped, minutes = @minutes, in_vain = @inVain, "
                + "sure = @sure WHERE id = @runId AND ended_at IS NULL",
            new
            {
                runId,
                right,
                stopped,
                minutes,
                inVain,
                sure,
                at = MachineStore.Now(clock),
            }
        );
    }
}
