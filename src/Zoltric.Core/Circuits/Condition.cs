namespace Zoltric.Core.Circuits;

/// <summary>When a contact is closed or a function expected: control positions and pulled-in parts, joined by and, or, not.</summary>
public abstract record Condition
{
    /// <param name="position">Position of a control by name.</param>
    /// <param name="active">Whether a relay, contactor or module is pulled in or powered.</param>
    public abstract bool Holds(Func<string, string> position, Func<string, bool> active);

    /// <summary>While a part is powered and, where more is said, that holds too: unpowered it does nothing, whatever it is told.</summary>
    public static Condition Powered(string tag, Condition? when)
    {
        Condition own = new Active(tag);
        return when is null || when == own ? own : new And(own, when);
    }

    /// <summary>Controls and tags named anywhere in it.</summary>
    public abstract IEnumerable<Condition> Leaves();

    public sealed record Position(string Control, string At) : Condition
    {
        public override bool Holds(Func<string, string> position, Func<string, bool> active) =>
            position(Control).Equals(At, StringComparison.OrdinalIgnoreCase);

        public override IEnumerable<Condition> Leaves() => [this];

        public override string ToString() => $"{Control}={At}";
    }

    public sealed record Active(string Tag) : Condition
    {
        public override bool Holds(Func<string, string> position, Func<string, bool> active) => active(Tag);

        public override IEnumerable<Condition> Leaves() => [this];

        public override string ToString() => Tag;
    }

    public sealed record Not(Condition Inner) : Condition
    {
        public override bool Holds(Func<string, string> position, Func<string, bool> active) => !Inner.Holds(position, active);

        public override IEnumerable<Condition> Leaves() => Inner.Leaves();

        public override string ToString() => Inner is And or Or ? $"not ({Inner})" : $"not {Inner}";
    }

    public sealed record And(Condition Left, Condition Right) : Condition
    {
        public override bool Holds(Func<string, string> position, Func<string, bool> active) =>
            Left.Holds(position, active) && Right.Holds(position, active);

        public override IEnumerable<Condition> Leaves() => Left.Leaves().Concat(Right.Leaves());

        public override string ToString() => $"{Bracket(Left)} and {Bracket(Right)}";

        private static string Bracket(Condition c) => c is Or ? $"({c})" : c.ToString()!;
    }

    public sealed record Or(Condition Left, Condition Right) : Condition
    {
        public override bool Holds(Func<string, string> position, Func<string, bool> active) =>
            Left.Holds(position, active) || Right.Holds(position, active);

        public override IEnumerable<Condition> Leaves() => Left.Leaves().Concat(Right.Leaves());

        public override string ToString() => $"{Left} or {Right}";
    }
}
