namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Current of a wire, by a clamp round it.</summary>
    public sealed record Clamp(string Wire) : Probe
    {
        public static ProbeWords Reads { get; } = new(["clamp"], (_, o) =>
            {
                o.Want(1, Residual.MostWires, "a wire, or the wires it goes round together");
                return o.Count == 1 ? new Clamp(o.Wire(0)) : Residual.Around([.. Enumerable.Range(0, o.Count).Select(o.Wire)]);
            });

        public override Dimension Dimension => Dimension.Ampere;
        public override bool IsEitherWay => true;
        public override double Minutes => 0.4;

        public override IEnumerable<string> Reaches(Circuit circuit) => [EndOf(circuit, circuit.FindWire(Wire)!).Tag];

        public override IEnumerable<Terminal> Exposes(Circuit circuit) => circuit.FindWire(Wire) is { } w ? [w.From, w.To] : [];

        public override Dial DialOn(Circuit circuit) =>
            circuit.FindWire(Wire) is { } w && Nets.Of(circuit).FunctionAt(w.From) == VoltsFunction.Ac
                ? new("CLAMP_AC", "clamp, AC amps", DialRange.Amps)
                : new("CLAMP_DC", "clamp, DC amps, set to zero first", DialRange.Amps);

        public override Order OrderOn(Circuit circuit)
        {
            if (circuit.FindWire(Wire) is not { } w)
                return base.OrderOn(circuit);
            var at = EndOf(circuit, w);
            return new("Clamp round", PointNames.Wire(w))
            {
                At = at.Tag,
                Near = $"near {at}, arrow {(at == w.To ? "towards it" : "away from it")}",
            };
        }

        public override MeterReading Read(IInstruments with) => with.Clamp(Wire);

        /// <summary>The end of a wire that is the easier to get to: there the clamp goes.</summary>
        public static Terminal EndOf(Circuit circuit, Wire w)
        {
            ArgumentNullException.ThrowIfNull(circuit);
            ArgumentNullException.ThrowIfNull(w);
            return circuit.FindPart(w.From.Tag)!.ReachMinutes <= circuit.FindPart(w.To.Tag)!.ReachMinutes ? w.From : w.To;
        }

        public override string ToString() => $"clamp {Wire}" + Watched;
    }
}
