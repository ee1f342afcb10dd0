using System.Collections.Concurrent;
using Zoltric.Core.Circuits;
using Zoltric.Core.Faults;
using Zoltric.Core.Keeping;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Diagnosis.Hypotheses;

/// <summary>A run at a place along a suspect's grid of values.</summary>
internal readonly record struct Anchor(double At, OperatingPoint Run);

/// <summary>
/// Runs of every fault in every setup that was asked for, kept and bounded. Of a range of values only as many are run as the machine's
/// behaviour calls for: two where the fault makes no difference, one a decade within one switching state, closer at the border of a state.
/// </summary>
internal sealed class FaultRuns(FaultSpace space, FaultRuns? within)
{
    /// <summary>Numbers kept at most, over all runs: some 240 MB; of each space opened within another a part of that.</summary>
    private const int MostNumbers = 30_000_000,
        MostNumbersOpened = 5_000_000;

    /// <summary>
    /// Numbers that a run holds for each of its nodes: a response that it shares with the others of its suspect, its own potentials where a
    /// bus is driven in turn, phasors; and for itself. Measured as live memory after ten readings on four demo sheets.
    /// </summary>
    private const double ByNode = 0.02,
        ByOwnPotential = 1,
        ByPhasor = 6;
    private const int ByItself = 250;

    /// <summary>Cells of the grid from one anchor to the next in one state: exact for direct current, where what a meter shows is a
    /// quotient of two straight lines in the fault's ohms; closer where phasors bend.</summary>
    private const int StrideDirect = 4,
        StrideAlternating = 2;

    /// <summary>A border between states is found to this part of a cell.</summary>
    private const double Narrow = 1.0 / 8;

    /// <summary>Where one border follows another, runs to their stretch at most.</summary>
    private const int ManyBorders = 16;

    /// <summary>A fault whose extremes move no node by more than this share of nominal makes no difference.</summary>
    private const double NoDifference = 1e-4;

    private sealed class OfSetup(int suspects)
    {
        /// <summary>Numbers that its runs hold, and when it was asked for last.</summary>
        public long Numbers,
            Used;
        public readonly OperatingPoint?[]?[] Grid = new OperatingPoint?[]?[suspects];
        public readonly Anchor[]?[] Anchors = new Anchor[]?[suspects];
        public readonly ConcurrentDictionary<(int Suspect, int Fine), OperatingPoint> Fine = new();
        public readonly ConcurrentDictionary<(int Suspect, double At), OperatingPoint> Between = new();
        public OperatingPoint? Healthy;
    }

    private readonly ConcurrentDictionary<Setup, OfSetup> _setups = new();
    private readonly int _stride = space.Machine.IsAlternating ? StrideAlternating : StrideDirect;
    private readonly double _byNode =
        space.Machine.IsAlternating ? ByPhasor
        : space.Machine.Buses.Length > 0 ? ByOwnPotential
        : ByNode;
    private long _kept;

    /// <summary>Bytes that the runs hold.</summary>
    public long HeldBytes => Interlocked.Read(ref _kept) * sizeof(double);

    private readonly int _known = space.Within?.Suspects.Count ?? 0;

    private OfSetup For(Setup setup)
    {
        var of = _setups.GetOrAdd(setup, _ => new OfSetup(space.Suspects.Count));
        of.Used = Uses.Next();
        return of;
    }

    /// <summary>When the setup that was asked for longest ago was asked for; null where there is none.</summary>
    public long? OldestUse => _setups.IsEmpty ? null : _setups.Min(s => s.Value.Used);

    /// <summary>Drops the runs of the setup that was asked for longest ago; they are made again when they are asked for. Bytes that they
    /// held.</summary>
    public long DropOldest()
    {
        if (_setups.IsEmpty || !_setups.TryRemove(_setups.MinBy(s => s.Value.Used).Key, out var of))
            return 0;
        // What is still being run in it is no longer counted.
        var numbers = Interlocked.Exchange(ref of.Numbers, long.MinValue / 2);
        Interlocked.Add(ref _kept, -numbers);
        return numbers * sizeof(double);
    }

    /// <summary>Counts what is kept; over the bound, the setup asked for longest ago is dropped.</summary>
    private OperatingPoint Keep(OfSetup of, OperatingPoint op)
    {
        var numbers = (long)(op.Nodes * _byNode) + ByItself;
        if (
            Interlocked.Add(ref of.Numbers, numbers) > 0
            && Interlocked.Add(ref _kept, numbers) > (within is null ? MostNumbers : MostNumbersOpened)
        )
            DropOldest();
        return op;
    }

    public OperatingPoint Healthy(Setup setup)
    {
        if (within is not null)
            return within.Healthy(setup);
        var of = For(setup);
        return of.Healthy ??= space.Machine.Run(setup);
    }

