using Zoltric.Core.Figures;

namespace Zoltric.Web.Pages.Figures;

/// <summary>A table of a bench as it is shown.</summary>
/// <param name="Of">Heading of its first column.</param>
/// <param name="Fits">The row that fits what was read; null for none.</param>
public sealed record FigureRows(string Title, string Of, IReadOnlyList<string> Columns, IReadOnlyList<FigureRow> Rows, FigureRow? Fits);
