using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Zoltric.Core.Circuits;

namespace Zoltric.Core.Notation;

/// <summary>Writes a circuit as a sheet. Reading what it writes gives the same circuit.</summary>
public static class SheetWriter
{
    public static string Write(Circuit c)
    {
        ArgumentNullException.ThrowIfNull(c);
        var s = new StringBuilder();
        s.Append(CultureInfo.InvariantCulture, $"sheet \"{c.Title}\"\n");
        if (c.Machine is not null)
            s.Append(CultureInfo.InvariantCulture, $"machine \"{c.Machine}\"{(c.Family is null ? "" : " family " + c.Family)}\n");
        s.Append(CultureInfo.InvariantCulture, $"nominal {Number(c.NominalVolts)}V {(c.Alternating ? "ac" : "dc")}\n");
        s.Append(CultureInfo.InvariantCulture, $"drawn from {c.DrawnFrom.ToString().ToLowerInvariant()}\n");
        if (c.Reference is { } r)
            s.Append(CultureInfo.InvariantCulture, $"reference {r}\n");
        if (c.Frame is { } frame)
            s.Append(CultureInfo.InvariantCulture, $"frame {frame}\n");
        s.Append('\n');
        foreach (var control in c.Controls)
            s.Append(Control(control)).Append('\n');
        if (c.Controls.Count > 0)
            s.Append('\n');
        foreach (var part in c.Parts)
        {
            s.Append(Part(part)).Append('\n');
            foreach (var line in part.ModuleLines)
                s.Append("  ").Append(ModuleText(part, line)).Append('\n');
            foreach (var line in part.Contacts)
                s.Append(
                    CultureInfo.InvariantCulture,
                    $"  {(line.Closed ? "closed" : "open")} {line.A}-{line.B}{(line.When is null ? "" : $" when {line.When}")}\n"
                );
        }
        s.Append('\n');
        foreach (var path in c.Paths)
            s.Append(Path(c, path)).Append('\n');
        s.Append('\n');
        foreach (var f in c.Functions)
            s.Append(Function(f)).Append('\n');
        foreach (var i in c.Interlocks)
            s.Append(CultureInfo.InvariantCulture, $"interlock {i.When} stops \"{i.Stops}\"\n");
        foreach (var code in c.Codes)
            s.Append(
                CultureInfo.InvariantCulture,
                $"code "
                    + $"{code.Code}{(code.Meaning is null ? "" : $" \"{code.Meaning}\"")}"
                    + $"{(code.About.Count == 0 ? "" : " about " + string.Join(", ", code.About))}\n"
            );
        return s.ToString();
    }

    internal static string Number(double v) => v.ToString("R", CultureInfo.InvariantCulture);

    private static string Control(Control c) =>
        (c.Given ? "given " : "control ")
        + c.Name
        + ": "
        + string.Join(", ", c.Positions.Select((p, i) => p + (i == c.Rest ? "*" : "") + (c.Held.Contains(p) ? " held" : "")));

    private static string Part(Part p)
    {
        var s = new StringBuilder($"part {p.Tag} {p.Kind.Word}");
        if (p.Pins > 0)
            s.Append(CultureInfo.InvariantCulture, $" {p.Pins}");
        foreach (var v in p.Values)
            s.Append(' ').Append(QuantityText.Write(v));
        foreach (var (name, v) in p.Named)
            s.Append(
                CultureInfo.InvariantCulture,
                $" {name}{(name.EndsWith("-delay", StringComparison.Ordinal) ? " " : "=")}{QuantityText.Write(v)}"
            );
        foreach (var w in p.Words)
            s.Append(' ').Append(w);
        if (p.Auxiliaries.Count > 0)
            s.Append(" aux ").AppendJoin(',', p.Auxiliaries.Select(a => $"{a.A}-{a.B}"));
        if (p.Sides is var (first, second))
            s.Append(CultureInfo.InvariantCulture, $" sides {first}|{second}");
        if (p.Lead is not null)
            s.Append(CultureInfo.InvariantCulture, $" {p.Kind.TakesLead} {p.Lead}");
        if (p.Label is not null)
            s.Append(CultureInfo.InvariantCulture, $" \"{p.Label}\"");
        if (p.Place is not null)
            s.Append(CultureInfo.InvariantCulture, $" at \"{p.Place}\"");
        if (p.ReachGiven)
            s.Append(CultureInfo.InvariantCulture, $" reach {Number(p.ReachMinutes * 60)}s");
        if (p.GoodOhms is { } g)
            s.Append(CultureInfo.InvariantCulture, $" good {Number(g.Low)}ohm..{Number(g.High)}ohm");
        foreach (var h in p.Hazards)
            s.Append(CultureInfo.InvariantCulture, $" hazard {h}");
        if (p.Odds is not 1)
            s.Append(CultureInfo.InvariantCulture, $" odds {Number(p.Odds)}");
        if (p.Sealed)
            s.Append(" sealed");
        if (p.Safety)
            s.Append(" safety");
        if (p.When is not null)
            s.Append(CultureInfo.InvariantCulture, $" when {p.When}");
        return s.ToString();
    }

    internal static string ModuleText(Part part, ModuleLine line) =>
        line switch
        {
            ModuleLine.Supply s => $"supply {string.Join(",", s.Pins)} ground {string.Join(",", s.Grounds)}"
                + $"{(s.FromVolts is { } v ? $" from={Number(v)}V" : "")}",
            ModuleLine.Input i => $"input {i.Pin} {(i.Above ? "high>" : "low<")}{Number(i.Volts)}V"
                + (i.Ohms is { } own ? $" {Number(own)}ohm" : "")
                + (i.PullUp ? " pullup" : ""),
            // Bare words inside a module's own line.
            ModuleLine.Output o => $"output {o.Pin} {(o.High ? "high" : "low")}"
                + (o.PulsedShare is { } share ? $" pulsed {Number(share * 100)}%" : "")
                + $"{(o.Ohms is { } r ? $" {Number(r)}ohm" : "")}"
                + (o.LeakOhms is { } leak ? $" leak={Number(leak)}ohm" : "")
                + (o.When is null ? "" : $" when {InModule(part, o.When)}"),
            ModuleLine.Bus b => $"bus {b.HighPin},{b.LowPin} traffic={Number(b.Share * 100)}%",
            ModuleLine.SingleWire b => $"bus {b.Pin} traffic={Number(b.Share * 100)}% pullup={Number(b.PullUpOhms)}ohm",
            ModuleLine.Sleeps s => $"sleeps after {Number(s.AfterSeconds)}s at {Number(s.Amps)}A",
            _ => "",
        };

    private static string Path(Circuit c, PathRoute path)
    {
        var s = new StringBuilder("path ");
        for (var i = 0; i < path.Hops.Count; i++)
        {
            var hop = path.Hops[i];
            if (hop.Join is { } join)
                s.Append(
                    join.WireId is null ? " = "
                    : c.FindWire(join.WireId) is { } w ? Wire(w)
                    : " - "
                );
            s.Append(Hop(c, hop));
        }
        return s.ToString();
    }

    internal static string Hop(Circuit c, PathHop hop)
    {
        if (hop.Enter == hop.Leave)
            return hop.Enter.ToString();
        if (hop.Enter.IsPin)
            return $"{hop.Enter.Tag}:{hop.Enter.Name[..^1]}{(hop.Enter.Name[^1] == 'b' ? "<" : "")}";
        return c.FindPart(hop.Enter.Tag)?.Model.Through == (hop.Enter.Name, hop.Leave.Name)
            ? hop.Enter.Tag
            : $"{hop.Enter}>{hop.Leave.Name}";
    }

    private static string Wire(Wire w)
    {
        var words = new List<string>();
        if (w.Numbered)
            words.Add(w.Id);
        if (w.Colour is not null)
            words.Add(w.Colour);
        if (Size(w) is { } size)
            words.Add(size);
        if (w.LengthMetres is { } m)
            words.Add(Number(m) + "m");
        if (w.Celsius is { } t)
            words.Add(Number(t) + "C");
        return words.Count == 0 ? " - " : $" -[{string.Join(' ', words)}]- ";
    }

    private static string Function(MachineFunction f)
    {
        return $"function \"{f.Name}\": "
            + $"{Test(f)}{(After(f) is { } after ? $" after {after}" : "")}{(f.When is null ? "" : $" when {f.When}")}";
    }

    /// <summary>What a function is noticed by: a load, or a probe with its limits.</summary>
    internal static string Test(MachineFunction f) =>
        f.Test switch
        {
            FunctionTest.LoadWorks l => l.Tag,
            FunctionTest.Measured m => $"{m.Probe} {Limits(m)}",
            _ => "",
        };

    /// <summary>A function's own steps as written after “after”.</summary>
    internal static string? After(MachineFunction f) =>
        f.After is null ? null
        : f.After.AfterSeconds > 0 && f.After.Steps.Count == 0 ? f.After.ToString()["after ".Length..]
        : f.After.ToString();

    /// <summary>A wire's size as written.</summary>
    internal static string? Size(Wire w) =>
        w.Size is not { } size ? null
        : size is { Dimension: Dimension.WireGauge, Value: < 0 } ? $"{1 - size.Value}/0awg"
        : QuantityText.Write(size);

    private static string Limits(FunctionTest.Measured m)
    {
        var unit = Units.Short(m.Probe.Dimension);
        if (double.IsInfinity(m.High))
            return $">= {Number(m.Low)}{unit}";
        return double.IsInfinity(m.Low) ? $"<= {Number(m.High)}{unit}" : $"in {Number(m.Low)}{unit}..{Number(m.High)}{unit}";
    }

    private static string InModule(Part part, Condition when) =>
        Regex.Replace(when.ToString()!.Replace(part.Tag + ".in", "in", StringComparison.Ordinal), $"\\b{part.Tag}\\b", "powered");
}
