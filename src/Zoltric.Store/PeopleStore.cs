using Dapper;

namespace Zoltric.Store;

/// <summary>Somebody who works here; what signing in needs is changed on the row and kept with it.</summary>
public sealed class PersonRow
{
    public long Id { get; set; }
    public string Name { get; set; } = "";

    /// <summary>The name as it is looked up by: one spelling for all.</summary>
    public string NormalName { get; set; } = "";

    /// <summary>technician, lead, instructor or office.</summary>
    public string Role { get; set; } = "technician";
    public string? PinHash { get; set; }

    /// <summary>Changes with the PIN and when somebody is signed out everywhere; a session of another stamp is over.</summary>
    public string Stamp { get; set; } = "";
    public int Failures { get; set; }
    public string? LockedUntil { get; set; }
    public bool Active { get; set; } = true;
    public string CreatedAt { get; set; } = "";
}

/// <summary>A phone or computer that was let in by the pairing code.</summary>
public sealed class PhoneRow
{
    public long Id { get; init; }
    public string Name { get; init; } = "";
    public string PairedAt { get; init; } = "";
    public string? RevokedAt { get; init; }
}

/// <summary>A program that may call in somebody's name.</summary>
public sealed class ProgramRow
{
    public long Id { get; init; }
    public string Name { get; init; } = "";
    public string Person { get; init; } = "";
    public string CreatedAt { get; init; } = "";
    public string? RevokedAt { get; init; }
}

/// <summary>People, phones and programs of a workshop. Rows are put out of use, never taken away: names stand in the record.</summary>
public sealed class PeopleStore(Database database, TimeProvider clock)
{
    private const string PersonColumns = "id, name, normal_name, role, pin_hash, stamp, failures, locked_until, active, created_at";

    public async Task<IReadOnlyList<PersonRow>> All()
    {
        await using var c = database.Open();
        return (await c.QueryAsync<PersonRow>($"SELECT {PersonColumns} FROM person ORDER BY name")).AsList();
    }

    public async Task<PersonRow?> Find(long id)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<PersonRow>($"SELECT {PersonColumns} FROM person WHERE id = @id", new { id });
    }

    public async Task<PersonRow?> Find(string normalName)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<PersonRow>(
            $"SELECT {PersonColumns} FROM person WHERE normal_name = @normalName",
            new { normalName }
        );
    }

    public async Task Add(PersonRow person)
    {
        ArgumentNullException.ThrowIfNull(person);
        person.CreatedAt = MachineStore.Now(clock);
        await using var c = database.Open();
        person.Id = await c.QuerySingleAsync<long>(
            """
            INSERT INTO person (name, normal_name, role, pin_hash, stamp, failures, locked_until, active, created_at)
            VALUES (@Name, @NormalName, @Role, @PinHash, @Stamp, @Failures, @LockedUntil, @Active, @CreatedAt) RETURNING id
            """,
            person
        );
    }

    public async Task Update(PersonRow person)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            """
            UPDATE person SET name = @Name, normal_name = @NormalName, role = @Role, pin_hash = @PinHash, stamp = @Stamp,
            failures = @Failures, locked_until = @LockedUntil, active = @Active WHERE id = @Id
            """,
            person
        );
    }

    public async Task<IReadOnlyList<PhoneRow>> Phones()
    {
        await using var c = database.Open();
        return (await c.QueryAsync<PhoneRow>("SELECT id, name, paired_at, revoked_at FROM phone ORDER BY id")).AsList();
    }

    public async Task<long> Pair(string name)
    {
        await using var c = database.Open();
        return await c.QuerySingleAsync<long>(
            "INSERT INTO phone (name, paired_at) VALUES (@name, @at) RETURNING id",
            new { name, at = MachineStore.Now(clock) }
        );
    }

    public async Task<bool> IsPaired(long phone)
    {
        await using var c = database.Open();
        return await c.ExecuteScalarAsync<long>("SELECT count(*) FROM phone WHERE id = @phone AND revoked_at IS NULL", new { phone }) > 0;
    }

    public async Task RevokePhone(long id)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE phone SET revoked_at = @at WHERE id = @id AND revoked_at IS NULL",
            new { id, at = MachineStore.Now(clock) }
        );
    }

    public async Task<IReadOnlyList<ProgramRow>> Programs()
    {
        await using var c = database.Open();
        return (
            await c.QueryAsync<ProgramRow>(
                "SELECT g.id, g.name, p.name AS person, g.created_at, g.revoked_at FROM program g JOIN person p ON p.id = g.person_id "
                    + "ORDER BY g.id"
            )
        ).AsList();
    }

    /// <param name="tokenHash">SHA-256 of the token, hexadecimal.</param>
    public async Task AddProgram(string name, long personId, string tokenHash)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "INSERT INTO program (name, person_id, token_hash, created_at) VALUES (@name, @personId, @tokenHash, @at)",
            new
            {
                name,
                personId,
                tokenHash,
                at = MachineStore.Now(clock),
            }
        );
    }

    /// <summary>The person a program calls for; null for a token that is none, was revoked, or belongs to somebody who has left.</summary>
    public async Task<PersonRow?> PersonOfToken(string tokenHash)
    {
        await using var c = database.Open();
        return await c.QuerySingleOrDefaultAsync<PersonRow>(
            "SELECT p.* FROM program g JOIN person p ON p.id = g.person_id WHERE g.token_hash = @tokenHash AND g.revoked_at IS NULL "
                + "AND p.active = 1",
            new { tokenHash }
        );
    }

    public async Task RevokeProgram(long id)
    {
        await using var c = database.Open();
        await c.ExecuteAsync(
            "UPDATE program SET revoked_at = @at WHERE id = @id AND revoked_at IS NULL",
            new { id, at = MachineStore.Now(clock) }
        );
    }
}
