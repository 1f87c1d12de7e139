using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Music;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>The music of copies of one track, analysed by the real worker.</summary>
public sealed class MusicTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private const int Rate = 44_100;

    /// <summary>
    /// A piece that libfluidsynth played: the lossless copy gives the same to the last digit, lossy ones the same to the ear.
    /// </summary>
    [Fact]
    public async Task Copies_of_a_track_have_the_same_music()
    {
        var source = worker.Folder["piece.wav"];
        using (var writer = new WavWriter(File.Create(source), new PcmFormat(SampleRate.AudioDisc, 1, 16)))
        {
            var samples = Piece().Render(Rate);
            new TestSound(writer.Format, samples.Length, (block, start) =>
            {
                for (int i = 0; i < block.FrameCount; i++)
                    block.Integers[i] = (int)Math.Clamp(20_000 * samples[start + i], -32_768, 32_767);
            }).CopyTo(writer);
        }

        var original = await MusicOf(source);
        Assert.InRange(original.Tempo!.Grid.BeatsPerMinute, 117.4 - 0.05, 117.4 + 0.05);
        foreach (var (name, settings) in new (string, EncoderSettings)[]
        {
            ("piece.flac", new FlacSettings()), ("piece.mp3", new Mp3Settings(Mp3Mode.Constant, 128)), ("piece.opus", new OpusSettings(96))
        })
        {
            await worker.ProveAsync(source, worker.Folder[name], new Target("own", "Own", settings));
            var found = await MusicOf(worker.Folder[name]);
            if (!settings.Format.IsLossy)
            {
                Assert.Equal(
                    (original.Tempo.Grid, original.Key, original.FirstChange, original.Brightness),
                    (found.Tempo!.Grid, found.Key, found.FirstChange, found.Brightness));
                continue;
            }

            Assert.Equal(original.Key!.Key, found.Key!.Key);
            Assert.InRange(found.Tempo!.Grid.BeatsPerMinute - original.Tempo.Grid.BeatsPerMinute, -0.02, 0.02);
            Assert.InRange(found.Tempo.Grid.FirstBeat - original.Tempo.Grid.FirstBeat, -0.01, 0.01);
        }
    }

    private async Task<MusicAnalysis> MusicOf(string path) => Assert.IsType<MusicReply>(await worker.AskAsync(new MusicJob(path))).Analysis;

    private static Score Piece()
    {
        const int Strings = 48, Bass = 33;
        var score = new Score(117.4).Instrument(0, Strings).Instrument(1, Bass);
        int[] roots = [0, 5, 8, 7];
        for (int beat = 0; beat < 64; beat++)
        {
            int root = roots[beat / 4 % 4];
            score.Drum(36, beat, 110);
            score.Drum(42, beat + 0.5, 70);
            score.Note(1, 38 + root, beat + 0.5, 0.4, 95);
            if (beat % 4 == 0)
                score.Chord(0, [62 + root, 65 + root, 69 + root], beat, 3.8, 70);
        }

        return score;
    }
}
