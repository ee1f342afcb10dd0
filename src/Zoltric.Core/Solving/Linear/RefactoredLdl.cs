using System.Buffers;
using System.Numerics;

namespace Zoltric.Core.Solving.Linear;

/// <summary>A factor with some of its columns formed anew and laid over it; see <see cref="SparseLdl{T}.Refactored"/>.</summary>
/// <param name="way">Columns formed anew, rising.</param>
/// <param name="lowerStart">Where the entries of each stand in <paramref name="lower"/>.</param>
/// <param name="excess">Each column's own path to the reference.</param>
internal sealed class RefactoredLdl<T>(SparseLdl<T> under, int[] way, int[] lowerStart, T[] lower, T[] inversePivot, T[] excess)
    : INodalSolver<T>
    where T : struct, INumberBase<T>
{
    public int[] Way => way;
    public int[] LowerStart => lowerStart;
    public T[] Lower => lower;
    public T[] InversePivot => inversePivot;
    public T[] Excess => excess;

    /// <inheritdoc/>
    public void Solve(Span<T> b)
    {
        var (start, rows, position) = (under.Pattern.ColumnStart, under.Pattern.Rows, under.Pattern.Position);
        var below = under.Lower;
        var pivots = under.InversePivot;
        var rented = ArrayPool<T>.Shared.Rent(b.Length);
        var y = rented.AsSpan(0, b.Length);
        for (var node = 0; node < b.Length; node++)
            y[position[node]] = b[node];
        for (int j = 0, next = 0; j < y.Length; j++)
        {
            var anew = next < way.Length && way[next] == j;
            if (anew)
                next++;
            var yj = y[j];
            if (yj == T.Zero)
                continue;
            var column = anew ? lower.AsSpan(lowerStart[next - 1], lowerStart[next] - lowerStart[next - 1]) : below[start[j]..start[j + 1]];
            for (var p = 0; p < column.Length; p++)
                y[rows[start[j] + p]] += column[p] * yj;
        }
        for (int j = y.Length - 1, next = way.Length - 1; j >= 0; j--)
        {
            var anew = next >= 0 && way[next] == j;
            var column = anew ? lower.AsSpan(lowerStart[next], lowerStart[next + 1] - lowerStart[next]) : below[start[j]..start[j + 1]];
            var x = y[j] * (anew ? inversePivot[next--] : pivots[j]);
            for (var p = 0; p < column.Length; p++)
                x += column[p] * y[rows[start[j] + p]];
            y[j] = x;
        }
        for (var node = 0; node < b.Length; node++)
            b[node] = y[position[node]];
        ArrayPool<T>.Shared.Return(rented);
    }
}
