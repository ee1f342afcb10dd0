using System.Globalization;
using Zoltric.Core.Circuits;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>One thing that a sheet of figures asks for.</summary>
/// <param name="Example">What stands there at first, as a person writes it.</param>
public sealed record FigureField(string Name, string Label, Dimension Dimension, string Example)
{
    public double Least { get; init; } = 0.001;
    public double Most { get; init; } = 1e6;

    /// <summary>True where nothing need be written.</summary>
    public bool Optional { get; init; }

    /// <summary>Words to choose from; empty where a value is written.</summary>
    public IReadOnlyList<string> Choices { get; init; } = [];
}

/// <summary>A state of the thing that is measured, and what is read in it.</summary>
/// <param name="Shows">One text a column.</param>
/// <param name="Follows">What follows when it is read so.</param>
public sealed record FigureRow(string State, IReadOnlyList<string> Shows, string Follows)
{
    /// <summary>True for the state that is right.</summary>
    public bool Sound { get; init; }

    /// <summary>What the one reading that is asked for shows in this state, in its base unit; null where it is not read so.</summary>
    public double? Reads { get; init; }
}

/// <summary>What was worked out.</summary>
/// <param name="Columns">What each column of the rows shows.</param>
/// <param name="Says">Sentences, the answer first.</param>
public sealed record FigureResult(IReadOnlyList<string> Says, IReadOnlyList<string> Columns, IReadOnlyList<FigureRow> Rows)
{
    /// <summary>The state that fits what was read best; null where nothing was read or nothing fits.</summary>
    public FigureRow? Fits { get; init; }

    /// <summary>True where something was read and no state here shows it.</summary>
    public bool FitsNone { get; init; }

    /// <summary>Further tables, each with its own heading.</summary>
    public IReadOnlyList<FigureTable> More { get; init; } = [];

    /// <summary>Sheet of the circuit behind the figures, to be drawn; null where none is.</summary>
    public string? Sheet { get; init; }
}

/// <summary>A table beside the main one.</summary>
/// <param name="Of">What a row is, the heading of its first column.</param>
/// <param name="Columns">What each further column shows.</param>
public sealed record FigureTable(string Title, string Of, IReadOnlyList<string> Columns, IReadOnlyList<FigureRow> Rows)
{
    /// <summary>What it says in a sentence; empty where nothing is to be said.</summary>
    public string Says { get; init; } = "";
}

/// <summary>What was written into the fields, each within its limits.</summary>
public sealed class FigureValues(IReadOnlyDictionary<string, double> numbers, IReadOnlyDictionary<string, string> words)
{
    /// <exception cref="KeyNotFoundException">Where an optional field was left empty: ask by <see cref="Find"/>.</exception>
    public double this[string field] => numbers[field];

    /// <summary>Fields in which a number was written.</summary>
    public IEnumerable<string> Numbers => numbers.Keys;

    public double? Find(string field) => numbers.TryGetValue(field, out var v) ? v : null;

    public string Word(string field) => words[field];
}

/// <summary>
/// One bench of figures: what it asks for, what it works out, what that rests on. Each is one file in this folder. Where a circuit is
/// behind the figures it is written as a sheet and read with the meter of the core, so that no rule of electricity stands here twice.
/// </summary>
public abstract class FigureSheet
{
    /// <summary>Its word in addresses.</summary>
    public abstract string Name { get; }
    public abstract string Title { get; }

    /// <summary>What it is for, one line.</summary>
    public abstract string For { get; }

    public abstract IReadOnlyList<FigureField> Fields { get; }

    /// <summary>What it asks for on a machine; the same as alone unless the machine has things to list.</summary>
    public virtual IReadOnlyList<FigureField> FieldsOn(Circuit circuit) => Fields;

    /// <summary>What the figures rest on, with their sources.</summary>
    public abstract string RestsOn { get; }

    /// <exception cref="FigureException">Where values that are each possible are not so together.</exception>
    public abstract FigureResult Work(FigureValues v);

    /// <summary>What a part of a sheet fills in, by field; null where this bench has nothing to say about it.</summary>
    public virtual IReadOnlyDictionary<string, string>? From(Circuit circuit, Part part) => null;

    /// <summary>What is worked out on the very machine, by its own sheet.</summary>
    /// <param name="read">What the job has read so far, to stand beside it.</param>
    public virtual IReadOnlyList<FigureTable> OnMachine(Machine machine, Part part, IReadOnlyList<Reading> read) => [];

    /// <summary>The sheet with what this bench proposes drawn in; the reason where it may not be; null where it proposes nothing.</summary>
    /// <param name="sheet">The sheet's text as typed.</param>
    public virtual FigureDraft? Drawn(Circuit circuit, Part part, string sheet) => null;

    /// <summary>All that was read in its fields, as lines of the job with their results.</summary>
    /// <param name="written">What stands in a field.</param>
    public virtual IEnumerable<string> Lines(Circuit circuit, Part part, Func<string, string?> written)
    {
        ArgumentNullException.ThrowIfNull(written);
        return
            Fields.FirstOrDefault(f => f.Name == Read) is { } field
            && written(Read) is { Length: > 0 } read
            && Line(circuit, part) is { } line
            ? [$"{line} = {FigureReader.Result(field.Dimension, read)}"]
            : [];
    }

    /// <summary>The reading that its field <c>read</c> is, as a line without result; null where it is none of the sheet's.</summary>
    public virtual string? Line(Circuit circuit, Part part) => null;

    /// <summary>Field in which what was read is written.</summary>
    protected const string Read = "read";

    /// <summary>A reading within this share of what a state shows fits it.</summary>
    private const double FitsWithin = 0.15;

    /// <summary>Chooses the state that fits what was read.</summary>
    /// <param name="read">In the rows' unit; null for nothing read.</param>
    /// <param name="digit">What the meter's last digits and leads stand for, same unit.</param>
    protected static FigureResult Fitted(FigureResult result, double? read, double digit)
    {
        ArgumentNullException.ThrowIfNull(result);
        if (read is not { } x)
            return result;
        var fits = result
            .Rows.Where(r => r.Reads is { } v && (double.IsInfinity(v) ? double.IsInfinity(x) : Math.Abs(x - v) <= digit + FitsWithin * v))
            .MinBy(r => double.IsInfinity(r.Reads!.Value) ? 0 : Math.Abs(x - r.Reads.Value));
        return result with { Fits = fits, FitsNone = fits is null };
    }

    /// <summary>A number as a sheet is written: no exponent.</summary>
    protected static string N(double value) => value.ToString("0.#########", CultureInfo.InvariantCulture);

    protected static string Say(double value, Dimension dimension) => MeterReading.Format(value, dimension);

    /// <summary>Every bench, by its word; found by the files of this folder.</summary>
    public static IReadOnlyDictionary<string, FigureSheet> All { get; } =
        typeof(FigureSheet)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(FigureSheet)) && !t.IsAbstract)
            .Select(t => (FigureSheet)Activator.CreateInstance(t)!)
            .OrderBy(f => f.Title, StringComparer.Ordinal)
            .ToDictionary(f => f.Name, StringComparer.Ordinal);
}

/// <summary>A proposal drawn into a sheet, or why it is not offered.</summary>
/// <param name="Does">What it does, in a few words.</param>
/// <param name="Sheet">The text with it; null where it may not be.</param>
/// <param name="Says">What follows from it, or why it may not be.</param>
public sealed record FigureDraft(string Does, string? Sheet, string Says);

/// <summary>Values that do not go together; the message says why.</summary>
public sealed class FigureException(string message) : Exception(message);
