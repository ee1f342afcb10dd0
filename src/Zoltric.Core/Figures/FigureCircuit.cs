using Zoltric.Core.Circuits;
using Zoltric.Core.Metering;
using Zoltric.Core.Notation;
using Zoltric.Core.Solving;

namespace Zoltric.Core.Figures;

/// <summary>A small circuit behind a bench, read with the meter of the core.</summary>
internal sealed class FigureCircuit
{
    public Machine Machine { get; }

    /// <summary>What was written, to be drawn.</summary>
    public string Sheet { get; }

    /// <exception cref="FigureException">When the values make no circuit.</exception>
    public FigureCircuit(string sheet)
    {
        var read = SheetReader.Read(sheet);
        if (read.Value is not { } circuit)
            throw new FigureException(read.Problems[0].Message);
        (Sheet, Machine) = (sheet, new Machine(circuit));
    }

    /// <param name="steps">What comes after the sources are off.</param>
    /// <returns>A setup as text: every source off, and what else is done.</returns>
    public static string Dead(Circuit circuit, params string[] steps) =>
        string.Join(", ", circuit.SourcesOff.Select(i => $"{i}").Concat(steps));

    /// <param name="line">A reading line without result.</param>
    /// <param name="faults">What is wrong, in fault words.</param>
    public MeterReading Read(string line, params string[] faults) => Read(Machine, line, faults);

    /// <inheritdoc cref="Read(string, string[])"/>
    public static MeterReading Read(Machine machine, string line, params string[] faults)
    {
        ArgumentNullException.ThrowIfNull(machine);
        var test = ReadingReader.Read(machine.Circuit, line).Value!.Test;
        var wrong = faults.SelectMany(f => FaultReader.Read(machine.Circuit, f).Value!).ToList();
        return Meter.Read(machine, test, wrong);
    }

    /// <summary>What an ohms reading is in figures: no end of them over limit.</summary>
    public static double Ohms(MeterReading shown) =>
        shown.Value ?? (shown.Answer == Answer.OverLimit ? double.PositiveInfinity : double.NaN);
}
