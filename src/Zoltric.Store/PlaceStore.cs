using Dapper;

namespace Zoltric.Store;

/// <summary>Pictures of the places of a machine: how to get there.</summary>
public sealed class PlaceStore(Database database, TimeProvider clock)
{
    /// <summary>Places of a machine that have a picture.</summary>
    public async Task<IReadOnlyList<string>> Places(long machineId)
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<string>("SELECT place FROM place_picture WHERE machine_id = @machineId ORDER BY place", new { machineId })
        ).AsList();
    }

    /// <summary>Keeps a picture of a place, in the place of the one that was there.</summary>
    public async Task Keep(long machineId, string place, string type, byte[] data, string author)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            """
            INSERT INTO place_picture (machine_id, place, type, data, author, at) VALUES (@machineId, @place, @type, @data, @author, @at)
            ON CONFLICT (machine_id, place) DO UPDATE SET type = @type, data = @data, author = @author, at = @at
            """,
            new
            {
                machineId,
                place,
                type,
                data,
                author,
                at = MachineStore.Now(clock),
            }
        );
    }

    /// <summary>Media type and bytes; null where there is no picture.</summary>
    public async Task<(string Type, byte[] Data)?> Read(long machineId, string place)
    {
        await using var c = database.Open();
        return await c.QueryFirstOrDefaultAsync<(string, byte[])?>(
            "SELECT type, data FROM place_picture WHERE machine_id = @machineId AND place = @place",
            new { machineId, place }
        );
    }
}
