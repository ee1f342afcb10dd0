namespace Zoltric.Store;

/// <summary>A whole job as one file: all that is needed to go on with it, or to read it, somewhere else. Times are UTC, ISO 8601.</summary>
public sealed record JobFile
{
    /// <summary>Shape of the file; 1 is this one.</summary>
    public int ZoltricJob { get; init; } = 1;
    public string Machine { get; init; } = "";
    public string? Family { get; init; }
    public string Site { get; init; } = "";
    public string Sheet { get; init; } = "";
    public string Complaint { get; init; } = "";
    public string Strategy { get; init; } = "best";
    public string Meter { get; init; } = "0.5%";
    public string Rules { get; init; } = "";
    public string Author { get; init; } = "";
    public string OpenedAt { get; init; } = "";
    public string? ClosedAt { get; init; }
    public string? Outcome { get; init; }

    /// <summary>Of a closed job, the hash of what it held then; null for one that nobody sealed.</summary>
    public string? Seal { get; init; }

    /// <summary>What the odds had learnt when the job was opened; empty for the base odds.</summary>
    public string Odds { get; init; } = "";

    /// <summary>Who has it in hand; the author where empty.</summary>
    public string Holder { get; init; } = "";
    public IntakeRow? Intake { get; init; }
    public IReadOnlyList<CodeRow> Codes { get; init; } = [];
    public IReadOnlyList<SafetyRow> Safety { get; init; } = [];
    public IReadOnlyList<HandoverRow> Handovers { get; init; } = [];
    public IReadOnlyList<PartRow> Parts { get; init; } = [];
    public IReadOnlyList<JobFileLine> Lines { get; init; } = [];
    public IReadOnlyList<LimitRow> Limits { get; init; } = [];
    public FindingRow? Finding { get; init; }
    public IReadOnlyList<VerificationRow> Verified { get; init; } = [];
    public IReadOnlyList<JobFileNote> Notes { get; init; } = [];
    public IReadOnlyList<JobFileAttachment> Attachments { get; init; } = [];
    public IReadOnlyList<JobFileCapture> Captures { get; init; } = [];

    /// <summary>What was changed on it after it was written.</summary>
    public IReadOnlyList<JobChange> Changes { get; init; } = [];
}

public sealed record JobFileLine
{
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
    public string? Meter { get; init; }
    public string? Dial { get; init; }
    public double? Span { get; init; }
}

/// <summary>What an instrument wrote over time; its bytes, compressed, are base64 in the file.</summary>
public sealed record JobFileCapture
{
    public string Name { get; init; } = "";
    public string Setup { get; init; } = "";
    public string Channels { get; init; } = "[]";
    public byte[] Data { get; init; } = [];
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

public sealed record JobFileNote
{
    public string Text { get; init; } = "";
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}

/// <summary>A picture or document; its bytes are base64 in the file.</summary>
public sealed record JobFileAttachment
{
    public string Name { get; init; } = "";
    public string Type { get; init; } = "";
    public string Caption { get; init; } = "";
    public string Stage { get; init; } = "";
    public byte[] Data { get; init; } = [];
    public string Author { get; init; } = "";
    public string At { get; init; } = "";
}
