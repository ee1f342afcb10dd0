using System.Globalization;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Tests.Notation;

/// <summary>Runs every row of docs/conformance.md: the notation's words with the numbers worked out on paper.</summary>
public partial class ConformanceTests(ITestOutputHelper output)
{
    [GeneratedRegex(@"^\| `(?<line>[^`]+)` \| (?<faults>[^|]*)\| (?<shows>[^|]+) \|$")]
    private static partial Regex Row();

    [GeneratedRegex(@"^(?<value>-?[\d.]+) (?<unit>mV|V|mΩ|Ω|GΩ|µA|mA|A|µF)$")]
    private static partial Regex Value();

    [Fact]
    public void Every_row_of_the_conformance_page_holds()
    {
        var (rows, wrong, words) = (0, new List<string>(), new HashSet<string>());
        Machine? machine = null;
        var sheet = (List<string>?)null;
        foreach (var line in File.ReadLines(Path.Combine(DemoSheets.Root, "docs", "conformance.md")))
        {
            if (line == "```sheet")
            {
                sheet = [];
                continue;
            }
            if (line == "```" && sheet is not null)
            {
                machine = new Machine(DemoSheets.Read(string.Join('\n', sheet)));
                sheet = null;
                continue;
            }
            if (sheet is not null)
            {
                sheet.Add(line);
                continue;
            }
            if (Row().Match(line) is not { Success: true } m)
                continue;
            rows++;
            var (text, faults, expected) = (m.Groups["line"].Value, m.Groups["faults"].Value.Trim(), m.Groups["shows"].Value.Trim());
            foreach (Match w in Words().Matches(text))
                words.Add(w.Value);
            if (Check(machine!, text, faults, expected) is { } miss)
                wrong.Add($"{text} [{faults}]: {expected} on the page, {miss} here");
        }
        output.WriteLine($"{rows} rows");
        wrong.ShouldBeEmpty();
        rows.ShouldBeGreaterThan(80);
        // Every setup word and probe of the notation stands on the page.
        new[]
        {
            "press",
            "release",
            "off",
            "unplug",
            "pull",
            "jumper",
            "feed",
            "lift",
            "swap",
            "after",
            "move",
            "V",
            "VAC",
            "loz",
            "drop",
            "ohm",
            "beep",
            "A",
            "clamp",
            "cap",
            "rotation",
            "lamp",
            "sees",
            "hears",
            "looks",
            "code",
            "insul",
            "replaced",
            "repaired",
            "fitted",
            "support",
            "min",
            "peak",
        }
            .Except(words)
            .ShouldBeEmpty();
    }

    [GeneratedRegex("[A-Za-z]+")]
    private static partial Regex Words();

    /// <summary>Null when it holds, else what is shown instead.</summary>
    private static string? Check(Machine machine, string line, string faults, string expected)
    {
        var read = ReadingReader.Read(machine.Circuit, line);
        if (read.Value is not { } reading)
            return read.Problems[0].ToString();
        IReadOnlyList<Fault> set = [];
        if (faults.Length > 0)
        {
            var parsed = FaultReader.Read(machine.Circuit, faults);
            if (parsed.Value is not { } found)
                return parsed.Problems[0].Message.Contains(expected, StringComparison.Ordinal) ? null : parsed.Problems[0].Message;
            try
            {
                machine.Check(found);
            }
            catch (FaultException e)
            {
                return e.Message.Contains(expected, StringComparison.Ordinal) ? null : e.Message;
            }
            set = found;
        }
        var shown = Meter.Read(machine, reading.Test, set);
        if (Value().Match(expected) is not { Success: true } v)
            return shown.Text.Contains(expected, StringComparison.Ordinal) ? null : shown.Text;
        var factor = v.Groups["unit"].Value switch
        {
            "mV" or "mΩ" or "mA" => 1e-3,
            "µA" => 1e-6,
            "GΩ" => 1e9,
            _ => 1,
        };
        var number = double.Parse(v.Groups["value"].Value, CultureInfo.InvariantCulture) * factor;
        var least =
            v.Groups["unit"].Value.EndsWith('V') ? 2e-3
            : v.Groups["unit"].Value.EndsWith('A') ? 2e-3
            : 0.02;
        if (v.Groups["unit"].Value is ['m' or 'µ', _] and not "µF")
            least = 0.05 * number;
        return shown.Value is { } x && Math.Abs(x - number) <= Math.Max(least, 0.01 * Math.Abs(number)) ? null : shown.Text;
    }
}
