using Zoltric.Core.Circuits;

namespace Zoltric.Core.Diagnosis.Planning;

/// <summary>Minutes that the next test takes on a job where these readings were taken, from the one cost table.</summary>
public sealed class JobMinutes(Circuit circuit, IEnumerable<Reading> readings)
{
    private readonly TestCosts _costs = new(circuit, readings);

    public double Minutes(Test test) => _costs.Minutes(test);
}
