using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.RegularExpressions;

namespace Zoltric.Web.Tests;

/// <summary>The built server as ./demo starts it: a process of its own, in production, on a free port with a database of its own.</summary>
public sealed partial class ServerProcess : IDisposable
{
    private readonly string _data;
    private readonly int _port;
    private Process? _process;

    private readonly bool _demo;
    private readonly string? _frail;
    private readonly string[] _more;

    public ServerProcess()
        : this(true) { }

    /// <summary>A server with an empty database.</summary>
    public static ServerProcess Empty() => new(false);

    /// <summary>An empty one with options of its own.</summary>
    public static ServerProcess With(params string[] options) => new(false, more: options);

    /// <summary>The demo, with options.</summary>
    public static ServerProcess DemoWith(params string[] options) => new(true, more: options);

    /// <summary>A server on a copy of that database.</summary>
    public static ServerProcess On(string database) => new(false, database);

    /// <summary>One in workshop mode; with no screen of its own every client is a phone.</summary>
    public static ServerProcess Workshop(bool ownScreen) =>
        new(true, more: ["--Zoltric:Workshop", "true", "--Zoltric:OwnScreen", ownScreen ? "true" : "false"]);

    /// <summary>The demo with a certificate of its own authority, on an https port beside.</summary>
    public static ServerProcess Secure(params string[] more) =>
        new(true, more: ["--Zoltric:Tls", "true", "--Zoltric:Hosts", "van-laptop.local", .. more]);

    /// <summary>The demo on a disk that loses what was not flushed when <see cref="CutPower"/> says so.</summary>
    public static ServerProcess OnAFrailDisk() => new(true, frail: FrailDisk.Build());

    private ServerProcess(bool demo, string? database = null, string? frail = null, params string[] more)
    {
        (_demo, _frail, _more) = (demo, frail, more);
        _data = Path.Combine(Directory.CreateTempSubdirectory("zoltric-test").FullName, "zoltric.db");
        if (database is not null)
            File.Copy(database, _data);
        _port = FreePort();
        if (_more.Contains("--Zoltric:Tls"))
            SecurePort = FreePort();
        Start();
    }

    private static int _lastPort = 20_000 + Environment.ProcessId % 8_000;

    /// <summary>
    /// A port nobody listens on, each given once, below those the system hands out to callers (32768 on by default):
    /// one of theirs can be taken by a browser's connection before the server that is to listen there has begun.
    /// </summary>
    private static int FreePort()
    {
        while (true)
        {
            var port = Interlocked.Increment(ref _lastPort);
            using var listener = new TcpListener(IPAddress.Loopback, port);
            try
            {
                listener.Start();
                return port;
            }
            catch (SocketException) { }
        }
    }

    /// <summary>Where it speaks https; 0 where it does not.</summary>
    public int SecurePort { get; }

    /// <summary>What the process holds in memory.</summary>
    public long Megabytes
    {
        get
        {
            _process!.Refresh();
            return _process.WorkingSet64 >> 20;
        }
    }

    /// <summary>Path of its database.</summary>
    public string Data => _data;

    public string Address => $"http://127.0.0.1:{_port}";
    public HttpClient Client => field ??= new HttpClient { BaseAddress = new Uri(Address), Timeout = TimeSpan.FromMinutes(2) };

    public void Start()
    {
        var info = new ProcessStartInfo(
            "dotnet",
            [
                Path.Combine(AppContext.BaseDirectory, "Zoltric.Web.dll"),
                "--contentRoot",
                Path.Combine(Root, "src", "Zoltric.Web"),
                "--urls",
                SecurePort > 0 ? $"{Address};https://127.0.0.1:{SecurePort}" : Address,
                "--Zoltric:Data",
                _data,
                "--Zoltric:Demo",
                _demo ? Path.Combine(Root, "scenario") : "",
                // Off but where it is looked at: many servers share few cores here.
                "--Zoltric:Ahead",
                "false",
                "--Logging:LogLevel:Default",
                "Warning",
                .. _more,
            ]
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        if (_frail is { } shim)
        {
            info.Environment["LD_PRELOAD"] = shim;
            info.Environment["POWERCUT_FILE"] = _data;
        }
        _process = Process.Start(info) ?? throw new InvalidOperationException("dotnet did not start");
        _process.OutputDataReceived += (_, e) =>
        {
            lock (_said)
                _said.Add(e.Data ?? "");
        };
        _process.ErrorDataReceived += (_, e) =>
        {
            lock (_said)
                _said.Add(e.Data ?? "");
        };
        _process.BeginOutputReadLine();
        _process.BeginErrorReadLine();
        for (var i = 0; i < 300; i++)
        {
            if (_process.HasExited)
                throw new InvalidOperationException("The server stopped: " + string.Join('\n', _said));
            try
            {
                if (Client.GetAsync("/healthz").Result.IsSuccessStatusCode)
                    return;
            }
            catch (AggregateException) { }
            Thread.Sleep(200);
        }
        throw new TimeoutException("The server does not answer.");
    }

    private readonly List<string> _said = [];

    /// <summary>The code that a workshop's server says at its start.</summary>
    public string PairingCode => Said.Split("by the code ")[1].Split('\n')[0].Trim();

    public string Said
    {
        get
        {
            lock (_said)
                return string.Join('\n', _said);
        }
    }

    /// <summary>Runs the program with a command of its own; its exit code.</summary>
    public static int Command(params string[] args)
    {
        using var p = Process.Start(
            new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "Zoltric.Web.dll"), .. args])
            {
                RedirectStandardError = true,
                RedirectStandardOutput = true,
            }
        )!;
        p.WaitForExit(60_000).ShouldBeTrue();
        return p.ExitCode;
    }

    /// <summary>As a pulled plug would: no warning, no clean-up.</summary>
    public void Kill()
    {
        _process!.Kill();
        _process.WaitForExit();
    }

    /// <summary>As a pulled plug of the whole PC would: of each file stands what was flushed, or by chance what was written too.</summary>
    public void CutPower(Random chance)
    {
        Kill();
        FrailDisk.Lose(_data, chance);
    }

    /// <summary>As a service manager does it; the exit code.</summary>
    public int Stop()
    {
        using var kill = Process.Start("kill", ["-TERM", _process!.Id.ToString(System.Globalization.CultureInfo.InvariantCulture)]);
        _process.WaitForExit(60_000).ShouldBeTrue("it does not stop");
        return _process.ExitCode;
    }

    public static string Root { get; } = FindRoot();

    private static string FindRoot()
    {
        var at = new DirectoryInfo(AppContext.BaseDirectory);
        while (at is not null && !File.Exists(Path.Combine(at.FullName, "Zoltric.slnx")))
            at = at.Parent;
        return at?.FullName ?? throw new DirectoryNotFoundException("The checkout with Zoltric.slnx is not above the test folder.");
    }

    public void Dispose()
    {
        if (_process is { HasExited: false })
            Kill();
        _process?.Dispose();
        Client.Dispose();
        Directory.Delete(Path.GetDirectoryName(_data)!, true);
    }

    /// <summary>What a page gives its forms against forgery.</summary>
    public static string FormToken(string page) => Forgery().Match(page).Groups[1].Value;

    [GeneratedRegex("__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Forgery();
}
