using System.ComponentModel;
using System.Diagnostics;
using System.Text.Json;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Workers;

/// <summary>One worker process and its watchdog.</summary>
public sealed class WorkerProcess : IDisposable
{
    private static readonly TimeSpan MemoryCheckEvery = TimeSpan.FromSeconds(1);

    /// <summary>A cancelled job ends within a block of samples; a worker that takes longer is considered hung and killed.</summary>
    private static readonly TimeSpan CancelLimit = TimeSpan.FromSeconds(5);

    /// <summary>
    /// One worker checks every codec as it starts. The others have the same libraries and check a codec when they first need it, which
    /// saves each of them about a second of the processor's time.
    /// </summary>
    private static bool _isCheckingCodecs;

    private readonly AppOptions _options;
    private readonly ILogger _logger;
    private readonly Process _process;
    private volatile bool _isEnded;

    public WorkerProcess(AppOptions options, bool isLowPriority, ILogger logger)
    {
        _options = options;
        _logger = logger;
        _process = Begin(options);
        ProcessId = _process.Id;
        IsLowPriority = isLowPriority;
        if (isLowPriority)
            LowerPriority();
        // What a dying process writes last is the best hint at why.
        _process.ErrorDataReceived += (_, line) => LastError = line.Data is { Length: > 0 } text ? text : LastError;
        _process.BeginErrorReadLine();
        _logger.LogInformation("Worker {ProcessId} started", ProcessId);
    }

    public int ProcessId { get; }

    public bool IsLowPriority { get; }

    /// <summary>False as soon as it was killed, even if the process still exists for a moment.</summary>
    public bool IsAlive => !_isEnded && !_process.HasExited;

    private string? LastError { get; set; }

    /// <summary>Sends the worker a job and waits until it ends.</summary>
    /// <exception cref="WorkerLostException">The worker ended before it answered; it must be replaced.</exception>
    /// <exception cref="OperationCanceledException">The job was cancelled and the worker did not answer in time; it must be
    /// replaced.</exception>
    /// <returns>The job's reply; <see cref="CancelledReply"/> when it was cancelled.</returns>
    public async Task<WorkerReply> RunAsync(WorkerJob job, Action<WorkerProgress> onProgress, CancellationToken cancellation)
    {
        cancellation.ThrowIfCancellationRequested();
        try
        {
            await SendAsync(job).ConfigureAwait(false);
            using var limit = new CancellationTokenSource();
            await using var calledOff = cancellation.Register(() => CallOff(limit)).ConfigureAwait(false);
            while (true)
            {
                var line = await ReadLineWatchedAsync(limit.Token).ConfigureAwait(false);
                var reply = JsonSerializer.Deserialize(line, WorkerJson.Default.WorkerReply)
                    ?? throw new WorkerLostException("The worker's reply makes no sense.");
                // The answer of a job that ended just before it was cancelled counts.
                if (reply is not ProgressReply progress)
                    return reply;
                CheckMemory();
                onProgress(progress.Progress);
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
            throw new WorkerLostException("The worker's reply makes no sense.", failure);
        }
        catch (Exception failure) when (failure is WorkerLostException or OperationCanceledException)
        {
            Kill();
            throw;
        }
    }

    private static Process Begin(AppOptions options)
    {
        if (!PlainFile.Exists(options.WorkerPath))
            throw new WorkerNotStartedException($"The worker program {options.WorkerPath} is missing. Build or install Wergamon again.");
        try
        {
            return Process.Start(
                new ProcessStartInfo(
                    "dotnet",
                    Interlocked.Exchange(ref _isCheckingCodecs, true)
                        ? [options.WorkerPath, WorkerArguments.CheckOnUse]
                        : [options.WorkerPath])
                {
                    RedirectStandardInput = true,
                    RedirectStandardOutput = true,
                    RedirectStandardError = true,
                }) ?? throw new WorkerNotStartedException("No worker could be started.");
        }
        catch (Exception failure) when (failure is Win32Exception or IOException)
        {
            // Too little memory, too many open files or processes: the system's message says which.
            throw new WorkerNotStartedException($"No worker could be started: {failure.Message}");
        }
    }

    private async Task SendAsync(WorkerJob job)
    {
        await _process.StandardInput.WriteLineAsync(JsonSerializer.Serialize(job, WorkerJson.Default.WorkerJob)).ConfigureAwait(false);
        await _process.StandardInput.FlushAsync(CancellationToken.None).ConfigureAwait(false);
    }

    private void CallOff(CancellationTokenSource limit)
    {
        try
        {
            _process.StandardInput.WriteLine(JsonSerializer.Serialize(new CancelJob(), WorkerJson.Default.WorkerJob));
            _process.StandardInput.Flush();
            limit.CancelAfter(CancelLimit);
        }
        catch (Exception failure) when (failure is IOException or InvalidOperationException)
        {
            limit.Cancel();
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
        var silence = new SilenceClock(ProcessId);
        while (true)
        {
            using var pause = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
            if (await Task.WhenAny(read, Task.Delay(MemoryCheckEvery, pause.Token)).ConfigureAwait(false) == read)
            {
                await pause.CancelAsync().ConfigureAwait(false);
                return await read.ConfigureAwait(false) ?? throw new WorkerLostException(Crash());
            }

            cancellation.ThrowIfCancellationRequested();
            silence.Look();
            if (silence.Silence > _options.WorkerSilence)
                throw new WorkerLostException($"The worker did not respond for {_options.WorkerSilence.TotalSeconds:0} s and was stopped.");
            CheckMemory();
        }
    }

    private void CheckMemory()
    {
        _process.Refresh();
        if (!_process.HasExited && _process.WorkingSet64 > _options.WorkerMemoryBytes)
            throw new WorkerLostException($"The worker took more than {_options.WorkerMemoryBytes >> 20} MB of memory and was stopped.");
    }

    private string Crash()
    {
        _process.WaitForExit(TimeSpan.FromSeconds(2));
        var how = _process.HasExited ? $" (exit code {_process.ExitCode})" : "";
        return $"The worker crashed{how} while it had this track.{(LastError is { } error ? " It said: " + error : "")}";
    }

    private void LowerPriority()
    {
        try
        {
            _process.PriorityClass = ProcessPriorityClass.BelowNormal;
        }
        catch (Exception failure) when (failure is InvalidOperationException or Win32Exception)
        {
            _logger.LogDebug(failure, "Worker keeps its priority");
        }
    }

    private void Kill()
    {
        _isEnded = true;
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
