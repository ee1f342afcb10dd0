using Zoltric.Core.Circuits;

namespace Zoltric.Drawing.Schematic;

/// <summary>What a column has to hold, which decides how wide it is.</summary>
internal enum ColumnNeed
{
    Lane,
    Ports,
    Text,
}

/// <summary>A vertical strip of the page: its rows are taken by units and by wires that pass.</summary>
internal sealed class Column
{
    private readonly HashSet<int> _taken = [];
    public int Order { get; set; }
    public ColumnNeed Need { get; private set; }

    /// <summary>Left edge and axis in px, set once all columns stand.</summary>
    public double X { get; set; }
    public double Width { get; set; }

    public bool IsFree(int row) => !_taken.Contains(row);

    public void Take(int row) => _taken.Add(row);

    public void Ask(ColumnNeed need)
    {
        if (need > Need)
            Need = need;
    }
}

/// <summary>
/// Gives every port a column. Units follow each other straight down where the rows are free; a branch goes to the right of what was drawn
/// before it. Columns are only ever added, in the order of the sheet, so that a line added at its end moves nothing else about.
/// </summary>
internal sealed class Columns
{
    private readonly Circuit _circuit;
    private readonly Units _units;
    private readonly IReadOnlyList<DrawnNet> _nets;
    private readonly int[] _rows;
    private readonly List<Column> _all = [];
    private readonly Dictionary<(Unit, Port), Column> _at = [];
    private readonly Dictionary<(Unit, Port), DrawnNet> _netAt = [];
    private readonly Dictionary<DrawnNet, Column> _home = [];
    private readonly Dictionary<DrawnNet, Column> _last = [];
    private readonly Dictionary<int, (DrawnNet? Parent, Column Left, Column Right)> _placed = [];

    public IReadOnlyList<Column> All => _all;

    public Column At(Unit u, Port p) => _at[(u, p)];

    public Columns(Circuit circuit, Units units, IReadOnlyList<DrawnNet> nets, Rows rows)
    {
        (_circuit, _units, _nets, _rows) = (circuit, units, nets, rows.OfUnit);
        foreach (var n in nets)
        foreach (var p in n.Ports)
            _netAt[(p.Unit, p.Port)] = n;
        foreach (var source in units.All.Where(u => u.Part.Kind.IsSource && IsFirstSource(u)))
            Place([source], null, null, null);
        foreach (var path in circuit.Paths)
            Follow(path);
        foreach (var unit in units.All)
            if (!_placed.ContainsKey(unit.Index))
                Place([unit], unit.Ports.Select(Net(unit)).FirstOrDefault(n => n is not null), null, null);
    }

    private bool IsFirstSource(Unit u) => u.Part == _circuit.Sources.First();

    private Func<Port, DrawnNet?> Net(Unit u) => p => _netAt.GetValueOrDefault((u, p));

    /// <summary>Places what a path names and is not yet on the page, run by run of units that can stand below one another.</summary>
    private void Follow(PathRoute path)
    {
        var run = new List<Unit>();
        DrawnNet? from = null,
            first = null;
        Port? entry = null;
        foreach (var hop in path.Hops)
        {
            if (_units.At(hop.Enter) is not { } entered)
            {
                // A bar: what comes before it is placed, what comes after hangs from it.
                Flush(null);
                from = _nets.FirstOrDefault(n => n.Point?.Tag == hop.Enter.Tag);
                continue;
            }
            var unit = entered.Unit;
            if (_placed.ContainsKey(unit.Index))
                Flush(entered);
            else
            {
                if (run.Count > 0 && (unit.Width > 1 || run[^1].Width > 1 || _rows[unit.Index] <= _rows[run[^1].Index]))
                    Flush(unit.Width > 1 ? entered : null);
                if (run.Count == 0)
                    (first, entry) = (from, entered.Port);
                run.Add(unit);
            }
            from = _units.At(hop.Leave) is { } left ? _netAt.GetValueOrDefault(left) : null;
        }
        Flush(null);

        void Flush((Unit Unit, Port Port)? into)
        {
            if (run.Count == 0)
                return;
            Place(run, first, into, entry);
            run = [];
        }
    }

    private void Place(List<Unit> run, DrawnNet? from, (Unit Unit, Port Port)? into, Port? entry)
    {
        var home = from is null ? null : _home.GetValueOrDefault(from);
        var width = run[0].Width;
        Column? left = null;
        if (into is { } end && _at.TryGetValue(end, out var over) && end.Unit.Shape == UnitShape.Box && Fits(run, over))
            left = over;
        if (left is null && home is not null && width > 1)
            left = Around(run[0], home, entry);
        if (left is null && home is not null && Fits(run, home))
            left = home;
        if (left is null && home is not null)
        {
            // To the right of the feed, as near as there is room, but not so far that a column of its own reads better.
            for (var i = home.Order + 1; i < Math.Min(_all.Count, home.Order + 5) && left is null; i++)
                if (_all[i].Need == ColumnNeed.Text && Fits(run, _all[i]))
                    left = _all[i];
        }
        if (left is null)
        {
            var after = from is null ? null : _last.GetValueOrDefault(from);
            var order = after is null ? _all.Count : after.Order + 1;
            while (run.Exists(u => RowsOf(u).Any(r => IsInsideBox(order, r))))
                order++;
            left = Insert(order);
            for (var i = 1; i < width; i++)
                Insert(left.Order + i);
        }
        foreach (var unit in run)
            Put(unit, left, from);
    }

