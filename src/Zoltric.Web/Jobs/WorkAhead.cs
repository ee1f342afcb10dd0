using System.Diagnostics.CodeAnalysis;
using Prometheus;
using Zoltric.Core.Solving;
using Zoltric.Store;
using Zoltric.Web.Wording;

namespace Zoltric.Web.Jobs;

/// <summary>
/// Weighs what each answer to an order would lead to while its technician is still measuring, so that the answer finds it done. It works
/// while no page is asked for, one answer at a time, of the job shown last first; it stands still while a page is answered and goes on
/// where it was, but lets go of a job that is shown anew. After a start the jobs in hand are weighed.
/// Nothing is kept of it but what was computed.
/// </summary>
/// <remarks><c>Zoltric:Ahead=false</c> turns it off.</remarks>
[SuppressMessage("Usage", "CA2213", Justification = "The source of cancellation is replaced, and ends with the process.")]
public sealed partial class WorkAhead(IServiceScopeFactory scopes, IConfiguration configuration, ILogger<WorkAhead> log) : BackgroundService
{
    /// <summary>Jobs that wait at most, and jobs that are weighed after a start: more than people who measure at once.</summary>
    private const int MostWaiting = 64,
        MostAfterStart = 16;

    /// <summary>A job is given up after it was let go this often.</summary>
    private const int MostBegun = 8;

    /// <summary>How long no page may have been asked for before it begins a job; pages come in groups.</summary>
    private static readonly TimeSpan Quiet = TimeSpan.FromMilliseconds(150);

    /// <param name="Begun">How often it was let go.</param>
    /// <param name="Weighed">Answers that are weighed already.</param>
    private sealed record Work(long Job, string Who, int Begun, int Weighed = 0);

    private static readonly Gauge Done = Metrics.CreateGauge("zoltric_worked_ahead", "Answers weighed before they were given.");

    private readonly bool _on = configuration.GetValue("Zoltric:Ahead", true);
    private readonly Lock _gate = new();

    /// <summary>Shown last, last.</summary>
    private readonly List<Work> _waiting = [];
    private readonly SemaphoreSlim _more = new(0);
    private CancellationTokenSource _letGo = new();
    private long _job;
    private int _asking;
    private volatile bool _weighing;

    /// <summary>A page is being answered.</summary>
    public bool IsAsked => Volatile.Read(ref _asking) > 0;

    /// <summary>What a technician will answer is being weighed; nobody waits for it yet.</summary>
    public bool IsWeighing => _weighing;

    /// <summary>Either of the two.</summary>
    public bool InHand => IsWeighing || IsAsked;

    /// <summary>A job is shown to somebody, who will answer its order.</summary>
    public void Soon(long job, string who)
    {
        if (!_on)
            return;
        lock (_gate)
            if (_job == job)
                _letGo.Cancel();
        Add(new Work(job, who, 0));
    }

    /// <summary>A page is asked for until what is given back is disposed of; what is worked ahead waits.</summary>
    public Asking Asked()
    {
        Interlocked.Increment(ref _asking);
        return new Asking(this);
    }

    /// <summary>A page that is being answered.</summary>
    public sealed class Asking : IDisposable
    {
        private readonly WorkAhead _ahead;
        private int _done;

        internal Asking(WorkAhead ahead) => _ahead = ahead;

        /// <summary>Answered, or waiting for something outside: an instrument, a bus.</summary>
        public void Dispose()
        {
            if (Interlocked.Exchange(ref _done, 1) == 0)
                Interlocked.Decrement(ref _ahead._asking);
        }
    }

    private void Add(Work work)
    {
        lock (_gate)
        {
            _waiting.RemoveAll(w => w.Job == work.Job);
            // What was let go stands behind what was shown since.
            _waiting.Insert(work.Begun + work.Weighed > 0 ? 0 : _waiting.Count, work);
            if (_waiting.Count > MostWaiting)
                _waiting.RemoveAt(0);
        }
        _more.Release();
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken)
    {
        // Shown from the start, as none.
        Done.Set(0);
        return _on ? Task.Run(() => Run(stoppingToken), stoppingToken) : Task.CompletedTask;
    }

    private async Task Run(CancellationToken stopping)
    {
        try
        {
            using var scope = scopes.CreateScope();
            foreach (var job in (await scope.ServiceProvider.GetRequiredService<JobStore>().Opened()).Take(MostAfterStart).Reverse())
                Add(new Work(job.Id, job.Holder, 0));
        }
        catch (System.Data.Common.DbException e)
        {
            NotWeighed(log, 0, e);
        }
        while (!stopping.IsCancellationRequested)
        {
            await _more.WaitAsync(stopping);
            var (work, letGo) = await Next(stopping);
            if (work is null)
                continue;
            using var either = CancellationTokenSource.CreateLinkedTokenSource(stopping, letGo);
            try
            {
                _weighing = true;
                await Weigh(work, either.Token);
            }
            catch (OperationCanceledException) when (!stopping.IsCancellationRequested)
            {
                if (work.Begun < MostBegun)
                    Again(work with { Begun = work.Begun + 1 });
            }
            catch (TooMuchWorkException)
            {
                // Who answers is told; ahead there is nobody to tell.
            }
            catch (Exception e) when (e is not (OperationCanceledException or OutOfMemoryException))
            {
                // Whatever it is, the answer itself meets it too, and says so there; the server goes on.
                NotWeighed(log, work.Job, e);
            }
            finally
            {
                _weighing = false;
                lock (_gate)
                    _job = 0;
            }
        }
    }

    private bool OthersWait
    {
        get
        {
            lock (_gate)
                return _waiting.Count > 0;
        }
    }

    /// <summary>Unless the job was shown again meanwhile.</summary>
    private void Again(Work work)
    {
        lock (_gate)
            if (_waiting.Exists(w => w.Job == work.Job))
                return;
        Add(work);
    }

    /// <summary>The job to weigh, once no page is asked for; nothing where it has been taken already.</summary>
    private async Task<(Work? Work, CancellationToken LetGo)> Next(CancellationToken stopping)
    {
        while (IsAsked)
            await Task.Delay(Quiet, stopping);
        lock (_gate)
        {
            if (_waiting.Count == 0)
                return (null, default);
            var work = _waiting[^1];
            _waiting.RemoveAt(_waiting.Count - 1);
            (_letGo, _job) = (new CancellationTokenSource(), work.Job);
            return (work, _letGo.Token);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Answers of job {Job} were not weighed ahead.")]
    private static partial void NotWeighed(ILogger log, long job, Exception why);

    private async Task Weigh(Work work, CancellationToken letGo)
    {
        WorkBudget.Begin(
            cores: Math.Max(1, Environment.ProcessorCount - 1),
            turn: new StandingBack(() => IsAsked, TimeSpan.MaxValue, letGo).Wait,
            gone: letGo
        );
        using var scope = scopes.CreateScope();
        var view = await scope.ServiceProvider.GetRequiredService<JobDesk>().Load(work.Job);
        if (view?.Next is not { } next || view.Closed)
            return;
        foreach (var (weighed, line) in QuickAnswers.Lines(view.Circuit, next).Index().Skip(work.Weighed))
        {
            letGo.ThrowIfCancellationRequested();
            if (weighed > work.Weighed && OthersWait)
            {
                Again(work with { Weighed = weighed });
                return;
            }
            if (JobDesk.Imagine(view, line, work.Who, said: true) is not { } after)
                continue;
            after.Sheet.Lanes(after.Findings);
            Done.Inc();
        }
    }
}
