namespace Zoltric.Core.Diagnosis;

/// <summary>
/// What one test shows along one suspect's values: known at grid points, joined between them where the machine is in one switching state
/// by a cubic through four neighbours (Catmull and Rom, 1974), by a line where only two are in it. A cell in which the state changes has its
/// border found, and a line on either side of it.
/// </summary>
internal sealed class Curve
{
    private readonly Predicted[] _grid;
    private readonly (double C0, double C1, double C2, double C3)[]? _cells;

    private readonly (double T, Predicted Before, Predicted After)?[]? _borders;

    /// <param name="border">Finds where in a cell the state changes; null for suspects without a range of values.</param>
    public Curve(Predicted[] grid, Func<int, (double T, Predicted Before, Predicted After)?>? border)
    {
        _grid = grid;
        if (border is null) return;
        _cells = new (double, double, double, double)[grid.Length - 1];
        _borders = new (double, Predicted, Predicted)?[_cells.Length];
        for (var i = 0; i < _cells.Length; i++)
        {
            _cells[i] = Cell(i);
            if (grid[i].State != grid[i + 1].State) _borders[i] = border(i);
        }
    }

    /// <summary>Number of fine points.</summary>
    public int Count => _cells is null ? _grid.Length : _cells.Length * FaultSpace.Fine;

    private bool Joined(int i, int j) => i >= 0 && j < _grid.Length && _grid[i].State == _grid[j].State && _grid[i].Word is null && _grid[j].Word is null;

    private (double, double, double, double) Cell(int i)
    {
        var (b, c) = (_grid[i].Mean, _grid[i + 1].Mean);
        if (!Joined(i, i + 1)) return (double.NaN, 0, 0, 0);
        if (!Joined(i - 1, i) || !Joined(i + 1, i + 2)) return (b, c - b, 0, 0);
        var (a, d) = (_grid[i - 1].Mean, _grid[i + 2].Mean);
        return (b, 0.5 * (c - a), 0.5 * (2 * a - 5 * b + 4 * c - d), 0.5 * (3 * (b - c) + d - a));
    }

    /// <summary>Prediction at a fine point.</summary>
    public Predicted At(int fine)
    {
        if (_cells is null) return _grid[fine];
        var (cell, t) = (fine / FaultSpace.Fine, (fine % FaultSpace.Fine + 0.5) / FaultSpace.Fine);
        ref readonly var b = ref _grid[cell];
        ref readonly var c = ref _grid[cell + 1];
        var near = t < 0.5 ? b : c;
        if (_borders![cell] is { } border)
            return t < border.T ? Line(b, border.Before, t / border.T, border.T) : Line(border.After, c, (t - border.T) / (1 - border.T), 1 - border.T);
        var (c0, c1, c2, c3) = _cells[cell];
        if (double.IsNaN(c0))
            return b.Word is not null && b.State == c.State && b.Word == c.Word ? near with { Share = b.Share + (c.Share - b.Share) * t } : near;
        // How far the mean moves to the next fine point is unknown within the cell.
        var grain = (c1 + t * (2 * c2 + 3 * t * c3)) / FaultSpace.Fine / 3.46;
        var spread = b.Spread + (c.Spread - b.Spread) * t;
        return near with
        {
            Mean = c0 + t * (c1 + t * (c2 + t * c3)),
            Spread = Math.Sqrt(spread * spread + grain * grain),
            Share = b.Share + (c.Share - b.Share) * t,
        };
    }

    /// <summary>Between two predictions of one state, <paramref name="width"/> of a cell apart.</summary>
    private static Predicted Line(in Predicted a, in Predicted b, double t, double width)
    {
        var near = t < 0.5 ? a : b;
        if (a.Word is not null || b.Word is not null) return near with { Share = a.Share + (b.Share - a.Share) * t };
        var spread = a.Spread + (b.Spread - a.Spread) * t;
        var grain = (b.Mean - a.Mean) / (FaultSpace.Fine * width) / 3.46;
        return near with { Mean = a.Mean + (b.Mean - a.Mean) * t, Spread = Math.Sqrt(spread * spread + grain * grain), Share = a.Share + (b.Share - a.Share) * t };
    }
}
