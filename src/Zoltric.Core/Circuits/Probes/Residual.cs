namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>
    /// What of the current does not come home by the wires the clamp goes round together: <c>clamp w1 w2</c>. Nothing where all of it does;
    /// what leaks to the case where it does not.
    /// </summary>
    /// <param name="Wires">Their names, a blank between.</param>
    public sealed record Residual(string Wires) : Probe
    {
        /// <summary>Three phases, neutral and one to spare.</summary>
        public const int MostWires = 5;

        public static ProbeWords Reads { get; } = new(["residual"], (_, o) =>
            {
                o.Want(2, MostWires, "the wires it goes round together");
                return Around([.. Enumerable.Range(0, o.Count).Select(o.Wire)]);
            });

        public static Residual Around(IReadOnlyList<string> wires) => new(string.Join(' ', wires));

        public override Dimension Dimension => Dimension.Ampere;
        public override double Minutes => 0.6;

        private IEnumerable<Wire> In(Circuit circuit) => Wires.Split(' ').Select(circuit.FindWire).OfType<Wire>();

        public override IEnumerable<string> Reaches(Circuit circuit) => [Towards(circuit)];

        public override IEnumerable<Terminal> Exposes(Circuit circuit) => In(circuit).SelectMany(w => new[] { w.From, w.To });

        /// <summary>The part at which all of the wires end; that at the first one's end where there is none.</summary>
        public string Towards(Circuit circuit)
        {
            ArgumentNullException.ThrowIfNull(circuit);
            var wires = In(circuit).ToList();
            return new[] { wires[0].To.Tag, wires[0].From.Tag }.FirstOrDefault(t => wires.TrueForAll(w => w.From.Tag == t || w.To.Tag == t))
                ?? wires[0].To.Tag;
        }

        public override Dial DialOn(Circuit circuit) =>
            In(circuit).Any(w => Nets.Of(circuit).FunctionAt(w.From) == VoltsFunction.Ac)
                ? new("CLAMP_AC", "clamp for leakage, AC milliamps", DialRange.Leakage)
                : new("CLAMP_DC", "clamp, DC amps, set to zero first", DialRange.Amps);

        public override Order OrderOn(Circuit circuit) =>
            new("Clamp round all of them together", string.Join(" and ", In(circuit).Select(PointNames.Wire))) { At = Towards(circuit) };

        public override MeterReading Read(IInstruments with)
        {
            ArgumentNullException.ThrowIfNull(with);
            var towards = Towards(with.Circuit);
            return with.Residual([.. In(with.Circuit).Select(w => (w.Id, w.To.Tag == towards))]);
        }

        public override string ToString() => $"clamp {Wires}" + Watched;
    }
}
