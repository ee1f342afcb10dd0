using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>A small circuit behind a bench, read with the meter of the core.</summary>
internal sealed class FigureCircuit
{
    private readonly Machine _machine;

    /// <exception cref="FigureException">When the values make no circuit.</exception>
    public FigureCircuit(string sheet)
    {
        var read = SheetReader.Read(sheet);
        if (read.Value is not { } circuit)
            throw new FigureException(read.Problems[0].Message);
        _machine = new Machine(circuit);
    }

    /// <param name="line">A reading line without result.</param>
    /// <param name="faults">What is wrong, in fault words.</param>
    public MeterReading Read(string line, params string[] faults)
    {
        var test = ReadingReader.Read(_machine.Circuit, line).Value!.Test;
        var wrong = faults.SelectMany(f => FaultReader.Read(_machine.Circuit, f).Value!).ToList();
        return Meter.Read(_machine, test, wrong);
    }

    /// <summary>What an ohms reading is in figures: no end of them over limit.</summary>
    public static double Ohms(MeterReading shown) =>
        shown.Value ?? (shown.Answer == Answer.OverLimit ? double.PositiveInfinity : double.NaN);
}