    /// <summary>
    /// Makes room for a box about the column that feeds one of its ports, so that the wire runs straight in; null where it cannot.
    /// </summary>
    private Column? Around(Unit box, Column home, Port? entry)
    {
        var slot = entry is null ? -1 : box.On(entry.Side).ToList().IndexOf(entry);
        var row = _rows[box.Index];
        if (slot < 0 || !home.IsFree(row) || Way(box, entry!).Any(r => !home.IsFree(r)))
            return null;
        if (home.Order - slot >= 0 && Fits([box], _all[home.Order - slot]))
            return _all[home.Order - slot];
        var rows = RowsOf(box).ToList();
        if (rows.Exists(r => IsInsideBox(home.Order, r) || IsInsideBox(home.Order + 1, r)))
            return null;
        for (var i = 0; i < slot; i++)
            Insert(home.Order);
        for (var i = slot + 1; i < box.Width; i++)
            Insert(home.Order + 1);
        return _all[home.Order - slot];
    }

    /// <summary>Rows that a unit and the ways of its ports take.</summary>
    private IEnumerable<int> RowsOf(Unit unit) => unit.Ports.SelectMany(p => Way(unit, p)).Append(_rows[unit.Index]);

    private Column Insert(int order)
    {
        var column = new Column();
        _all.Insert(order, column);
        for (var i = order; i < _all.Count; i++)
            _all[i].Order = i;
        // A box that the new column splits stays whole.
        foreach (var (unit, place) in _placed)
            if (place.Left.Order < order && place.Right.Order > order)
                column.Take(_rows[unit]);
        return column;
    }

    /// <summary>
    /// True when the run can stand in that column, with the way up to the bar that feeds it and down to the bar it leads to.
    /// </summary>
    private bool Fits(List<Unit> run, Column column)
    {
        foreach (var unit in run)
        {
            for (var i = 0; i < unit.Width; i++)
                if (column.Order + i >= _all.Count || !_all[column.Order + i].IsFree(_rows[unit.Index]))
                    return false;
            foreach (var (port, i) in Slots(unit))
            foreach (var row in Way(unit, port))
                if (!_all[column.Order + i].IsFree(row))
                    return false;
        }
        return true;
    }

    private static IEnumerable<(Port Port, int Slot)> Slots(Unit unit) =>
        unit.On(Side.Top).Select((p, i) => (p, i)).Concat(unit.On(Side.Bottom).Select((p, i) => (p, i)));

    /// <summary>Rows between a port and the bar of its net that its own column can pass.</summary>
    private IEnumerable<int> Way(Unit unit, Port port)
    {
        if (Net(unit)(port) is not { } net)
            yield break;
        var row = _rows[unit.Index];
        if (port.Side == Side.Top)
            for (var r = net.Trunk; r < row; r++)
                yield return r;
        else
            for (var r = row + 1; r < net.Trunk; r++)
                yield return r;
    }

    private void Put(Unit unit, Column left, DrawnNet? from)
    {
        var row = _rows[unit.Index];
        for (var i = 0; i < unit.Width; i++)
            _all[left.Order + i].Take(row);
        var right = _all[left.Order + unit.Width - 1];
        _placed[unit.Index] = (from, left, right);
        right.Ask(unit.Shape == UnitShape.Box && unit.Width > 1 ? ColumnNeed.Ports : ColumnNeed.Text);
        left.Ask(unit.Width > 1 ? ColumnNeed.Ports : ColumnNeed.Text);
        foreach (var (port, slot) in Slots(unit))
        {
            var column = _all[left.Order + slot];
            column.Ask(ColumnNeed.Ports);
            _at[(unit, port)] = column;
            foreach (var r in Way(unit, port))
                column.Take(r);
            if (Net(unit)(port) is not { } net)
                continue;
            if (!_home.ContainsKey(net))
                (_home[net], _last[net]) = (column, column);
        }
        // The next branch of what fed this one goes to the right of it.
        for (var (net, guard) = (from, 0); net is not null && guard++ < 1000; )
        {
            if (!_last.TryGetValue(net, out var last) || last.Order < right.Order)
                _last[net] = right;
            var feeder = net.Ports.Find(p => p.Port.Side == Side.Bottom && _placed.ContainsKey(p.Unit.Index));
            var up = feeder is null ? null : _placed[feeder.Unit.Index].Parent;
            net = up == net ? null : up;
        }
    }

    /// <summary>A free lane for those rows, near a column: one that stands, or a new narrow one beside it.</summary>
    public Column Lane(Column near, IReadOnlyList<int> rows)
    {
        for (var d = 1; d <= 3; d++)
            foreach (var i in new[] { near.Order + d, near.Order - d })
                if (i >= 0 && i < _all.Count && rows.All(_all[i].IsFree))
                    return Taken(_all[i], rows);
        // Beside the column, but never through a box that stands in one of the rows.
        var right = near.Order + 1;
        while (rows.Any(r => IsInsideBox(right, r)))
            right++;
        var left = near.Order;
        while (rows.Any(r => IsInsideBox(left, r)))
            left--;
        return Taken(Insert(right - near.Order - 1 <= near.Order - left ? right : left), rows);

        static Column Taken(Column c, IReadOnlyList<int> rows)
        {
            foreach (var r in rows)
                c.Take(r);
            return c;
        }
    }

    /// <summary>True when a column put at that place would split a box that stands in the row.</summary>
    private bool IsInsideBox(int order, int row) =>
        _placed.Any(p => _rows[p.Key] == row && p.Value.Left.Order < order && p.Value.Right.Order >= order);

    /// <summary>A new lane beside a column, for a wire that changes its level within a channel.</summary>
    public Column NewLane(Column near) => Insert(near.Order + 1);
}
