namespace Zoltric.Drawing.Schematic;

/// <summary>A horizontal stretch of a net between two rows, with the columns it is joined to from above and from below.</summary>
internal sealed class Bar(DrawnNet net, int channel)
{
    public DrawnNet Net { get; } = net;
    public int Channel { get; } = channel;
    public List<(Column Column, bool Above)> Ends { get; } = [];

    /// <summary>Line within the channel from the top, or -1 for a wire that runs straight through.</summary>
    public int Track { get; set; } = -1;
    public double Y { get; set; }

    /// <summary>Needs no line of its own; a splice or stud always has one, for its name.</summary>
    public bool Straight => !(IsTrunk && Net.Point is not null) && Ends.TrueForAll(e => e.Column == Ends[0].Column);
    public int From => Ends.Min(e => e.Column.Order);
    public int To => Ends.Max(e => e.Column.Order);
    public bool IsTrunk { get; init; }

    /// <summary>The part of the same net that this one leads down to within the channel.</summary>
    public Bar? Over { get; set; }
}

/// <summary>A vertical stretch: from a port to a bar, or in a lane of its own from bar to bar.</summary>
internal sealed record Riser(DrawnNet Net, Column Column, NetPort? Port, Bar? Upper, Bar? Lower);

/// <summary>Lays the nets into the channels between the rows: bars on tracks, no two of them on the same line at the same place.</summary>
internal sealed class Channels
{
    private readonly Columns _columns;
    public List<Bar> Bars { get; } = [];
    public List<Riser> Risers { get; } = [];
    public int[] Tracks { get; }

    public Channels(IReadOnlyList<DrawnNet> nets, Columns columns, int[] rows, int rowCount)
    {
        _columns = columns;
        foreach (var net in nets)
            Lay(net, rows);
        Tracks = new int[rowCount + 1];
        foreach (var channel in Bars.GroupBy(b => b.Channel).ToList())
            Tracks[channel.Key] = AssignTracks([.. channel.Where(b => !b.Straight)]);
    }

    private void Lay(DrawnNet net, int[] rows)
    {
        if (net.Ports.Count == 0)
            return;
        var trunk = new Bar(net, net.Trunk) { IsTrunk = true };
        Bars.Add(trunk);
        // Ports that look away from the bar go round through a lane, those at one level together.
        var round = new Dictionary<(int, bool), Bar>();
        foreach (var p in net.Ports)
        {
            var (row, column) = (rows[p.Unit.Index], _columns.At(p.Unit, p.Port));
            var (channel, top) = (p.Port.Side == Side.Top ? row : row + 1, p.Port.Side == Side.Top);
            if (top ? channel >= net.Trunk : channel <= net.Trunk)
            {
                trunk.Ends.Add((column, !top));
                Risers.Add(new Riser(net, column, p, top ? trunk : null, top ? null : trunk));
                continue;
            }
            if (!round.TryGetValue((channel, top), out var bar))
            {
                round[(channel, top)] = bar = new Bar(net, channel);
                Bars.Add(bar);
                var between = Enumerable.Range(Math.Min(channel, net.Trunk), Math.Abs(channel - net.Trunk)).ToList();
                var lane = _columns.Lane(column, between);
                lane.Ask(ColumnNeed.Lane);
                bar.Ends.Add((lane, !top));
                trunk.Ends.Add((lane, top));
                Risers.Add(new Riser(net, lane, null, top ? bar : trunk, top ? trunk : bar));
            }
            bar.Ends.Add((column, !top));
            Risers.Add(new Riser(net, column, p, top ? bar : null, top ? null : bar));
        }
    }

    /// <summary>
    /// Top to bottom; a bar that is left upwards at a column where another is left downwards must lie above it. Two that ask for each other
    /// the wrong way round are parted: one of them changes its line in a lane of its own.
    /// </summary>
    private int AssignTracks(List<Bar> bars)
    {
        var waiting = new List<Bar>(bars);
        var lines = new List<List<Bar>>();
        while (waiting.Count > 0)
        {
            var free = waiting
                .Where(b => !waiting.Exists(o => o != b && MustLieAbove(o, b)))
                .OrderBy(b => b.From)
                .ThenBy(b => b.Net.Index)
                .ToList();
            if (free.Count == 0)
            {
                Part(waiting);
                continue;
            }
            foreach (var b in free)
            {
                var first = 0;
                for (var t = 0; t < lines.Count; t++)
                    if (lines[t].Exists(o => MustLieAbove(o, b)))
                        first = t + 1;
                var line = first;
                while (line < lines.Count && lines[line].Exists(o => o.From <= b.To && b.From <= o.To))
                    line++;
                if (line == lines.Count)
                    lines.Add([]);
                lines[line].Add(b);
                b.Track = line;
                waiting.Remove(b);
            }
        }
        return lines.Count;
    }

    private static bool MustLieAbove(Bar upper, Bar lower) =>
        upper.Net == lower.Net
            ? upper.Over == lower
            : upper.Ends.Exists(u => u.Above && lower.Ends.Exists(l => !l.Above && l.Column == u.Column));

    private void Part(List<Bar> waiting)
    {
        // Every bar waits for another: going back from one to the next ends in the circle, and every bar of it goes both ways.
        var (bar, met) = (waiting[0], new HashSet<Bar>());
        while (met.Add(bar))
        {
            var lower = bar;
            bar = waiting.Find(o => o != lower && MustLieAbove(o, lower))!;
        }
        var below = new Bar(bar.Net, bar.Channel);
        below.Ends.AddRange(bar.Ends.Where(e => !e.Above));
        bar.Ends.RemoveAll(e => !e.Above);
        var lane = _columns.NewLane(below.Ends[0].Column);
        lane.Ask(ColumnNeed.Lane);
        for (var i = 0; i < Risers.Count; i++)
            if (Risers[i].Upper == bar && Risers[i].Lower != bar)
                Risers[i] = Risers[i] with { Upper = below };
        bar.Ends.Add((lane, false));
        below.Ends.Add((lane, true));
        (below.Over, bar.Over) = (bar.Over, below);
        Risers.Add(new Riser(bar.Net, lane, null, bar, below));
        Bars.Add(below);
        if (!below.Straight)
            waiting.Add(below);
    }
}
