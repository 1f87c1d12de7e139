using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>From every kind of file that is read to every format that is written.</summary>
public sealed class PairTests(PairTests.Sources sources) : IClassFixture<PairTests.Sources>
{
    private const int Rate = 44_100;
    private const int Frames = 40_001;

    /// <summary>Encoders and containers of libav for what is only read: the format is in the name.</summary>
    private static readonly (string Name, string Container, string Codec, PcmFormat Format)[] OnlyRead =
    [
        ("aac.mkv", "matroska", "aac", new(new SampleRate(48_000), 2, 16)),
        ("aac51.mov", "mov", "aac", new(new SampleRate(48_000), 6, 16)),
        ("flac.oga", "ogg", "flac", new(new SampleRate(96_000), 2, 24)),
        ("opus.webm", "webm", "libopus", new(new SampleRate(48_000), 2, 16)),
        ("vorbis.mkv", "matroska", "libvorbis", new(SampleRate.AudioDisc, 2, 16)),
        ("alac.caf", "caf", "alac", new(SampleRate.AudioDisc, 1, 16)),
        ("pcm.w64", "w64", "pcm_s24le", new(new SampleRate(96_000), 2, 24)),
        ("wavpack.wv", "wv", "wavpack", new(new SampleRate(48_000), 6, 24)),
        ("tta.tta", "tta", "tta", new(SampleRate.AudioDisc, 2, 16)),
        ("mp2.mp2", "mp2", "mp2", new(SampleRate.AudioDisc, 2, 16)),
        ("ac3.ac3", "ac3", "ac3", new(new SampleRate(48_000), 6, 16)),
        ("mulaw.wav", "wav", "pcm_mulaw", new(new SampleRate(8_000), 1, 16)),
        ("float.wav", "wav", "pcm_f32le", new(SampleRate.AudioDisc, 2, 24)),
    ];

    public static TheoryData<string> Formats => [.. FileFormats.Writable.Select(format => format.Key)];

    /// <summary>
    /// What was in the source is in the copy: as many samples and channels as the route says, all tags that the format can hold, the
    /// picture; and every sample where nothing is lost on the way.
    /// </summary>
    [Theory]
    [MemberData(nameof(Formats))]
    public async Task Every_source_becomes_every_format(string key)
    {
        var target = TargetOf(key);
        foreach (var source in sources.Paths)
        {
            var what = $"{Path.GetFileName(source)} to {key}";
            var facts = await sources.Worker.FactsAsync(source);
            var route = RoutePlanner.Plan(facts, facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy, target);
            var output = sources.Worker.Folder[$"{Path.GetFileName(source)}-to-{key}{target.Format.Extension}"];
            var proof = await sources.Worker.ProveAsync(source, output, target, TestTags.Everything(), sources.Cover);

            using var stream = File.OpenRead(output);
            var made = FileReading.Read(stream);
            Assert.True(made.Facts is not null && made.Facts.FileFormat == target.Format && made.Damage.Count == 0, what);
            Assert.Equal(
                (what, proof.FramesOut, route.Output.Rate, route.Output.Channels),
                (what, made.Facts.FrameCount, made.Facts.Format.Rate, made.Facts.Format.Channels));
            // Containers without an exact length say it to a packet or two.
            Assert.InRange(
                proof.FramesOut - route.OutputFrames, StatesExactLength(facts) ? 0 : -2L * SampleBuffer.DefaultCapacity,
                StatesExactLength(facts) ? 0 : 2L * SampleBuffer.DefaultCapacity);
            Assert.Equal([what, .. RandomTags.Lines(ExpectedTags(source, target))], [what, .. RandomTags.Lines(made.Tags)]);
            Assert.Equal(TestTags.PictureBytes, Assert.Single(made.Tags.Pictures).Data.ToArray());
            if (CountOutside(output, target.Format) is { } outside)
                Assert.Equal((what, proof.FramesOut), (what, outside));
            if (!target.IsLossy)
                Assert.Equal((what, route.Output.Bits), (what, made.Facts.Format.Bits));
            if (facts.IsLossless && route.Steps.Count == 1 && !target.IsLossy)
                Assert.Equal((what, DigestOf(source)), (what, DigestOf(output)));
        }
    }

    private static Target TargetOf(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        return new Target(key, format.Name, format.UsualSettings);
    }

    private static bool StatesExactLength(AudioFacts facts) =>
        facts.FileFormat is WritableFormat || facts is { FileFormat: not null, IsLossless: true };

    /// <summary>The tags of the source and, for what it lacks, those that the plan adds.</summary>
    private TagSet ExpectedTags(string source, Target target)
    {
        using var stream = File.OpenRead(source);
        var tags = FileReading.ReadTags(stream).Tags;
        foreach (var field in TestTags.Everything().Fields)
            tags.Set(field.Name, field.Values);
        if (tags.Pictures.Count == 0)
            tags.Pictures.Add(new Picture(PictureKind.Front, "image/png", "", File.ReadAllBytes(sources.Cover)));
        return target.Format.Dialect.Select(tags);
    }

    private static string DigestOf(string path)
    {
        using var reader = AudioFiles.Open(path);
        return SampleDigest.Of(reader).Digest;
    }

    /// <summary>
    /// libFLAC 1.4, libsndfile 1.2, libmpg123 1.31, libvorbisfile 1.3 and libopusfile 0.12; null where there is none for the format.
    /// </summary>
    private static long? CountOutside(string path, WritableFormat format) => format.Key switch
    {
        "flac" => LibFlac.Decode(path) is var sound ? sound.Samples.Length / sound.Channels : null,
        "wav" or "aiff" => LibSndFile.Decode(path) is var sound ? sound.Samples.Length / sound.Channels : null,
        "mp3" => LibMpg123.CountFrames(path),
        "vorbis" => LibVorbisFile.CountFrames(path),
        "opus" => LibOpusFile.CountFrames(path),
        _ => null,
    };

    /// <summary>One file of each kind: those that are written here with tags and a picture, the others without.</summary>
    public sealed class Sources : IAsyncLifetime
    {
        public WorkerFixture Worker { get; } = new();

        public List<string> Paths { get; } = [];

        public string Cover { get; private set; } = "";

        public async ValueTask InitializeAsync()
        {
            Cover = TestTags.PictureFile(Worker.Folder);
            var wav = Worker.MakeWav("pairs.wav", new PcmFormat(new SampleRate(Rate), 2, 16), Frames, music: true);
            foreach (var format in FileFormats.Writable)
            {
                var path = Worker.Folder["own" + format.Extension.Replace(".m4a", $"-{format.Key}.m4a", StringComparison.Ordinal)];
                await Worker.ProveAsync(wav, path, TargetOf(format.Key), TestTags.Everything(), Cover);
                Paths.Add(path);
            }

            foreach (var (name, container, codec, format) in OnlyRead)
                Paths.Add(EncodedFile.Write(Worker.Folder[name], container, codec, TestSound.Music(format, Frames)));
        }

        public ValueTask DisposeAsync()
        {
            Worker.Dispose();
            return ValueTask.CompletedTask;
        }
    }
}
