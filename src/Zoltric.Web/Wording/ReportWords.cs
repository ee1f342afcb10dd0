using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Store;

namespace Zoltric.Web.Wording;

/// <summary>What was shown after a repair, as its reader says it; and times as the workshop's clock shows them.</summary>
public static class ReportWords
{
    /// <summary>A stored time, ISO 8601 in UTC, by the clock of the workshop's server; text that is none stays.</summary>
    public static string When(string utc) => When(utc, TimeZoneInfo.Local);

    /// <summary>A moment by the same clock.</summary>
    public static string When(DateTimeOffset at) => When(at.UtcDateTime.ToString("O", CultureInfo.InvariantCulture));

    /// <summary>The same in a zone of the caller's.</summary>
    public static string When(string utc, TimeZoneInfo zone) =>
        DateTimeOffset.TryParse(utc, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            ? TimeZoneInfo.ConvertTime(at, zone).ToString("d MMM yyyy, HH:mm", CultureInfo.InvariantCulture)
            : utc;

    /// <summary>The day of a stored time by the same clock.</summary>
    public static string Day(string utc)
    {
        ArgumentNullException.ThrowIfNull(utc);
        return When(utc).Split(", ")[0];
    }

    /// <summary>What was shown.</summary>
    /// <param name="row">As it was kept: a kind of check and its name.</param>
    public static string Shown(Circuit circuit, VerificationRow row, bool forCustomer)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(row);
        var (first, rest) = row.Item.Split(' ', 2) is [var a, var b] ? (a, b) : (row.Item, "");
        return first switch
        {
            "interlock" when Stops(rest) is var (when, what) => $"with {when}, “{what}” stays off",
            "unloaded" when Stops(rest) is var (when, what) => $"with {when} and the load disconnected, the feed of “{what}” stays off",
            "function" => rest,
            "leads" => "test leads, bridges and unplugged parts",
            "codes" => "fault codes cleared and read again",
            "reading" => Measured(circuit, rest, forCustomer) ?? row.Item,
            _ when row.Kind == "drop" => Measured(circuit, rest, forCustomer) ?? row.Item,
            _ => row.Item,
        };
    }

    private static (string When, string What)? Stops(string text) =>
        text.Split(" stops ", 2) is [var when, var what] ? (when.Replace('=', ' '), what) : null;

    private static string? Measured(Circuit circuit, string line, bool forCustomer)
    {
        if (!forCustomer || ReadingReader.Read(circuit, line).Value is not { } reading)
            return null;
        var order = ProbeOrder.Of(circuit, reading.Test);
        var part = reading.Test.Probe.Tips.Select(t => circuit.FindPart(t.Tag)).FirstOrDefault(p => p is not null);
        return $"{order.Meter.Dial} measured again at {(part is null ? order.On : part.Label ?? part.Kind.Spoken)}";
    }
}
