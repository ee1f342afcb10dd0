using System.Diagnostics;
using System.Globalization;

namespace Zoltric.Bench;

/// <summary>
/// Processor time of two builds of this program doing the same work in turn: after divided by before, with the 95 % interval of the mean
/// (Student's t on the rounds' ratios).
/// </summary>
/// <remarks><c>compare BEFORE/Zoltric.Bench.dll AFTER/Zoltric.Bench.dll 15 solver 300</c></remarks>
internal static class Compare
{
    /// <summary>Two-sided 95 % points of Student's t for 4, 9, 14 and 29 degrees of freedom (Abramowitz and Stegun, table 26.10).</summary>
    private static readonly (int Freedom, double T)[] Student = [(4, 2.776), (9, 2.262), (14, 2.145), (29, 2.045)];

    public static void Run(string before, string after, int rounds, string[] work)
    {
        var ratios = new List<double>();
        for (var round = 0; round < rounds; round++)
        {
            // Who goes first changes from round to round.
            var (first, second) = round % 2 == 0 ? (before, after) : (after, before);
            var (a, b) = (Seconds(first, work), Seconds(second, work));
            ratios.Add(round % 2 == 0 ? b / a : a / b);
        }
        var mean = ratios.Average();
        var deviation = Math.Sqrt(ratios.Sum(r => (r - mean) * (r - mean)) / (rounds - 1));
        var half = Student.Last(s => s.Freedom <= rounds - 1).T * deviation / Math.Sqrt(rounds);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{string.Join(' ', work)}: after / before {mean:0.000}, 95 % {mean - half:0.000} to {mean + half:0.000}, {rounds} rounds"
            )
        );
    }

    private static double Seconds(string program, string[] work)
    {
        var start = new ProcessStartInfo("dotnet", [program, .. work]) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.Environment["ZOLTRIC_CPU"] = "1";
        using var process = Process.Start(start)!;
        var said = process.StandardError.ReadToEndAsync();
        process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return process.ExitCode == 0
            ? double.Parse(said.Result.Trim().Split('\n')[^1], CultureInfo.InvariantCulture)
            : throw new InvalidOperationException($"{program} {string.Join(' ', work)} ended with {process.ExitCode}.");
    }
}
