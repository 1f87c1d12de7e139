using System.Globalization;
using System.Text.Json;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;
using Wergamon.Worker;

// One job at a time: a line of JSON in, lines of progress and one result out. The end of the input ends the worker, so
// that it never outlives the server that started it.
CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
using var output = new StreamWriter(Console.OpenStandardOutput()) { AutoFlush = true };
void Reply(WorkerReply reply) => output.WriteLine(JsonSerializer.Serialize(reply, WorkerJson.Default.WorkerReply));

if (LibAvPresence.Complaint() is { } complaint)
{
    Console.Error.WriteLine(complaint);
    return 3;
}

LibAvPresence.Silence();
while (Console.In.ReadLine() is { } line)
{
    try
    {
        var request = JsonSerializer.Deserialize(line, WorkerJson.Default.WorkerRequest);
        Reply(request switch
        {
            { Convert: { } job } => new WorkerReply(Proof: new Conversion(job, progress => Reply(new WorkerReply(Progress: progress))).Run()),
            { Decode: { } job } => new WorkerReply(DecodedFrames: Decoding.Run(job, progress => Reply(new WorkerReply(Progress: progress)))),
            { Survey: { } job } => new WorkerReply(Survey: Surveying.Run(job, progress => Reply(new WorkerReply(Progress: progress)))),
            { Compare: { } job } => Comparing.Run(job, progress => Reply(new WorkerReply(Progress: progress))),
            { Probe: { } job } => new WorkerReply(Facts: SoundFiles.Probe(job.SourcePath)),
            _ => new WorkerReply(Failure: "The worker was asked for nothing it knows."),
        });
    }
    catch (Exception failure) when (failure is UnreadableAudioException or CodecException or ProofException or IOException or UnauthorizedAccessException or JsonException)
    {
        Reply(new WorkerReply(Failure: failure.Message));
    }
}

return 0;
