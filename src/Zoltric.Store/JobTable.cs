using System.Data.Common;
using Dapper;

namespace Zoltric.Store;

/// <summary>A table whose rows belong to a job: its columns stand here once, for taking rows out and for putting them in.</summary>
/// <param name="Order">Columns that order the rows.</param>
/// <param name="Columns">
/// All but <c>id</c>, <c>job_id</c> and <c>imported</c>; a row's properties are called the same, without underscores.
/// </param>
internal sealed record JobTable(string Table, string Order, string Columns)
{
    /// <summary>All rows of a job, in order.</summary>
    public async Task<List<T>> Read<T>(DbConnection connection, long jobId, DbTransaction? transaction = null) =>
        (
            await connection.QueryAsync<T>(
                $"SELECT {Columns} FROM {Table} WHERE job_id = @jobId ORDER BY {Order}",
                new { jobId },
                transaction
            )
        ).AsList();

    /// <summary>Puts rows in, in order.</summary>
    /// <param name="imported">For a table that tells what someone sent from what was done here; null for one that does not.</param>
    public async Task Write<T>(DbTransaction transaction, long jobId, IEnumerable<T> rows, bool? imported = null)
    {
        var values = string.Join(", ", Columns.Split(", ").Select(c => "@" + PropertyOf(c)));
        var (column, value) = imported is null ? ("", "") : (", imported", ", @imported");
        var statement = $"INSERT INTO {Table} (job_id, {Columns}{column}) VALUES (@jobId, {values}{value})";
        foreach (var row in rows)
        {
            var parameters = new DynamicParameters(row);
            parameters.AddDynamicParams(new { jobId, imported });
            await transaction.Connection!.ExecuteAsync(statement, parameters, transaction);
        }
    }

    private static string PropertyOf(string column) =>
        string.Concat(column.Split('_').Select(word => char.ToUpperInvariant(word[0]) + word[1..]));
}
