using System.Text;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.Worker.Tests;

/// <summary>Files that are not what they seem: refused with a reason, and the worker survives.</summary>
public sealed class BrokenInputTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    [Theory]
    [InlineData("empty.flac", "The file is empty")]
    [InlineData("text.flac", "cannot be opened as audio|There is no audio")]
    [InlineData("header.flac", "has a header but no audio")]
    [InlineData("header.mp3", "no audio|cannot be")]
    public async Task A_file_without_audio_is_refused_with_a_reason(string name, string words)
    {
        var path = worker.Folder[name];
        File.WriteAllBytes(path, name switch
        {
            "empty.flac" => [],
            "text.flac" => Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("This is a shopping list and no music. ", 200))),
            "header.flac" => HeadOfFlac(),
            _ => [.. "ID3"u8, 3, 0, 0, 0, 0, 0, 10, .. new byte[10]],
        });
        var failure = await Assert.ThrowsAsync<UnreadableAudioException>(() => worker.FactsAsync(path));
        Assert.Contains(words.Split('|'), word => failure.Message.Contains(word, StringComparison.Ordinal));
        await AssertWorkerLives(name);
    }

    [Fact]
    public async Task Truncated_flac_is_not_converted_as_complete()
    {
        var whole = worker.Folder["whole.flac"];
        await worker.ProveAsync(
            worker.MakeWav("whole.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 100_000), whole, StandardTargets.BuiltIn[0]);
        var cut = worker.Folder["cut.flac"];
        File.WriteAllBytes(cut, File.ReadAllBytes(whole)[..200_000]);
        var reply = await worker.ConvertAsync(cut, worker.Folder["cut-out.flac"], StandardTargets.BuiltIn[0]);
        Assert.IsType<FailureReply>(reply);
        Assert.Contains("its audio ends at 0:01", reply.Failure, StringComparison.Ordinal);
        await AssertWorkerLives("cut");
    }

    [Fact]
    public async Task Wav_with_false_lengths_returns_what_is_there_and_says_so()
    {
        var path = worker.MakeWav("lying.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 1000);
        var bytes = File.ReadAllBytes(path);
        BitConverter.TryWriteBytes(bytes.AsSpan(76), 0x7FFF_FFFF);
        File.WriteAllBytes(path, bytes);
        var proof = await worker.ProveAsync(path, worker.Folder["lying.flac"], StandardTargets.BuiltIn[0]);
        Assert.Equal(1000, proof.FramesOut);
        Assert.Contains("cut short", Assert.Single(proof.SourceDamage), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_source_that_changed_since_it_was_planned_is_refused()
    {
        var path = worker.MakeWav("changed.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 1000);
        var facts = await worker.FactsAsync(path);
        worker.MakeWav("changed.wav", new PcmFormat(new SampleRate(48_000), 2, 24), 1000);
        using var idle = new IdleWorkers();
        using var pool = new WorkerPool(
            worker.Options, idle, Microsoft.Extensions.Logging.Abstractions.NullLogger<WorkerPool>.Instance);
        var job = new Core.Jobs.ConvertJob(path, facts.Format, [], new FlacSettings(), worker.Folder["changed.flac"], [], []);
        var reply = await pool.RunAsync(job, WorkerPriority.Requested, null, CancellationToken.None);
        Assert.Contains("changed since it was planned", reply.Failure, StringComparison.Ordinal);
    }

    /// <summary>Seeded damage in real files: a proof or a reason, and the same worker afterwards.</summary>
    [Fact]
    public async Task Damaged_files_end_in_a_proof_or_a_reason()
    {
        var wav = worker.MakeWav("damage.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 30_000, music: true);
        await worker.ProveAsync(wav, worker.Folder["damage.flac"], StandardTargets.BuiltIn[0]);
        await worker.ProveAsync(wav, worker.Folder["damage.mp3"], StandardTargets.BuiltIn[1]);
        var random = new Random(20);
        for (int i = 0; i < 40; i++)
        {
            var source = worker.Folder[i % 2 == 0 ? "damage.flac" : "damage.mp3"];
            var bytes = File.ReadAllBytes(source);
            for (int change = 0; change < 1 + i; change++)
                bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
            var damaged = worker.Folder[$"damaged-{i}{Path.GetExtension(source)}"];
            File.WriteAllBytes(damaged, bytes);
            try
            {
                var reply = await worker.ConvertAsync(damaged, worker.Folder[$"damaged-{i}.out.flac"], StandardTargets.BuiltIn[0]);
                Assert.True(reply is ConvertReply || reply.Failure is { Length: > 10 });
            }
            catch (UnreadableAudioException failure)
            {
                Assert.NotEmpty(failure.Message);
            }
        }

        await AssertWorkerLives("damage");
    }

    private async Task AssertWorkerLives(string name) =>
        Assert.NotNull(
            await worker.ProveAsync(
                worker.MakeWav(name + "-after.wav", new PcmFormat(SampleRate.AudioDisc, 1, 16), 100), worker.Folder[name + "-after.flac"],
                StandardTargets.BuiltIn[0]));

    private static byte[] HeadOfFlac()
    {
        var stream = new MemoryStream();
        byte[] info = [16, 0, 16, 0, 0, 0, 0, 0, 0, 0, 0x0A, 0xC4, 0x42, 0xF0, 0, 0, 0x10, 0, .. new byte[16]];
        Core.Formats.Flac.FlacTags.Write(stream, info, new Core.Tags.TagSet());
        return stream.ToArray();
    }
}
