using Zoltric.Core.Circuits;

namespace Zoltric.Core.Solving;

/// <summary>How a source or diode behaves next, by the volts and amps it was just found to have.</summary>
internal static class Modes
{
    /// <param name="gives">A, out of its first end.</param>
    /// <param name="across">V.</param>
    /// <param name="emf">Volts behind it.</param>
    /// <param name="limit">A.</param>
    public static SourceMode Next(Link.Source source, SourceMode mode, double gives, double across, double emf, double limit) =>
        mode switch
        {
            SourceMode.Giving when gives > limit * (1 + 1e-9) => SourceMode.Limited,
            SourceMode.Giving when gives < -1e-7 && source.TakingOhms != source.Ohms => SourceMode.Taking,
            SourceMode.Taking when across < emf - 1e-9 => SourceMode.Giving,
            SourceMode.Limited when across > emf - limit * source.Ohms => SourceMode.Giving,
            _ => mode,
        };

    /// <summary>
    /// Three straight lines: blocked, its foot from nothing to the forward volts, and above. Each line ends where the next begins.
    /// </summary>
    public static SourceMode Next(Link.Diode diode, SourceMode mode, double amps, double across) =>
        mode switch
        {
            SourceMode.Conducting => amps < diode.Volts / Defaults.DiodeFootOhms - 1e-12 ? SourceMode.Foot : mode,
            SourceMode.Foot => across > diode.Volts + 1e-9 ? SourceMode.Conducting
            : across < -1e-9 ? SourceMode.Giving
            : mode,
            _ => across > 1e-9 ? SourceMode.Foot : mode,
        };
}
