using System.Globalization;
using System.Text.Json;
using System.Threading.Channels;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Worker;

// One job at a time: a line of JSON in, lines of progress and one result out. Input is read alongside the work, so that a job can
// be cancelled; the end of the input ends the worker at once, so that it never outlives the server that started it.
CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (LibAvPresence.Complaint() is { } complaint)
{
    Console.Error.WriteLine(complaint);
    return 3;
}

LibAvPresence.Silence();
if (!args.Contains(WorkerArguments.CheckOnUse))
    CodecCheck.Begin();
using var output = new StreamWriter(Console.OpenStandardOutput()) { AutoFlush = true };
var sending = new Lock();
var jobs = Channel.CreateUnbounded<(WorkerJob? Job, CancellationTokenSource Stop)>();
new Thread(ReadInput) { IsBackground = true }.Start();
await foreach (var (job, stop) in jobs.Reader.ReadAllAsync().ConfigureAwait(false))
    Reply(CarryOut(job, new JobReport(Reply, stop.Token)));
return 0;

void Reply(WorkerReply reply)
{
    lock (sending)
        output.WriteLine(JsonSerializer.Serialize(reply, WorkerJson.Default.WorkerReply));
}

void ReadInput()
{
    var latest = new CancellationTokenSource();
    while (Console.In.ReadLine() is { } line)
    {
        var job = Parse(line);
        if (job is CancelJob)
        {
            latest.Cancel();
            continue;
        }

        latest = new CancellationTokenSource();
        jobs.Writer.TryWrite((job, latest));
    }

    Environment.Exit(0);
}

static WorkerJob? Parse(string line)
{
    try
    {
        return JsonSerializer.Deserialize(line, WorkerJson.Default.WorkerJob);
    }
    catch (JsonException)
    {
        return null;
    }
}

static WorkerReply CarryOut(WorkerJob? asked, JobReport report)
{
    try
    {
        return asked switch
        {
            ConvertJob job => new Conversion(job, report).Run(),
            RetagJob job => Retagging.Run(job),
            DecodeJob job => new DecodeReply(Decoding.Run(job, report)),
            AnalysisJob job => new AnalysisReply(Analysis.Run(job, report)),
            MusicJob job => MusicMeasurement.Run(job, report),
            WaveformJob job => WaveformDrawing.Run(job, report),
            LevelJob job => LevelMeasurement.Run(job, report),
            CompareJob job => new Comparison(job, report).Run(),
            InspectJob job => SoundInspection.Run(job, report),
            ThumbnailJob job => Thumbnail.Run(job),
            PictureJob job => ShapedPicture.Run(job),
            ProbeJob job => new ProbeReply(AudioFiles.Probe(job.SourcePath, frames => report.Tell(frames, 0, proving: false))),
            _ => new FailureReply("The worker does not know this kind of job."),
        };
    }
    catch (OperationCanceledException)
    {
        return new CancelledReply();
    }
    catch (DifferentSourceException different)
    {
        return different.Reply;
    }
    catch (Exception failure)
        when (failure is UnreadableAudioException or CodecException or ProofException or IOException or UnauthorizedAccessException)
    {
        return new FailureReply(failure.Message);
    }
}
