using Zoltric.Core.Circuits;
using Zoltric.Core.Diagnosis.Explanation;

namespace Zoltric.Drawing;

/// <summary>One column of a lane: a part, pin or stud the current passes, with its station on the way in and on the way out.</summary>
/// <param name="Enter">Index of the station it is entered at, or -1 at the very start.</param>
/// <param name="Leave">Index of the station it is left at, or -1 at the very end.</param>
public sealed record LaneColumn(string Label, Part Part, int Enter, int Leave, string? CoilTag, bool IsLoad)
{
    /// <summary>Columns that this one stands for, 0 for one that is only itself.</summary>
    public int Folds { get; init; }

    /// <summary>True when the two stations are points of their own with something between them.</summary>
    public bool HasInside => Folds == 0 && Enter >= 0 && Leave >= 0 && Enter != Leave;
}

/// <summary>Gathers the stations of a lane into columns.</summary>
public static class LaneColumns
{
    public static IReadOnlyList<LaneColumn> Lay(Circuit circuit, MarkedLane lane)
    {
        ArgumentNullException.ThrowIfNull(circuit);
        ArgumentNullException.ThrowIfNull(lane);
        var columns = new List<LaneColumn>();
        var stations = lane.Stations;
        for (var i = 0; i < stations.Count; i++)
        {
            var t = stations[i].Station.Terminal;
            var part = circuit.FindPart(t.Tag)!;
            var next = i + 1 < stations.Count ? stations[i + 1].Station : null;
            if (next?.Via is { Tag: { } tag } via && tag == t.Tag)
            {
                columns.Add(new LaneColumn(Label(part, t), part, i, i + 1, via.CoilTag, via.IsLoad));
                i++;
            }
            else
                columns.Add(
                    new LaneColumn(
                        part.Model.IsPoint || part.Kind.IsSource || t.IsPin ? Label(part, t) : t.ToString(),
                        part,
                        i,
                        i,
                        null,
                        false
                    )
                );
        }
        return columns;
    }

    private static string Label(Part part, Terminal t) =>
        t.IsPin ? $"{t.Tag}:{t.Name[..^1]}"
        : part.Kind.IsSource ? $"{t.Tag} {(t.Name == "-" ? "−" : t.Name)}"
        : t.Tag;
}
