using Zoltric.Instruments.Links;

namespace Zoltric.Web.Instruments;

/// <summary>Which meters are read just now, and by whom: one reader each. Safe to use from several threads.</summary>
public sealed class MetersInUse
{
    private readonly Lock _gate = new();
    private readonly Dictionary<string, (object Reader, string Who)> _taken = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Takes one for a reader. Why it cannot be had, or null.</summary>
    public string? Take(string address, object reader, string who)
    {
        lock (_gate)
        {
            if (_taken.TryGetValue(address, out var other) && other.Reader != reader)
                return other.Who == who
                    ? $"You read by the meter at {address} on another screen. Stop that first."
                    : $"{other.Who} reads by the meter at {address} just now.";
            _taken[address] = (reader, who);
            return null;
        }
    }

    /// <summary>Takes all of them or none. Why they cannot be had, or null.</summary>
    public string? TakeAll(IEnumerable<InstrumentAddress?> addresses, object reader, string who)
    {
        foreach (var one in addresses.OfType<InstrumentAddress>())
            if (Take(one.ToString()!, reader, who) is { } taken)
            {
                Leave(reader);
                return taken;
            }
        return null;
    }

    /// <summary>Gives back all that a reader had.</summary>
    public void Leave(object reader)
    {
        lock (_gate)
            foreach (var address in _taken.Where(t => t.Value.Reader == reader).Select(t => t.Key).ToList())
                _taken.Remove(address);
    }
}