    public OperatingPoint Run(Setup setup, int suspect, int point) =>
        suspect < _known ? within!.Run(setup, suspect, point) : Run(For(setup), setup, suspect, point);

    private OperatingPoint Run(OfSetup of, Setup setup, int suspect, int point)
    {
        var row = of.Grid[suspect] ??= new OperatingPoint?[space.Points(suspect)];
        if (row[point] is { } known)
            return known;
        // Where it makes no difference one run stands for all.
        if (of.Anchors[suspect] is [var only, var last] && space.Points(suspect) > 2 && last.At - only.At > 1)
            return only.Run;
        return row[point] = Keep(of, space.Machine.Run(setup, space.FaultsAt(suspect, point)));
    }

    public OperatingPoint Fine(Setup setup, int suspect, int fine)
    {
        if (suspect < _known)
            return within!.Fine(setup, suspect, fine);
        var of = For(setup);
        if (of.Fine.TryGetValue((suspect, fine), out var known))
            return known;
        return of.Fine[(suspect, fine)] = Keep(of, space.Machine.Run(setup, space.Suspects[suspect].All(space.ValueAt(suspect, fine))));
    }

    /// <summary>
    /// Runs along a suspect's values, rising, with what is read on each; for one without a range, one per value. Between two runs of
    /// different switching states the border is looked for only where it shows in the reading: a relay that lets go far away moves it by
    /// nothing.
    /// </summary>
    /// <param name="alike">Whether two readings are near enough for the border between them not to matter.</param>
    /// <param name="same">Whether no meter tells two readings apart; null where each value is wanted. A range that reads the same
    /// throughout is given by one run.</param>
    /// <param name="sound">What is read on a sound machine.</param>
    /// <param name="narrow">How closely a border is found, in cells.</param>
    public (Anchor At, T Read)[] Along<T>(
        Setup setup,
        int suspect,
        Func<OperatingPoint, T> read,
        Func<T, T, bool> alike,
        Func<T, T, bool>? same = null,
        T? sound = default,
        double narrow = Narrow
    )
    {
        if (suspect < _known)
            return within!.Along(setup, suspect, read, alike, same, sound, narrow);
        var of = For(setup);
        if (same is not null && space.Curved(suspect) && Flat(of, setup, suspect, read, same, sound!) is { } one)
            return [one];
        var anchors = Array.ConvertAll(of.Anchors[suspect] ??= Make(of, setup, suspect), a => (a, read(a.Run)));
        if (!space.Curved(suspect) || !Differ())
            return anchors;
        var all = new List<(Anchor At, T Read)>(anchors);
        for (var i = all.Count - 1; i > 0; i--)
            all.InsertRange(i, Borders(all[i - 1], all[i], narrow));
        // Two runs of a state by themselves give a line, and what lies between them is bent: a third between them.
        for (var i = all.Count - 1; i > 0; i--)
            if (IsPair(i) && all[i].At.At - all[i - 1].At.At > narrow && !alike(all[i - 1].Read, all[i].Read))
                all.InsertRange(i, Halved(all[i - 1], all[i], narrow));
        return [.. all];

        bool IsPair(int i) =>
            State(i) == State(i - 1) && (i < 2 || State(i - 2) != State(i)) && (i + 1 == all.Count || State(i + 1) != State(i));

        int State(int i) => all[i].At.Run.StateKey;

        bool Differ()
        {
            for (var i = 1; i < anchors.Length; i++)
                if (anchors[i].a.Run.StateKey != anchors[i - 1].a.Run.StateKey)
                    return true;
            return false;
        }

        List<(Anchor, T)> Borders((Anchor At, T Read) a, (Anchor At, T Read) b, double narrow)
        {
            var wide = b.At.At - a.At.At;
            // A wide stretch is halved once in any case: what falls and comes back between its ends may be alike at both.
            return a.At.Run.StateKey == b.At.Run.StateKey || wide <= narrow || wide <= 1 && alike(a.Read, b.Read)
                ? []
                : Halved(a, b, narrow);
        }

        List<(Anchor, T)> Halved((Anchor At, T Read) a, (Anchor At, T Read) b, double narrow)
        {
            var wide = b.At.At - a.At.At;
            var middle = (a.At.At + b.At.At) / 2;
            var run = middle == (int)middle ? Run(of, setup, suspect, (int)middle) : Between(of, setup, suspect, middle);
            var m = (At: new Anchor(middle, run), Read: read(run));
            // Many borders in a row, relays of a whole loom letting go one by one, are each found less closely.
            if (a.At.Run.StateKey != run.StateKey && run.StateKey != b.At.Run.StateKey)
                narrow = Math.Max(narrow, wide / ManyBorders);
            return [.. Borders(a, m, narrow), m, .. Borders(m, b, narrow)];
        }
    }

