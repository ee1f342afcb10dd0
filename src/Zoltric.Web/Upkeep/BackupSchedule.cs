using Zoltric.Store;

namespace Zoltric.Web.Upkeep;

/// <summary>Keeps a copy of the store every so many hours, counted from the last one, whoever made it.</summary>
public sealed partial class BackupSchedule(Backups backups, TimeProvider clock, IConfiguration configuration, ILogger<BackupSchedule> log)
    : BackgroundService
{
    /// <summary>How often it is asked whether one is due, from the start on.</summary>
    private static readonly TimeSpan Asked = TimeSpan.FromMinutes(10);

    public const double UsualHours = 24;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (configuration.GetValue<double?>("Zoltric:BackupHours") is not { } hours)
            hours = UsualHours;
        if (hours <= 0)
            return;
        using var timer = new PeriodicTimer(hours * 60 < Asked.TotalMinutes ? TimeSpan.FromHours(hours) : Asked, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
            if (backups.All() is not [var last, ..] || clock.GetUtcNow() - last.At >= TimeSpan.FromHours(hours))
                if (await Task.Run(backups.Make, stoppingToken) is { } problem)
                    Failed(log, problem);
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "No backup was made: {Problem}")]
    private static partial void Failed(ILogger log, string problem);
}
