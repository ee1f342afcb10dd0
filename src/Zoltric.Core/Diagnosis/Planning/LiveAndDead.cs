using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Posterior;
using Zoltric.Core.Safety;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>
/// Points read one after the other of which the one was live and the other dead, where a sound machine has both alike. A joint that comes
/// and goes before both may have done so between the two readings; one reading right across them tells, since such a joint shows nothing
/// there at any time. Common practice, no source.
/// </summary>
internal static class LiveAndDead
{
    /// <summary>
    /// Volts, as a share of nominal, by which two points must have been read apart, and within which a sound machine has them alike.
    /// </summary>
    private const double Apart = 0.5,
        Alike = 0.1;

    /// <summary>Such tests at a time.</summary>
    private const int Most = 4;

    /// <summary>
    /// One reading across two points read so, where each of these joints, open or whole, would leave both alike. None above extra-low
    /// voltage or on alternating current.
    /// </summary>
    /// <param name="joints">Suspects that have a joint open for good, the likeliest first.</param>
    public static IEnumerable<Test> Across(FaultSpace space, IReadOnlyList<Reading> readings, IReadOnlyList<int> joints)
    {
        var circuit = space.Circuit;
        if (TestRules.HasDangerousVolts(circuit) || space.Nets.Sections.Any(s => s.HasAc))
            yield break;
        var (apart, alike, done) = (Apart * circuit.NominalVolts, Alike * circuit.NominalVolts, new HashSet<Test>());
        var read = ReadingsByPoint.Read(readings).Where(r => r.Key.Interventions.Count == 0 && r.Value.Count > 1).Reverse().ToList();
        foreach (var joint in joints)
        foreach (var (setup, volts) in read)
        {
            var (sound, open) = (space.Healthy(setup), space.Run(setup, joint, 0));
            foreach (var (p, live) in volts)
            foreach (var (q, dead) in volts)
                if (
                    Math.Abs(live) - Math.Abs(dead) > apart
                    && Math.Abs(live - dead) > apart
                    && Together(sound, p, q)
                    && Together(open, p, q)
                    && done.Count < Most
                    && new Test(setup, new Probe.Volts(p, q, VoltsFunction.Dc)) is var test
                    && done.Add(test)
                )
                    yield return test;
        }

        bool Together(Solving.OperatingPoint op, Terminal p, Terminal q) => Math.Abs(op.Volts(p) - op.Volts(q)) < alike;
    }
}
