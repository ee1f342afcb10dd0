namespace Zoltric.Store;

public sealed class MachineRow
{
    public long Id { get; init; }
    public string Name { get; init; } = "";
    public string? Family { get; init; }
    public string Site { get; init; } = "";
    public long SheetId { get; init; }
    public long Version { get; init; }

    /// <summary>Names of the functions of its sheet, one a line; null where nobody has read them yet.</summary>
    public string? Functions { get; init; }
}

public sealed class SheetRow
{
    public long Id { get; init; }
    public long MachineId { get; init; }
    public long Version { get; init; }
    public string Text { get; init; } = "";
    public string CreatedAt { get; init; } = "";
}

public sealed class JobRow
{
    public long Id { get; init; }
    public long MachineId { get; init; }
    public string Machine { get; init; } = "";
    public string Site { get; init; } = "";
    public long SheetId { get; init; }
    public long SheetVersion { get; init; }
    public string SheetText { get; init; } = "";
    public string Complaint { get; init; } = "";
    public string Strategy { get; init; } = "best";
    public string Meter { get; init; } = "0.5%";
    public string Rules { get; init; } = "";
    public string Author { get; init; } = "";
    public string OpenedAt { get; init; } = "";
    public string? ClosedAt { get; init; }
    public string? Outcome { get; init; }
    public long Readings { get; init; }
    public double Minutes { get; init; }
    public string? Fault { get; init; }

    /// <summary>What the odds had learnt when the job was opened, as text; empty for the base odds.</summary>
    public string Odds { get; init; } = "";

    /// <summary>Who has the job in hand.</summary>
    public string Holder { get; init; } = "";
    public bool Imported { get; init; }
}

public sealed class LineRow
{
    public long Id { get; init; }
    public string Phase { get; init; } = "trace";
    public string Text { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
    public double Minutes { get; init; }
    public bool Struck { get; init; }
    public string? Judgement { get; init; }
    public double? Low { get; init; }
    public double? High { get; init; }
    public string? Meaning { get; init; }

    /// <summary>The meter that gave it by itself, and where its dial stood; null for what was typed.</summary>
    public string? Meter { get; init; }
    public string? Dial { get; init; }

    /// <summary>How far the figure moved while it was taken, in the reading's unit.</summary>
    public double? Span { get; init; }
}

/// <summary>A reading that a meter gave by itself.</summary>
/// <param name="Dial">Where the dial stood.</param>
/// <param name="Span">How far the figure moved while it was taken, in the reading's unit.</param>
public sealed record TakenBy(string Meter, string Dial, double Span);

public sealed class FindingRow
{
    /// <summary>What stands as the fault where it was something that is not drawn.</summary>
    public const string NotDrawn = "not on the sheet";

    public string Fault { get; init; } = "";
    public double Share { get; init; }
    public string Proof { get; init; } = "";
    public string Cause { get; init; } = "";
    public string Repair { get; init; } = "";
    public string Parts { get; init; } = "";

    /// <summary>How it was mended: splice, part replaced.</summary>
    public string Method { get; init; } = "";

    /// <summary>Hours of labour, and their price in the currency of the workshop; null where not given.</summary>
    public double? Labour { get; init; }
    public double? Rate { get; init; }
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

public sealed class VerificationRow
{
    public string Item { get; init; } = "";
    public string Kind { get; init; } = "reading";
    public string Result { get; init; } = "";
    public bool Passed { get; init; }
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

public sealed class LimitRow
{
    public string Kind { get; init; } = "place";
    public string What { get; init; } = "";
}
