namespace Zoltric.Core.Circuits;

/// <summary>What is observed: a meter on two points, a lamp, an ear, an eye.</summary>
public abstract record Probe
{
    /// <summary>What of the figures is taken where the meter watches for a while.</summary>
    public Statistic Statistic { get; init; }

    private string Watched => Statistic == Statistic.None ? "" : " " + Statistic.ToString().ToLowerInvariant();

    /// <summary>Volts from P to Q; Q null means the reference.</summary>
    public sealed record Volts(Terminal P, Terminal? Q, VoltsFunction Function = VoltsFunction.Dc) : Probe
    {
        public override string ToString() => Word(Function) + $" {P}" + (Q is { } q ? $" {q}" : "") + Watched;

        private static string Word(VoltsFunction f) =>
            f switch
            {
                VoltsFunction.Ac => "VAC",
                VoltsFunction.LowImpedance => "loz",
                _ => "V",
            };
    }

    /// <summary>Voltage drop across something.</summary>
    public sealed record Drop(Across X) : Probe
    {
        public override string ToString() => $"drop {X}" + Watched;
    }

    public sealed record Ohms(Across X) : Probe
    {
        public override string ToString() => $"ohm {X}";
    }

    public sealed record Beep(Across X) : Probe
    {
        public override string ToString() => $"beep {X}";
    }

    public sealed record Insulation(Terminal P, Terminal Q) : Probe
    {
        public override string ToString() => $"insul {P} {Q}";
    }

    /// <summary>Series amps where the part was pulled, or the part's own current for a source in a function.</summary>
    /// <param name="At">The lifted terminal in whose gap they are read; null for a pulled part or a source.</param>
    public sealed record Amps(string Tag, Terminal? At = null) : Probe
    {
        public override string ToString() => $"A {(At is { } t ? t.ToString() : Tag)}" + Watched;
    }

    public sealed record Clamp(string Wire) : Probe
    {
        public override string ToString() => $"clamp {Wire}" + Watched;
    }

    /// <summary>Test lamp from P to Q (reference when null); watts null means the small lamp of about 0.25 A.</summary>
    public sealed record Lamp(Terminal P, Terminal? Q, double? Watts) : Probe
    {
        public override string ToString() =>
            $"lamp {P}" + (Q is { } q ? $" {q}" : "") + (Watts is { } w ? FormattableString.Invariant($" {w}W") : "");
    }

    /// <summary>A function by name, or a part by tag.</summary>
    public sealed record Sees(string What, bool IsFunction) : Probe
    {
        public override string ToString() => IsFunction ? $"sees \"{What}\"" : $"sees {What}";
    }

    public sealed record Hears(string Tag) : Probe
    {
        public override string ToString() => $"hears {Tag}";
    }

    public sealed record Looks(string Tag) : Probe
    {
        public override string ToString() => $"looks {Tag}";
    }

    public sealed record Code(string Number) : Probe
    {
        public override string ToString() => $"code {Number}";
    }

    /// <summary>
    /// A part replaced by a new one, a part or wire repaired, or a part of a newer sheet fitted; stands alone, without result, and opens a
    /// new period of the job.
    /// </summary>
    public sealed record Replaced(string Tag, Renewal How = Renewal.Replaced) : Probe
    {
        public override string ToString() => $"{How.ToString().ToLowerInvariant()} {Tag}";
    }
}

/// <summary>How a part was renewed.</summary>
public enum Renewal
{
    Replaced,
    Repaired,
    Fitted,
}

/// <summary>What a meter that watches for a while is asked for.</summary>
public enum Statistic
{
    None,

    /// <summary>Lowest figure.</summary>
    Min,

    /// <summary>Highest figure.</summary>
    Max,

    /// <summary>Highest within a millisecond or so: an inrush.</summary>
    Peak,

    /// <summary>Mean over time, as a plain meter shows.</summary>
    Mean,

    /// <summary>What alternates on direct volts.</summary>
    Ripple,
}

public enum VoltsFunction
{
    Dc,
    Ac,
    LowImpedance,
}

/// <summary>Two probe points, as written: two terminals, a part, a way through a part, a pin or a wire.</summary>
public sealed record Across(string Text, ProbePoint P, ProbePoint Q)
{
    public override string ToString() => Text;
}

/// <summary>Where a tip goes: a terminal, or one end of a wire (its own lug, on a stud).</summary>
public readonly record struct ProbePoint(Terminal Terminal, string? WireId = null, bool WireStart = false)
{
    public override string ToString() => Terminal.ToString();
}
