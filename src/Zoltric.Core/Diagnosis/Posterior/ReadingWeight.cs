using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Hypotheses;
using Zoltric.Core.Diagnosis.Observation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Posterior;

/// <summary>What one reading adds to the logarithm of every weight.</summary>
internal static class ReadingWeight
{
    /// <summary>How often the same eyes call one and the same working dead, and then say that it works; estimate.</summary>
    private const double CalledOtherwise = 0.1;

    /// <summary>What one reading adds to the logarithm of every weight, from a suspect on.</summary>
    public static void Weigh(
        FaultSpace space,
        Likelihood likelihood,
        int before,
        Reading reading,
        double power,
        int first,
        ValuePartition partition,
        double[] added,
        Unknowns[] unknowns,
        IReadOnlySet<string> renewed,
        bool followed,
        Meanwhile meanwhile,
        AlikeReading? alike,
        BlownSince? blown
    )
    {
        // Where it was tried after, that says what the part was worth.
        if (reading.Test.Probe is Probe.Replaced replaced)
        {
            if (!followed)
                Facts.Replaced(space, replaced.Tag, first, partition, added);
            var isFuse = space.Circuit.FindPart(replaced.Tag)?.Kind is Circuits.Kinds.Fuse;
            for (var s = first; s < space.Suspects.Count; s++)
            {
                if (isFuse && space.TouchOf(s) is not null)
                    for (var i = partition.From(s); i < partition.To(s); i++)
                        unknowns[i].Open = Math.Min(unknowns[i].Open, Intermittence.TouchesStill);
                if (
                    space.Suspects[s].RepairUnit == replaced.Tag
                    || space.Suspects[s].Also?.Target == replaced.Tag
                    || space.Suspects[s].AlsoUnit == replaced.Tag
                )
                    for (var i = partition.From(s); i < partition.To(s); i++)
                        unknowns[i].Renew(isFuse);
            }
        }
        if (!ReadingKinds.NeedsCurves(space, reading))
            return;
        var result = reading.Steady!;
        var dimension = reading.Test.Probe.Dimension;
        var slip = Slips.Probability(space, before, reading);
        var curves = space.Curves(reading.Test);
        var off = OffItsPlug.Of(space, reading) is { } apart ? space.Curves(apart) : null;
        var healthy = space.PredictHealthy(reading.Test);
        var sound = reading.Test.Probe is Probe.Sees && result is ReadingResult.Word ? healthy.Share : 0;
        // What a sound machine shows, known from the same earlier readings as what each suspect's does.
        healthy = sound > 0 ? healthy with { SoundShare = sound } : alike?.GivenHealthy(healthy) ?? healthy;
        WorkBudget.For(first, curves.Length, s =>
        {
            var start = partition.From(s);
            Predicted At(int suspect, int fine) =>
                blown?.At(suspect, fine) is { } open ? open
                : sound > 0 ? curves[suspect].At(fine) with { SoundShare = sound }
                : alike is null ? curves[suspect].At(fine)
                : alike.Given(suspect, fine, curves[suspect].At(fine));
            if (!renewed.Contains(space.Suspects[s].RepairUnit))
            {
                if (space.OpenTwin(s) is { } twin)
                {
                    // What is loose in its clips is whole to the eye.
                    var there =
                        reading.Test.Probe is Probe.Looks && space.Suspects[twin].Template.Kind == FaultKind.Blown ? healthy : At(twin, 0);
                    added[start] = ComesAndGoes(s, false, healthy, At(s, 0), [there]);
                    return;
                }
                if (space.TouchOf(s) is { } touch)
                {
                    var fuse = touch.Gone is { } blown && !renewed.Contains(space.Suspects[blown].RepairUnit) ? blown : (int?)null;
                    var gone = fuse is { } f ? At(f, 0) : healthy;
                    var there = fuse is null ? touch.Renewed : touch.There;
                    var blows = space.BlownAlong(reading.Test.Setup, touch.Renewed).Any(b => b.Count > 0);
                    added[start] = ComesAndGoes(s, blows, gone, gone, Array.ConvertAll(space.Sizes(there), k => At(there, k)));
                    return;
                }
            }
            if (space.Left(s, renewed) is { } left)
            {
                // One of two was mended: what the machine shows now is the other's.
                for (var k = 0; k < partition.To(s) - start; k++)
                    Renewed(start + k, At(left.Suspect, left.At(k)), At(s, k));
                return;
            }
            if (renewed.Contains(space.Suspects[s].RepairUnit))
            {
                for (var k = 0; k < partition.To(s) - start; k++)
                    Renewed(start + k, healthy, At(s, k));
                return;
            }
            for (var k = 0; k < partition.To(s) - start; k++)
            {
                var (plugged, first) = (unknowns[start + k], unknowns[start + k]);
                var density = likelihood.Evaluate(result, At(s, k), dimension, slip, ref unknowns[start + k]);
                if (off is not null)
                {
                    (density, var byItself) = OffItsPlug.Mix(
                        density,
                        likelihood.Evaluate(result, off[s].At(k), dimension, slip, ref plugged)
                    );
                    if (byItself)
                        unknowns[start + k] = plugged;
                }
                // What is there for good and has blown nothing since is called what it was called before.
                if (meanwhile.Turned && blown?.At(s, k) is null && blown?.AtFirst(s, k) is null)
                    density = Math.Max(CalledOtherwise * density, Math.Min(density, slip));
                // With the fuse that it has blown it is a suspect of its own.
                if (blown?.AtFirst(s, k) is { } without)
                    density = unknowns[start + k].ReadWhole(density, likelihood.Evaluate(result, without, dimension, slip, ref first));
                added[start + k] = power * Math.Log(Math.Max(density, 1e-12));
            }
        });

        double ComesAndGoes(int suspect, bool leavesDead, in Predicted gone, in Predicted now, ReadOnlySpan<Predicted> there) =>
            power
            * Math.Log(
                Math.Max(
                    Intermittence.Probability(
                        likelihood,
                        reading.Test,
                        result,
                        gone,
                        now,
                        there,
                        space.IsMoved(suspect, reading.Test.Setup),
                        leavesDead,
                        dimension,
                        slip,
                        meanwhile,
                        space.Circuit.NominalVolts,
                        ref unknowns[partition.From(suspect)]
                    ),
                    1e-12
                )
            );

        // With a new part in, its own fault is gone, or it is not.
        void Renewed(int entry, Predicted gone, Predicted still)
        {
            var without = unknowns[entry];
            var mended = likelihood.Evaluate(result, gone, dimension, slip, ref without);
            var unmended = likelihood.Evaluate(result, still, dimension, slip, ref unknowns[entry]);
            added[entry] = power * Math.Log(Math.Max(unknowns[entry].Read(mended, unmended), 1e-12));
        }
    }
}