    /// <summary>
    /// One run for a whole range, where the reading with the value farthest from a sound part is that of a sound machine. What a resistance
    /// moves in a linear network it moves one way only (the bilinear form, Bode, 1945), so nothing between the two is read otherwise. Where
    /// a relay lets go or a fuse blows on the way, the middle of the range is looked at too, and the other end where that could differ.
    /// </summary>
    private (Anchor, T)? Flat<T>(OfSetup of, Setup setup, int suspect, Func<OperatingPoint, T> read, Func<T, T, bool> same, T sound)
    {
        var (s, last) = (space.Suspects[suspect], space.Points(suspect) - 1);
        if (s.Also is not null || s.Together.Count > 0 || s.Held.Count > 0)
            return null;
        var far = Farthest(s) ? last : 0;
        var run = Run(of, setup, suspect, far);
        var shown = read(run);
        if (!same(sound, shown))
            return null;
        if (run.StateKey != Healthy(setup).StateKey)
        {
            var middle = Run(of, setup, suspect, last / 2);
            if (!same(read(middle), shown))
                return null;
            // Added ohms do least where they are least; of a path, the other end tells nothing that its middle does not where a fuse has
            // held there already.
            if (far == 0 && middle.StateKey == run.StateKey && !same(read(Run(of, setup, suspect, last)), shown))
                return null;
        }
        return (new Anchor(far, run), shown);
    }

    /// <summary>
    /// True where the highest value lies farthest from a sound part: added ohms. Of a path to ground, of fewer ohms, of a battery's volts
    /// it is the lowest.
    /// </summary>
    private bool Farthest(Suspect s)
    {
        if (s.Template.Kind == FaultKind.Resists || s.Template.Dimension != Dimension.Ohm)
            return s.Template.Kind == FaultKind.Resists;
        return space.Circuit.FindPart(s.Template.Target) is { Model.IsPoint: false } part
            && part.Model.Faults.FirstOrDefault(m => m.Words == s.Template.Words) is { } mode
            && (mode.Effect is FaultEffect.Series or FaultEffect.Holder || mode.Effect is FaultEffect.SetOhms && part.Kind.IsSource);
    }

    private OperatingPoint Between(OfSetup of, Setup setup, int suspect, double at)
    {
        if (of.Between.TryGetValue((suspect, at), out var known))
            return known;
        return of.Between[(suspect, at)] = Keep(of, space.Machine.Run(setup, space.Suspects[suspect].All(space.ValueOf(suspect, at))));
    }

    private Anchor[] Make(OfSetup of, Setup setup, int suspect)
    {
        var last = space.Points(suspect) - 1;
        Anchor At(int point) => new(point, Run(of, setup, suspect, point));
        if (!space.Curved(suspect))
            return [.. Enumerable.Range(0, last + 1).Select(At)];
        var (low, high) = (At(0), At(last));
        if (last > 1 && setup.Interventions.Count == 0 && Same(low.Run, high.Run))
            return [low, high];
        var anchors = new List<Anchor> { low };
        // At least three to a range, so that a bent line shows.
        var stride = Math.Min(_stride, Math.Max(1, last / 2));
        for (var p = stride; p < last; p += stride)
            if (last - p >= stride / 2.0)
                anchors.Add(At(p));
        anchors.Add(high);
        return [.. anchors];
    }

    /// <summary>Functions that are judged by ohms, which potentials do not show.</summary>
    private readonly List<FunctionTest.Measured> _byOhms = space
        .Circuit.Functions.Select(f => f.Test)
        .OfType<FunctionTest.Measured>()
        .Where(m => m.Probe is Probe.Ohms)
        .ToList();

    /// <summary>
    /// True when two runs of a machine with nothing unplugged or isolated cannot be told apart: the same state, the same potentials. With
    /// sources off potentials tell nothing, and ohms are read.
    /// </summary>
    private bool Same(OperatingPoint a, OperatingPoint b)
    {
        if (_byOhms.Exists(m => Math.Abs(Metering.FunctionState.ValueOf(a, m) - Metering.FunctionState.ValueOf(b, m)) > 1e-3))
            return false;
        if (a.StateKey != b.StateKey)
            return false;
        var most = NoDifference * space.Circuit.NominalVolts;
        if (a.MostApart(b) > most)
            return false;
        if (space.Machine.IsAlternating)
            for (var i = 0; i < a.Nodes; i++)
                if ((a.AcVolts(i, -1) - b.AcVolts(i, -1)).Magnitude > most)
                    return false;
        return true;
    }
}
