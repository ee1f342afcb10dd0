namespace Zoltric.Core.Circuits;

public abstract partial record Probe
{
    /// <summary>Series amps where the part was pulled, or the part's own current for a source in a function.</summary>
    /// <param name="At">The lifted terminal in whose gap they are read; null for a pulled part or a source.</param>
    public sealed record Amps(string Tag, Terminal? At = null) : Probe
    {
        public static ProbeWords Reads { get; } = new(["A"], (_, o) =>
            {
                o.Want(1, 1, "a pulled part, a source or a lifted terminal");
                return o.IsPoint(0) ? new Amps(o.Point(0).Tag, o.Point(0).Bare) : new Amps(o.Tag());
            });

        public override Dimension Dimension => Dimension.Ampere;
        public override bool IsEitherWay => true;
        public override bool Loads => true;

        public override IEnumerable<Terminal> Exposes(Circuit circuit) =>
            circuit.FindPart(Tag) is { } p ? p.Model.Terminals.Select(t => Connectivity.At(p, t)) : [];

        public override Dial DialOn(Circuit circuit) =>
            circuit.FindPart(Tag) is { } p && Nets.Of(circuit).FunctionAt(Connectivity.At(p, p.Model.Terminals[0])) == VoltsFunction.Ac
                ? new("SERIES_AC", "AC amps, leads in the amps sockets", DialRange.SeriesAmps)
                : new("SERIES_DC", "DC amps, leads in the amps sockets", DialRange.SeriesAmps);

        public override MeterReading Read(IInstruments with) => with.Amps(Tag);

        public override MeterReading Read(ILoadingInstruments with) => At is { } at ? with.GapAmps(at) : with.Amps(Tag);

        public override string ToString() => $"A {(At is { } t ? t.ToString() : Tag)}" + Watched;
    }
}
