using Zoltric.Bench;
using Zoltric.Bench.Stranger;

switch (args)
{
    case ["league", .. var sheets]:
        League.Run(sheets);
        break;
    case ["stranger", .. var sheets]:
        StrangersLeague.Run(sheets);
        break;
    case ["plans", .. var sheets]:
        Plans.Run(sheets);
        break;
    case ["optimum", .. var sheets]:
        AgainstOptimum.Run(sheets);
        break;
    case ["advice", .. var sheets]:
        AdviceSpeed.Run(sheets);
        break;
    case ["large", .. var parts]:
        AdviceSpeed.Large([.. parts.Select(int.Parse)]);
        break;
    case ["solver", .. var parts]:
        SolverSpeed.Run([.. parts.Select(int.Parse)]);
        break;
    case ["pace", "solver", var parts]:
        Pace.Solver(int.Parse(parts));
        break;
    case ["pace", "advice", var sheet]:
        Pace.Advice(sheet);
        break;
    case ["compare", var before, var after, var rounds, .. var work]:
        Compare.Run(before, after, int.Parse(rounds), work);
        break;
    case ["snapshot", var scenario]:
        AdviceSnapshot.Run(scenario);
        break;
    case ["load", var address, .. var counts]:
        await LoadDriver.Run(new Uri(address), counts);
        break;
    case ["closed", var folder]:
        ClosedJobs.Run(folder);
        break;
    default:
        Console.WriteLine(
            """
            usage: dotnet run -c Release --project bench/Zoltric.Bench -- COMMAND
              league|stranger|optimum|advice|plans SHEET…
              solver|large [60 300 1200]
              load http://127.0.0.1:5210 [technicians=1,10,25,50] [pause=45] [seconds=180] [hostile]   of a server with the demo
              closed scenario/sheets > scenario/closed.json
              snapshot scenario > before.txt
              pace solver 300|pace advice SHEET
              compare BEFORE.dll AFTER.dll 15 COMMAND…
            """
        );
        return 2;
}

// For the comparison of two builds, which cannot ask a process that has ended.
if (Environment.GetEnvironmentVariable("ZOLTRIC_CPU") is not null)
    Console.Error.WriteLine(
        (Pace.Seconds ?? Environment.CpuUsage.TotalTime.TotalSeconds).ToString(System.Globalization.CultureInfo.InvariantCulture)
    );
return 0;
