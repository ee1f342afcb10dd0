using Zoltric.Core.Circuits;

namespace Zoltric.Core.Safety;

/// <summary>
/// Something done or read that safety hangs on, in the order it happened. <see cref="Who"/> is empty where nobody is named.
/// </summary>
public abstract record SafetyEvent(string Who)
{
    /// <summary>A reading line of the job.</summary>
    public sealed record Line(Reading Reading, string Who) : SafetyEvent(Who);

    /// <summary>A person's own lock put on, or all of them taken off.</summary>
    public sealed record Locked(string Number, string Who) : SafetyEvent(Who)
    {
        /// <summary>Key of the supply that it holds off; empty where it holds all of them.</summary>
        public string Supply { get; init; } = "";
    }

    public sealed record Unlocked(string Number, string Who) : SafetyEvent(Who);

    /// <summary>The tester shown on a source that is known to be live.</summary>
    public sealed record TesterShownLive(string Where, string Who) : SafetyEvent(Who);

    /// <summary>Volts read for a check of the sweep, by its key.</summary>
    public sealed record SweepRead(string Key, double Volts, string Who) : SafetyEvent(Who);

    /// <summary>The machine was worked, or a remark says that energy is back.</summary>
    public sealed record Energised(string Why, string Who) : SafetyEvent(Who);
}
