using Zoltric.Core.Notation;
using Zoltric.Store;

namespace Zoltric.Web.Sheets;

/// <summary>A machine that a job can be started on.</summary>
/// <param name="Functions">Names of what it does, as its sheet has them.</param>
public sealed record MachineChoice(MachineRow Machine, IReadOnlyList<string> Functions);

/// <summary>Machines by words, with what each does, without reading a sheet twice.</summary>
public sealed class MachineChoices(MachineStore machines)
{
    /// <summary>So many are shown at once; the others are found by words. Estimate of what a list can hold and still be read.</summary>
    public const int Most = 60;

    /// <returns>At most <see cref="Most"/> machines by name, and how many hold the words.</returns>
    public async Task<(IReadOnlyList<MachineChoice> Shown, long Count)> Find(string? words)
    {
        var (found, count) = await machines.Search(words, Most);
        var choices = new List<MachineChoice>();
        foreach (var m in found)
            choices.Add(new MachineChoice(m, await FunctionsOf(m)));
        return (choices, count);
    }

    private async Task<IReadOnlyList<string>> FunctionsOf(MachineRow machine)
    {
        if (machine.Functions is { } known)
            return known.Split('\n', StringSplitOptions.RemoveEmptyEntries);
        if (await machines.Sheet(machine.SheetId) is not { } sheet || SheetReader.Read(sheet.Text) is not { Ok: true, Value: { } circuit })
            return [];
        List<string> names = [.. circuit.Functions.Select(f => f.Name)];
        await machines.KeepFunctions(machine.SheetId, string.Join('\n', names));
        return names;
    }
}
