using System.Text;

namespace Zoltric.Core.Patterns;

/// <summary>One value that a pattern asks for.</summary>
/// <param name="Key">Name in the template, <c>{volts}</c>.</param>
/// <param name="Question">As it is asked.</param>
/// <param name="Usual">What stands there until something else is written.</param>
public sealed record PatternField(string Key, string Question, string Usual);

/// <summary>
/// A circuit that is met again and again, to start a sheet from when there is no schematic: asked for its values one by one, then corrected
/// at the machine. Values are common practice, no source.
/// </summary>
public abstract class Pattern
{
    public abstract string Name { get; }

    /// <summary>Families of machine it is met in: appliance, industrial, lift, truck, offroad.</summary>
    public abstract IReadOnlyList<string> Families { get; }

    /// <summary>Complaints that lead to it, in the customer's words.</summary>
    public abstract IReadOnlyList<string> Complaints { get; }

    public abstract IReadOnlyList<PatternField> Fields { get; }

    /// <summary>A sheet with the fields in braces.</summary>
    protected abstract string Template { get; }

    /// <summary>The sheet with these values; what is not given stands as usual.</summary>
    public string Fill(IReadOnlyDictionary<string, string> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        var text = new StringBuilder(Template);
        foreach (var f in Fields)
        {
            var value = values.TryGetValue(f.Key, out var given) && !string.IsNullOrWhiteSpace(given) ? given.Trim() : f.Usual;
            text.Replace("{" + f.Key + "}", value.Replace('"', '\'').ReplaceLineEndings(" "));
        }
        return text.Append('\n').ToString();
    }

    /// <summary>Every pattern, by listing the folder Library/.</summary>
    public static IReadOnlyList<Pattern> All { get; } =
    [
        .. typeof(Pattern)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(Pattern)) && !t.IsAbstract)
            .Select(t => (Pattern)Activator.CreateInstance(t)!)
            .OrderBy(p => p.Name, StringComparer.Ordinal),
    ];
}
