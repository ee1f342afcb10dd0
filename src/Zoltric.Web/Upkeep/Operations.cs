using System.Globalization;
using Prometheus;
using Serilog;
using Zoltric.Core.Keeping;
using Zoltric.Store;

namespace Zoltric.Web.Upkeep;

/// <summary>What keeps the server well for years: logs that do not grow, backups, metrics, and a quick stop.</summary>
public static class Operations
{
    /// <summary>A log file a day, at most so many bytes each and so many of them.</summary>
    private const long MostLogBytes = 16L << 20;
    private const int MostLogs = 14;
    private const int UsualBackups = 14;

    /// <summary>How long what is under way may still take once the server is told to stop; it is gone within five seconds.</summary>
    private static readonly TimeSpan StopWithin = TimeSpan.FromSeconds(3);

    public static void AddOperations(this WebApplicationBuilder builder, string dataFolder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        // What is asked of it stands in the metrics, not in the log.
        builder.Logging.AddFilter("Microsoft.AspNetCore", LogLevel.Warning);
        builder.Services.Configure<HostOptions>(o => o.ShutdownTimeout = StopWithin);
        builder.Services.AddSingleton(p => new Backups(
            p.GetRequiredService<Database>(),
            p.GetRequiredService<TimeProvider>(),
            builder.Configuration["Zoltric:Backups"] ?? Path.Combine(dataFolder, "backups"),
            builder.Configuration.GetValue<int?>("Zoltric:KeepBackups") is { } keep and > 0 ? keep : UsualBackups
        ));
        builder.Services.AddHostedService<BackupSchedule>();
        if (builder.Configuration["Zoltric:Logs"] is { Length: > 0 } logs)
            builder.Services.AddSerilog(c =>
                c.MinimumLevel.Information()
                    .MinimumLevel.Override("Microsoft.AspNetCore", Serilog.Events.LogEventLevel.Warning)
                    .WriteTo.Console(formatProvider: CultureInfo.InvariantCulture)
                    .WriteTo.File(
                        Path.Combine(logs, "zoltric-.log"),
                        formatProvider: CultureInfo.InvariantCulture,
                        rollingInterval: RollingInterval.Day,
                        fileSizeLimitBytes: MostLogBytes,
                        rollOnFileSizeLimit: true,
                        retainedFileCountLimit: MostLogs
                    )
            );
    }

    /// <summary>
    /// Figures for a monitoring program at <c>/metrics</c>, in the text form of Prometheus: requests by page and answer, and the state of
    /// the store. In a workshop a program shows its token, as for the rest of the interface.
    /// </summary>
    public static void MapMetricFigures(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        var (database, backups, clock) = (
            app.Services.GetRequiredService<Database>(),
            app.Services.GetRequiredService<Backups>(),
            app.Services.GetRequiredService<TimeProvider>()
        );
        var bytes = Metrics.CreateGauge("zoltric_store_bytes", "Size of the database and its log.");
        var computed = Metrics.CreateGauge("zoltric_computed_bytes", "What is kept of what was computed from sheets.");
        var store = app.Services.GetRequiredService<ComputedStore>();
        var free = Metrics.CreateGauge("zoltric_disk_free_bytes", "Left on the disk of the database.");
        var ready = Metrics.CreateGauge("zoltric_ready", "1 where a reading could be kept.");
        var age = Metrics.CreateGauge("zoltric_backup_age_seconds", "Since the last backup; -1 where there is none.");
        Metrics.DefaultRegistry.AddBeforeCollectCallback(() =>
        {
            bytes.Set(database.Bytes);
            computed.Set(store.HeldBytes);
            free.Set(database.FreeBytes);
            ready.Set(database.WhyNotReady() is null ? 1 : 0);
            age.Set(backups.All() is [var last, ..] ? (clock.GetUtcNow() - last.At).TotalSeconds : -1);
        });
        app.MapMetrics("/metrics");
    }

    /// <summary>A backup as a file, for whoever looks after the server.</summary>
    public static void MapBackupFiles(this WebApplication app)
    {
        ArgumentNullException.ThrowIfNull(app);
        app.MapGet("/upkeep/backups/{name}", (string name, Backups backups) =>
                backups.Find(name) is { } path ? Results.File(path, "application/vnd.sqlite3", name) : Results.NotFound()
            )
            .ExcludeFromDescription();
    }
}
