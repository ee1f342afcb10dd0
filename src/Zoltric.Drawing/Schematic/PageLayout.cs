using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Circuits.Kinds;

namespace Zoltric.Drawing.Schematic;

/// <summary>
/// Draws a sheet by computation: pieces of parts in rows from the supply down, a column for every branch, wires between the rows. The same
/// text gives the same drawing.
/// </summary>
public static class PageLayout
{
    /// <summary>px; half a glyph, and the height of the band it stands in.</summary>
    internal const double HalfGlyph = 14,
        Band = 60;

    private const double TextWidth = 144,
        PortsWidth = 88,
        LaneWidth = 14,
        Axis = 15,
        Margin = 18;
    private const double TrackPitch = 12,
        BarName = 15,
        WireLine = 11.5,
        WireSize = 10;

    public static Page Of(Circuit circuit)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        var units = Schematic.Units.Of(circuit);
        var nets = DrawnNets.Of(circuit, units);
        var rows = new Rows(circuit, units, nets);
        foreach (var net in nets)
            net.Trunk = TrunkOf(net, rows.OfUnit);
        var columns = new Columns(circuit, units, nets, rows);
        var channels = new Channels(nets, columns, rows.OfUnit, rows.Count);
        return new Placing(circuit, units, nets, rows, columns, channels).Page();
    }

    /// <summary>The level at which a bar costs the fewest rows passed; round a port's own glyph counts more than straight on.</summary>
    private static int TrunkOf(DrawnNet net, int[] rows)
    {
        var ends = net
            .Ports.Select(p =>
                (Channel: p.Port.Side == Side.Top ? rows[p.Unit.Index] : rows[p.Unit.Index] + 1, Top: p.Port.Side == Side.Top)
            )
            .ToList();
        if (ends.Count == 0)
            return 0;
        double Cost(int c) =>
            ends.Sum(e => e.Top == c <= e.Channel || e.Channel == c ? Math.Abs(c - e.Channel) : 20.0 + 3 * Math.Abs(c - e.Channel));
        return ends.Select(e => e.Channel).Distinct().Order().MinBy(Cost);
    }

    private sealed class Placing
    {
        private readonly Circuit _circuit;
        private readonly Units _units;
        private readonly IReadOnlyList<DrawnNet> _nets;
        private readonly Rows _rows;
        private readonly Columns _columns;
        private readonly Channels _channels;
        private readonly double[] _bandTop;
        private readonly double[] _above;
        private readonly double _height;
        private readonly List<Text> _texts = [];
        private readonly List<(Terminal, double, double)> _points = [];
        private readonly List<double> _rowCuts = [];

        public Placing(Circuit circuit, Units units, IReadOnlyList<DrawnNet> nets, Rows rows, Columns columns, Channels channels)
        {
            (_circuit, _units, _nets, _rows, _columns, _channels) = (circuit, units, nets, rows, columns, channels);
            var x = Margin;
            foreach (var c in columns.All)
            {
                (c.X, c.Width) = (
                    x,
                    c.Need switch
                    {
                        ColumnNeed.Text => TextWidth,
                        ColumnNeed.Ports => PortsWidth,
                        _ => LaneWidth,
                    }
                );
                x += c.Width;
            }
            var (above, below) = (new int[rows.Count], new int[rows.Count]);
            foreach (var net in nets)
            foreach (var ((unit, port), wires) in net.Labels)
            {
                var (row, lines) = (rows.OfUnit[unit.Index], wires.Sum(w => WireWords(w).Count));
                if (port.Side == Side.Top)
                    above[row] = Math.Max(above[row], lines);
                else
                    below[row] = Math.Max(below[row], lines);
            }
            _above = [.. above.Select(n => n == 0 ? 4 : n * WireLine + 4)];
            _bandTop = new double[rows.Count];
            var y = Margin;
            for (var r = 0; r <= rows.Count; r++)
            {
                y = PlaceChannel(r, y);
                if (r == rows.Count)
                    break;
                _rowCuts.Add(y);
                _bandTop[r] = y + _above[r];
                y = _bandTop[r] + Band + (below[r] == 0 ? 4 : below[r] * WireLine + 4);
            }
            _height = y + Margin;
        }

        private double PlaceChannel(int channel, double y)
        {
            var bars = _channels.Bars.Where(b => b.Channel == channel).ToList();
            y += 6;
            for (var t = 0; t < _channels.Tracks[channel]; t++)
            {
                var here = bars.Where(b => b.Track == t).ToList();
                y += here.Exists(b => b is { IsTrunk: true, Net.Point: not null }) ? BarName + TrackPitch / 2 : TrackPitch / 2;
                foreach (var b in here)
                    b.Y = y;
                y += TrackPitch / 2;
            }
            foreach (var b in bars.Where(b => b.Track < 0))
                b.Y = y;
            return y + 6;
        }

        private static double AxisOf(Column c) => c.X + (c.Need == ColumnNeed.Lane ? LaneWidth / 2 : Axis);

        private double PortY(NetPort p) => _bandTop[_rows.OfUnit[p.Unit.Index]] + (p.Port.Side == Side.Top ? 0 : Band);

        public Page Page()
        {
            var placed = _units.All.Select(Put).ToList();
            var (pieces, dots) = (new List<Piece>(), new List<Dot>());
            foreach (var net in _nets)
            {
                new NetPieces(net, _channels, AxisOf, PortY).Draw(pieces, dots);
                Name(net);
            }
            var width = _columns.All.Count == 0 ? 2 * Margin : _columns.All[^1].X + _columns.All[^1].Width + Margin;
            return Bundles.Mark(
                new Page(_circuit, width, _height, placed, Hop(pieces), _texts, dots)
                {
                    Nets = _nets,
                    Points = _points,
                    Bulkheads = [.. Bulkheads(placed)],
                    RowCuts = _rowCuts,
                    ColumnCuts = [.. _columns.All.Select(c => c.X)],
                }
            );
        }

        private PlacedUnit Put(Unit unit)
        {
            var (row, axes) = (_rows.OfUnit[unit.Index], unit.Ports.Select(p => AxisOf(_columns.At(unit, p))).ToList());
            var top = _bandTop[row];
            var (first, last) = (axes.Min(), axes.Max());
            if (unit.Shape == UnitShape.Box)
            {
                NameBox(unit, top, first, last);
                return new PlacedUnit(unit, first, top + Band / 2, axes);
            }
            var (x, room) = (last + 24, TextWidth - Axis - 27);
            if (unit.Shape == UnitShape.Bare)
            {
                if (unit.Wire is { } wire)
                    foreach (var (line, i) in WireWords(wire).Select((l, i) => (l, i)))
                        Say(
                            new Text(TextUse.Wire, last + 5, top + 26 + i * WireLine, WireSize, false, line) { Wire = wire, Unit = unit },
                            room
                        );
                return new PlacedUnit(unit, first, top + Band / 2, axes);
            }
            foreach (var (port, i) in unit.Ports.Select((p, i) => (p, i)))
                if (unit.Shape != UnitShape.Pin)
                    Say(
                        new Text(TextUse.Pin, axes[i] + 3, port.Side == Side.Top ? top + 10 : top + Band - 4, 9, false, port.Terminal.Name)
                        {
                            Unit = unit,
                        },
                        21
                    );
            var y = top + 15;
            if (unit.Shape == UnitShape.Pin)
                y = top + 25;
            Say(
                new Text(
                    TextUse.Tag,
                    x,
                    y,
                    13,
                    false,
                    unit.Shape == UnitShape.Pin ? $"{unit.Part.Tag}:{unit.Ports[0].Terminal.Name[..^1]}" : unit.Part.Tag
                )
                {
                    Unit = unit,
                },
                room
            );
            foreach (var line in Wrap(unit.Shape == UnitShape.Pin && !IsFirst(unit) ? "" : unit.Part.Label ?? "", room, 2))
                Say(new Text(TextUse.Words, x, y += 12.5, 11, false, line) { Unit = unit }, room);
            if (unit.Shape != UnitShape.Pin && !unit.IsCoilContact && ValueOf(unit.Part) is { Length: > 0 } value)
                Say(new Text(TextUse.Words, x, y + 12.5, 11, false, value) { Unit = unit }, room);
            return new PlacedUnit(unit, first, top + Band / 2, axes);
        }

        /// <summary>A connector says its name at its first pin only.</summary>
        private bool IsFirst(Unit unit) => _units.All.First(u => u.Part == unit.Part) == unit;

        private void NameBox(Unit unit, double top, double first, double last)
        {
            var (left, right) = BoxOf(unit, first, last);
            foreach (var port in unit.Ports)
                Say(
                    new Text(
                        TextUse.Pin,
                        AxisOf(_columns.At(unit, port)),
                        port.Side == Side.Top ? top + 11 : top + Band - 4,
                        9,
                        true,
                        port.Terminal.Name
                    )
                    {
                        Unit = unit,
                    },
                    60
                );
            Say(new Text(TextUse.Tag, (left + right) / 2, top + 27, 13, true, unit.Part.Tag) { Unit = unit }, right - left - 6);
            var words = string.Join(", ", new[] { unit.Part.Label, ValueOf(unit.Part) }.Where(w => w is { Length: > 0 }));
            Say(new Text(TextUse.Words, (left + right) / 2, top + 41, 11, true, words) { Unit = unit }, right - left - 6);
        }

        private void Name(DrawnNet net)
        {
            foreach (var ((unit, port), wires) in net.Labels)
            {
                var (x, row) = (AxisOf(_columns.At(unit, port)), _rows.OfUnit[unit.Index]);
                var y = port.Side == Side.Top ? _bandTop[row] - _above[row] + WireLine - 1 : _bandTop[row] + Band + WireLine;
                foreach (var wire in wires)
                foreach (var line in WireWords(wire))
                {
                    Say(
                        new Text(TextUse.Wire, x + 5, y, WireSize, false, line) { Wire = wire, Net = net },
                        PortsWidth - Axis + LaneWidth / 2 - 7
                    );
                    y += WireLine;
                }
            }
            if (net.Point is { } point && _channels.Bars.Find(b => b.Net == net && b.IsTrunk) is { Ends.Count: > 0 } bar)
            {
                var column = bar.Ends.OrderByDescending(e => e.Column.Need).ThenBy(e => e.Column.Order).First().Column;
                _points.Add((new Terminal(point.Tag, ""), AxisOf(column), bar.Y));
                Say(
                    new Text(TextUse.Bar, AxisOf(column) + 5, bar.Y - 5, 11, false, $"{point.Tag} {point.Label}".TrimEnd()) { Net = net },
                    column.Width - Axis - 5
                );
            }
        }

        private void Say(Text text, double room)
        {
            if (text.Words.Length == 0)
                return;
            var words = text.Words;
            while (text.Width > room && words.Length > 1)
            {
                words = words[..^1].TrimEnd();
                text = text with { Words = words + "…" };
            }
            _texts.Add(text);
        }

        private static IEnumerable<(Part, double, double, double)> Bulkheads(List<PlacedUnit> placed)
        {
            foreach (var row in placed.GroupBy(p => p.Y))
            {
                // Runs of pins of one connector with nothing else between them.
                PlacedUnit? from = null,
                    to = null;
                foreach (var p in row.OrderBy(p => p.X))
                {
                    var pin = p.Unit.Shape == UnitShape.Pin && p.Unit.Part.Kind is Connector;
                    if (pin && from?.Unit.Part == p.Unit.Part)
                    {
                        to = p;
                        continue;
                    }
                    if (from is not null)
                        yield return (from.Unit.Part, from.X - 13, to!.X + TextWidth - Axis - 4, from.Y);
                    (from, to) = pin ? (p, p) : (null, null);
                }
                if (from is not null)
                    yield return (from.Unit.Part, from.X - 13, to!.X + TextWidth - Axis - 4, from.Y);
            }
        }

        /// <summary>Finds where lying pieces meet standing ones of other nets.</summary>
        private static List<Piece> Hop(List<Piece> pieces)
        {
            var standing = pieces.Where(p => !p.Horizontal).OrderBy(p => p.X1).ToList();
            return
            [
                .. pieces.Select(p =>
                {
                    if (!p.Horizontal)
                        return p;
                    var (left, right) = (Math.Min(p.X1, p.X2), Math.Max(p.X1, p.X2));
                    return p with
                    {
                        Hops =
                        [
                            .. standing
                                .Where(v =>
                                    v.Net != p.Net
                                    && v.X1 > left
                                    && v.X1 < right
                                    && Math.Min(v.Y1, v.Y2) < p.Y1
                                    && Math.Max(v.Y1, v.Y2) > p.Y1
                                )
                                .Select(v => v.X1)
                                .Distinct(),
                        ],
                    };
                }),
            ];
        }
    }

    /// <summary>Left and right edge of a box whose outer axes these are.</summary>
    internal static (double Left, double Right) BoxOf(Unit unit, double first, double last) =>
        (first - 13, unit.Width == 1 ? first + TextWidth - Axis - 8 : last + 13);

    /// <summary>Number and colour, then the size.</summary>
    private static List<string> WireWords(Wire wire)
    {
        var lines = new List<string>();
        if ($"{(wire.Numbered ? wire.Id : "")} {wire.Colour}".Trim() is { Length: > 0 } name)
            lines.Add(name);
        if (SizeOf(wire) is { } size)
            lines.Add(size);
        return lines;
    }

    /// <summary>Cross section with its unit, or null where the sheet gives none.</summary>
    internal static string? SizeOf(Wire wire) =>
        wire.Size is { } s
            ? string.Create(CultureInfo.InvariantCulture, $"{s.Value:0.##} {(s.Dimension == Dimension.WireGauge ? "AWG" : "mm²")}")
            : null;

    private static string ValueOf(Part part) =>
        string.Join(' ', part.Values.Select(v => v.Dimension is Dimension.None ? "" : Spoken(v)).Where(v => v.Length > 0));

    private static string Spoken(Quantity q)
    {
        var kilo = q.Value >= 1000 && q.Dimension is Dimension.Ohm or Dimension.Watt or Dimension.VoltAmpere && q.Value >= 1000;
        var unit = q.Dimension == Dimension.Celsius ? "°C" : Core.Circuits.Units.Sign(q.Dimension);
        return string.Create(CultureInfo.InvariantCulture, $"{(kilo ? q.Value / 1000 : q.Value):0.##} {(kilo ? "k" : "")}{unit}");
    }

    private static IEnumerable<string> Wrap(string words, double room, int lines)
    {
        var (line, made) = ("", 0);
        foreach (var word in words.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (line.Length == 0 || Text.WidthOf($"{line} {word}", 11, false) <= room || made == lines - 1)
                line = line.Length == 0 ? word : line + " " + word;
            else
            {
                yield return line;
                (line, made) = (word, made + 1);
            }
        }
        if (line.Length > 0)
            yield return line;
    }
}
