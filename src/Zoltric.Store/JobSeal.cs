using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Zoltric.Store;

/// <summary>
/// SHA-256 (FIPS 180-4) over what a job holds when it is closed: its sheet, words, lines with their verdicts, locks, codes, parts, finding,
/// checks, pictures and captures. Notes and pictures that are added later are no part of it; so is the name of its machine, which may be
/// given
/// anew. In front stand the shape and how many pictures and captures it covers.
/// </summary>
public static partial class JobSeal
{
    private const int Shape = 1;

    /// <summary>The seal of a job as it is.</summary>
    public static string Of(JobFile file)
    {
        ArgumentNullException.ThrowIfNull(file);
        return Over(file, file.Attachments.Count, file.Captures.Count);
    }

    /// <summary>Whether a job still holds what was sealed; false for a seal of another shape too.</summary>
    public static bool Holds(JobFile file, string seal)
    {
        ArgumentNullException.ThrowIfNull(file);
        ArgumentNullException.ThrowIfNull(seal);
        return seal.Split('-') is [var shape, var pictures, var captures, _]
            && shape == Shape.ToString(CultureInfo.InvariantCulture)
            && Count(pictures) is { } p
            && Count(captures) is { } c
            && p <= file.Attachments.Count
            && c <= file.Captures.Count
            && Over(file, p, c) == seal;
    }

    /// <summary>Whether a text has the form of a seal, of this shape or another.</summary>
    public static bool IsSeal(string text) => Form().IsMatch(text);

    [GeneratedRegex("^[0-9]{1,3}-[0-9]{1,4}-[0-9]{1,4}-[0-9A-F]{64}$", RegexOptions.CultureInvariant)]
    private static partial Regex Form();

    /// <summary>As people compare it: the first sixteen digits in fours.</summary>
    public static string Shown(string seal)
    {
        ArgumentNullException.ThrowIfNull(seal);
        var digits = seal[(seal.LastIndexOf('-') + 1)..];
        return string.Join(' ', digits.Chunk(4).Take(4).Select(c => new string(c)));
    }

    private static int? Count(string text) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : null;

    private static string Over(JobFile f, int pictures, int captures)
    {
        var held = JsonSerializer.SerializeToUtf8Bytes(
            new
            {
                f.Sheet,
                f.Complaint,
                f.Strategy,
                f.Meter,
                f.Rules,
                f.Author,
                f.OpenedAt,
                f.ClosedAt,
                f.Outcome,
                f.Intake,
                f.Codes,
                f.Safety,
                f.Handovers,
                f.Parts,
                f.Lines,
                f.Limits,
                f.Finding,
                f.Verified,
                Pictures = f.Attachments.Take(pictures).Select(a => a with { Data = SHA256.HashData(a.Data) }),
                Captures = f.Captures.Take(captures).Select(c => c with { Data = SHA256.HashData(c.Data) }),
            }
        );
        return string.Create(CultureInfo.InvariantCulture, $"{Shape}-{pictures}-{captures}-{Convert.ToHexString(SHA256.HashData(held))}");
    }
}
