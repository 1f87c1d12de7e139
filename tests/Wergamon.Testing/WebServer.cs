using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;

namespace Wergamon.Testing;

/// <summary>The real server as its own process, on a free port and a given data folder.</summary>
public sealed class WebServer : IDisposable
{
    private static readonly TimeSpan StartLimit = TimeSpan.FromMinutes(3);

    private readonly Process _process;
    private bool _isEnded;

    /// <param name="dataFolder">Kept when the server ends, so that another can continue from it.</param>
    /// <param name="musicFolder">The first music folder.</param>
    /// <param name="allowed">Allowed parents of music and output folders.</param>
    /// <param name="speedup">Speed factor of the simulated drives against real ones.</param>
    /// <param name="rack">The folder of the simulated discs; those of the demo when omitted.</param>
    public WebServer(string dataFolder, string musicFolder, string allowed, double speedup = 6, string? rack = null)
    {
        int port = FreePort();
        Address = new Uri($"http://127.0.0.1:{port}/");
        _process = Process.Start(new ProcessStartInfo("dotnet",
        [
            Repository.Built("Wergamon.Web"), "--port", port.ToString(CultureInfo.InvariantCulture), "--data", dataFolder, "--music",
            musicFolder, "--allow", musicFolder, "--allow", allowed,
            "--rack", rack ?? DemoRack, "--drive-speed", speedup.ToString(CultureInfo.InvariantCulture),
        ])
        { RedirectStandardOutput = true }) ?? throw new InvalidOperationException("The server could not be started.");
        using var limit = new CancellationTokenSource(StartLimit);
        while (_process.StandardOutput.ReadLineAsync(limit.Token).AsTask().GetAwaiter().GetResult() is { } line)
        {
            if (line.StartsWith("Wergamon is at", StringComparison.Ordinal))
                return;
        }

        throw new InvalidOperationException("The server ended before it answered.");
    }

    public Uri Address { get; }

    /// <summary>The server's current workers.</summary>
    public IReadOnlyList<Process> Workers() =>
    [
        .. Directory.GetDirectories("/proc")
            .Select(Path.GetFileName)
            .Where(name => int.TryParse(name, out int id) && ParentOf(id) == _process.Id)
            .Select(name => Process.GetProcessById(int.Parse(name!, CultureInfo.InvariantCulture))),
    ];

    /// <summary>Resident memory of the process.</summary>
    public long ResidentBytes
    {
        get
        {
            _process.Refresh();
            return _process.WorkingSet64;
        }
    }

    /// <summary>The demo music that the test command makes.</summary>
    public static string DemoMusic { get; } = Path.Combine(Repository.Root, "artifacts", "demo-music");

    /// <summary>The disc rack that the test command makes.</summary>
    public static string DemoRack { get; } = Path.Combine(Repository.Root, "artifacts", "demo-rack");

    /// <summary>Kills the server as a power cut would: SIGKILL, no cleanup.</summary>
    public void KillHard()
    {
        _process.Kill();
        _process.WaitForExit();
    }

    public void Dispose()
    {
        if (_isEnded)
            return;
        _isEnded = true;
        if (!_process.HasExited)
            _process.Kill(entireProcessTree: true);
        _process.WaitForExit();
        _process.Dispose();
    }

    /// <summary>The fourth field of proc_pid_stat(5), after the name in brackets; 0 for a process that has ended.</summary>
    private static int ParentOf(int id)
    {
        try
        {
            var stat = File.ReadAllText($"/proc/{id}/stat");
            return int.Parse(stat[(stat.LastIndexOf(')') + 2)..].Split(' ')[1], CultureInfo.InvariantCulture);
        }
        catch (IOException)
        {
            return 0;
        }
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
