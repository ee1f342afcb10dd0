using Zoltric.Bench;

switch (args)
{
    case ["league", .. var sheets]: League.Run(sheets); break;
    case ["advice", .. var sheets]: AdviceSpeed.Run(sheets); break;
    default:
        Console.WriteLine("usage: dotnet run -c Release --project bench/Zoltric.Bench -- league|advice SHEET…");
        return 2;
}
return 0;
