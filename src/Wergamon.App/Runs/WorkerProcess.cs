using System.Diagnostics;
using System.Text.Json;
using Microsoft.Extensions.Logging;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Runs;

/// <summary>One child process that handles sound, and the watch over it.</summary>
public sealed class WorkerProcess : IDisposable
{
    private static readonly TimeSpan MemoryCheckEvery = TimeSpan.FromSeconds(1);

    private readonly AppOptions _options;
    private readonly ILogger _logger;
    private readonly Process _process;

    public WorkerProcess(AppOptions options, ILogger logger)
    {
        _options = options;
        _logger = logger;
        _process = Process.Start(new ProcessStartInfo("dotnet", [options.WorkerPath])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        }) ?? throw new WorkerLostException("The worker could not be started.");
        if (options.WorkersGiveWay)
            GiveWay();
        // What a dying process writes last is the best hint at why.
        _process.ErrorDataReceived += (_, line) => LastError = line.Data is { Length: > 0 } text ? text : LastError;
        _process.BeginErrorReadLine();
        _logger.LogInformation("Worker {ProcessId} started", _process.Id);
    }

    public int ProcessId => _process.Id;

    public bool IsAlive => !_process.HasExited;

    private string? LastError { get; set; }

    /// <summary>Gives the worker a job and waits for its end.</summary>
    /// <exception cref="WorkerLostException">The worker did not live to answer; it must be replaced.</exception>
    /// <exception cref="OperationCanceledException">The job was called off; the worker was ended and must be replaced.</exception>
    public async Task<WorkerReply> RunAsync(WorkerRequest request, Action<WorkerProgress> onProgress, CancellationToken cancellation)
    {
        try
        {
            await _process.StandardInput.WriteLineAsync(JsonSerializer.Serialize(request, WorkerJson.Default.WorkerRequest)).ConfigureAwait(false);
            await _process.StandardInput.FlushAsync(cancellation).ConfigureAwait(false);
            while (true)
            {
                var line = await ReadLineWatchedAsync(cancellation).ConfigureAwait(false);
                var reply = JsonSerializer.Deserialize(line, WorkerJson.Default.WorkerReply) ?? throw new WorkerLostException("The worker answered nonsense.");
                if (reply.Progress is not { } progress)
                    return reply;
                CheckMemory();
                onProgress(progress);
            }
        }
        catch (IOException)
        {
            Kill();
            throw new WorkerLostException(Crash());
        }
        catch (JsonException failure)
        {
            Kill();
            throw new WorkerLostException("The worker answered nonsense.", failure);
        }
        catch (Exception failure) when (failure is WorkerLostException or OperationCanceledException)
        {
            Kill();
            throw;
        }
    }

    public void Dispose()
    {
        Kill();
        _process.Dispose();
    }

    private async Task<string> ReadLineWatchedAsync(CancellationToken cancellation)
    {
        var read = _process.StandardOutput.ReadLineAsync(cancellation).AsTask();
        var silence = Stopwatch.StartNew();
        while (true)
        {
            using var pause = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
            if (await Task.WhenAny(read, Task.Delay(MemoryCheckEvery, pause.Token)).ConfigureAwait(false) == read)
            {
                await pause.CancelAsync().ConfigureAwait(false);
                return await read.ConfigureAwait(false) ?? throw new WorkerLostException(Crash());
            }

            cancellation.ThrowIfCancellationRequested();
            if (silence.Elapsed > _options.WorkerSilence)
                throw new WorkerLostException($"The worker gave no sign of life for {_options.WorkerSilence.TotalSeconds:0} s and was ended.");
            CheckMemory();
        }
    }

    private void CheckMemory()
    {
        _process.Refresh();
        if (!_process.HasExited && _process.WorkingSet64 > _options.WorkerMemoryBytes)
            throw new WorkerLostException($"The worker took more than {_options.WorkerMemoryBytes >> 20} MB of memory and was ended.");
    }

    private string Crash()
    {
        _process.WaitForExit(TimeSpan.FromSeconds(2));
        var how = _process.HasExited ? $" (exit code {_process.ExitCode})" : "";
        return $"The worker crashed{how} while it had this track.{(LastError is { } error ? " It said: " + error : "")}";
    }

    private void GiveWay()
    {
        try
        {
            _process.PriorityClass = ProcessPriorityClass.BelowNormal;
        }
        catch (Exception failure) when (failure is InvalidOperationException or System.ComponentModel.Win32Exception)
        {
            _logger.LogDebug(failure, "Worker keeps its priority");
        }
    }

    private void Kill()
    {
        try
        {
            if (!_process.HasExited)
                _process.Kill(entireProcessTree: true);
        }
        catch (InvalidOperationException)
        {
            _logger.LogDebug("Worker had ended by itself");
        }
    }
}
