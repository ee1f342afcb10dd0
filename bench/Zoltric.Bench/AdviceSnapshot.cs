using System.Globalization;
using System.Text.Json;
using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis;
using Zoltric.Core.Diagnosis.Explanation;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Notation;
using Zoltric.Core.Practice;
using Zoltric.Core.Solving;

namespace Zoltric.Bench;

/// <summary>
/// All that is said on every job of the demo, after each of its readings, as text to be compared before and after a change that should
/// change nothing.
/// </summary>
/// <remarks><c>snapshot scenario &gt; before.txt</c></remarks>
internal static class AdviceSnapshot
{
    private sealed record Line(string Text, bool Struck);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    public static void Run(string scenario)
    {
        foreach (var (sheet, lines) in Jobs(scenario).GroupBy(j => j.Sheet).OrderBy(g => g.Key).SelectMany(g => g.Take(3)))
        {
            var circuit = SheetReader.Read(File.ReadAllText(Path.Combine(scenario, "sheets", sheet + ".sheet"))).Value!;
            var space = new FaultSpace(new Machine(circuit));
            var readings = new List<Reading>();
            foreach (var line in lines)
            {
                if (ReadingReader.Read(circuit, line).Value is not { } reading)
                    continue;
                readings.Add(reading);
                Console.WriteLine($"== {sheet} {reading}");
                Write(circuit, Diagnostician.Diagnose(space, readings));
            }
        }
    }

    /// <summary>Open jobs first, then the closed ones.</summary>
    private static IEnumerable<(string Sheet, List<string> Lines)> Jobs(string scenario)
    {
        foreach (var job in JsonDocument.Parse(File.ReadAllText(Path.Combine(scenario, "jobs.json"))).RootElement.EnumerateArray())
            yield return (
                job.GetProperty("sheet").GetString()!,
                [.. job.GetProperty("lines").EnumerateArray().Select(l => l.GetString()!)]
            );
        foreach (var job in JsonDocument.Parse(File.ReadAllText(Path.Combine(scenario, "closed.json"))).RootElement.EnumerateArray())
            yield return (
                job.GetProperty("sheet").GetString()!,
                [.. job.GetProperty("lines").Deserialize<List<Line>>(Json)!.Where(l => !l.Struck).Select(l => l.Text)]
            );
    }

    private static void Write(Circuit circuit, Findings f)
    {
        foreach (var group in f.Suspects.Take(8))
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  {group.Share:0.0000} {string.Join("; ", group.Words)}"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  off {f.OffSheet:0.0000} solved {f.Solved} {f.Stuck}"));
        foreach (var v in f.Verdicts)
            Console.WriteLine($"  {v.Judgement} {v.Reading.Test.Probe}: {v.Meaning}");
        foreach (var n in f.Next.Take(4))
        {
            var order = ProbeOrder.Of(circuit, n.Test);
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"  {n.Kind} {n.Test} {n.Gain:0.000} {n.Minutes:0.00}"));
            Console.WriteLine($"    {order.Do} {order.On} | {order.Black} | {order.Where} | {order.Wire} | {order.How} | {order.Meter}");
            Console.WriteLine($"    {n.Why} | {string.Join(" / ", n.Outcomes.Select(o => $"{o.Name} {o.Result}: {o.Leads}"))}");
        }
    }
}
