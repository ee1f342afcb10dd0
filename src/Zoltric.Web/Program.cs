using Microsoft.AspNetCore.Http.Features;
using Prometheus;
using Zoltric.Core.Keeping;
using Zoltric.Store;
using Zoltric.Web;
using Zoltric.Web.Api;
using Zoltric.Web.Demo;
using Zoltric.Web.Forms;
using Zoltric.Web.Import;
using Zoltric.Web.Instruments;
using Zoltric.Web.Jobs;
using Zoltric.Web.Pages;
using Zoltric.Web.People;
using Zoltric.Web.Procedures;
using Zoltric.Web.Sheets;
using Zoltric.Web.Upkeep;

// A published folder has its pages beside the program, wherever it is started from.
var published = Directory.Exists(Path.Combine(AppContext.BaseDirectory, "wwwroot")) && !args.Contains("--contentRoot");
var builder = WebApplication.CreateBuilder(
    new WebApplicationOptions { Args = args, ContentRootPath = published ? AppContext.BaseDirectory : null }
);

// Static files stand beside the project when it is run without publishing.
builder.WebHost.UseStaticWebAssets();

var data = builder.Configuration["Zoltric:Data"] ?? Path.Combine(builder.Environment.ContentRootPath, "data", "zoltric.db");
var folder = Path.GetDirectoryName(Path.GetFullPath(data))!;
Directory.CreateDirectory(folder);
var database = new Database(data);

// A copy of the file alone would miss what still stands in its log.
if (Given("--backup") is { } copy)
{
    var problem = database.Backup(copy);
    await Console.Error.WriteLineAsync(problem ?? $"Kept in {copy}, and read through without an error.");
    return problem is null ? 0 : 1;
}
if (Given("--restore") is { } from)
{
    var beside = File.Exists(data) ? "; what was there lies beside it" : "";
    var problem = database.Restore(from, TimeProvider.System.GetUtcNow());
    await Console.Error.WriteLineAsync(problem ?? $"{from} stands in the place of the database{beside}.");
    return problem is null ? 0 : 1;
}
try
{
    database.Migrate();
}
catch (InvalidOperationException e)
{
    await Console.Error.WriteLineAsync(e.Message);
    return 1;
}

builder.Services.AddSingleton(TimeProvider.System);
builder.Services.AddSingleton(database);
builder.Services.AddSingleton<MachineStore>();
builder.Services.AddSingleton<ImportStore>();
builder.Services.AddSingleton<JobHistory>();
builder.Services.AddSingleton<JobStore>();
builder.Services.AddSingleton<FindingStore>();
builder.Services.AddSingleton<NoteStore>();
builder.Services.AddSingleton<ReportStore>();
builder.Services.AddScoped<PartialRenderer>();
builder.Services.AddSingleton<IntakeStore>();
builder.Services.AddSingleton<SafetyStore>();
builder.Services.AddSingleton<PartStore>();
builder.Services.AddSingleton<PlaceStore>();
builder.Services.AddSingleton<LearningStore>();
builder.Services.AddSingleton<ProcedureStore>();
builder.Services.AddSingleton<CaptureStore>();
builder.Services.AddSingleton<ExerciseStore>();
builder.Services.AddSingleton<PlanDesk>();
builder.Services.AddSingleton<JobArchive>();
builder.Services.AddSingleton<LogbookStore>();

// One budget for everything that is computed from sheets, in megabytes.
builder.Services.AddSingleton(
    new ComputedStore(
        builder.Configuration.GetValue<long?>("Zoltric:MemoryMegabytes") is { } megabytes and > 0
            ? megabytes << 20
            : ComputedStore.DefaultBytes
    )
);
builder.Services.AddSingleton<SheetLibrary>();
builder.Services.AddSingleton<MachineChoices>();
builder.Services.AddHostedService<FirstReading>();
builder.Services.AddSingleton<WorkAhead>();
builder.Services.AddHostedService(s => s.GetRequiredService<WorkAhead>());
builder.Services.AddSingleton<MetersInUse>();
builder.Services.AddSingleton<MeterSessions>();
builder.Services.AddSingleton<WatchSessions>();
builder.Services.AddSingleton<SimulatedBench>();
builder.Services.AddScoped<JobDesk>();
builder.Services.AddSingleton<Learning>();
builder.Services.AddHostedService<LearningCount>();
builder.Services.AddScoped<DemoWorks>();
builder.Services.AddSingleton<SubmissionStore>();
builder
    .Services.AddRazorPages()
    .AddMvcOptions(o =>
    {
        o.Filters.Add<KnownHandlerFilter>();
        o.Filters.Add<OnceFilter>();
    });
builder.AddHeavyWork();
builder.AddOperations(folder);
builder.AddOwnTls(folder);
builder.AddWorkshop(folder);
builder.Services.AddProblemDetails(o => o.CustomizeProblemDetails = Governor.SayTooMuch);
builder.Services.AddOpenApi("v1");
builder.Services.Configure<FormOptions>(o =>
    (o.ValueLengthLimit, o.MultipartBodyLengthLimit) = (8 * 1024 * 1024, JobFileReader.MostBytes + 1024 * 1024)
);
builder.WebHost.ConfigureKestrel(o => o.Limits.MaxRequestBodySize = JobFileReader.MostBytes + 1024 * 1024);

var app = builder.Build();
app.UseErrorPages();
app.Use(
    async (context, next) =>
    {
        // What was uploaded is never taken for anything but what it says it is; no script runs but ours, and no other site frames us.
        context.Response.Headers.XContentTypeOptions = "nosniff";
        context.Response.Headers.ContentSecurityPolicy = Perimeter.ContentPolicy;
        context.Response.Headers["Referrer-Policy"] = "same-origin";
        await next();
    }
);
app.UsePerimeter();
app.UseStaticFiles();
app.UseRouting();
app.UseRateLimiter();
app.UseHttpMetrics();
app.UseOwnTls();
app.UseWorkshop();
app.UseGovernor();
app.MapRazorPages();
app.MapOpenApi("/openapi/{documentName}.json");
app.MapGet("/healthz", () => Results.Text("ok")).ExcludeFromDescription();
app.MapGet("/readyz", () => database.WhyNotReady() is { } why ? Results.Text(why, statusCode: 503) : Results.Text("ready"))
    .ExcludeFromDescription();
app.MapCircuitApi();
app.MapSheetFiles();
app.MapJobFiles();
app.MapJobLive();
app.MapMeterLive();
app.MapBackupFiles();
app.MapTrust();
app.MapMetricFigures();

if (builder.Configuration["Zoltric:Demo"] is { Length: > 0 } demo)
{
    using var scope = app.Services.CreateScope();
    await scope.ServiceProvider.GetRequiredService<DemoWorks>().Load(demo);
}

await app.Services.GetRequiredService<LogbookStore>().IndexMissing();
await app.Services.GetRequiredService<SubmissionStore>().Forget();
app.SayPairing();
await app.RunAsync();
return 0;

// What follows an option on the command line; null where it is not there.
string? Given(string option) => args.SkipWhile(a => a != option).Skip(1).FirstOrDefault();
