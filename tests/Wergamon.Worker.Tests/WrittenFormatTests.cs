using System.Buffers.Binary;
using System.Security.Cryptography;
using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>Every format that is written, from every shape of source.</summary>
public sealed class WrittenFormatTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    public static TheoryData<string> Formats => [.. FileFormats.Writable.Select(format => format.Key)];

    [Theory]
    [MemberData(nameof(Formats))]
    public async Task A_copy_has_the_length_and_the_shape_of_its_route(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var target = new Target(key, format.Name, format.UsualSettings);
        foreach (var (rate, channels, bits, frames) in ((int, int, int, int)[])[
            (44_100, 2, 16, 100_001), (48_000, 1, 24, 50_000), (96_000, 2, 24, 96_001), (44_100, 2, 16, 2), (22_050, 2, 16, 30_000),
            (48_000, 6, 24, 48_000)
        ])
        {
            var source = worker.MakeWav(
                $"{key}-{rate}-{channels}-{frames}.wav", new PcmFormat(new SampleRate(rate), channels, bits), frames, music: true);
            var route = RoutePlanner.Plan(await worker.FactsAsync(source), Fidelity.Exact, target);
            var output = worker.Folder[$"{key}-{rate}-{channels}-{frames}-out{format.Extension}"];
            var proof = await worker.ProveAsync(source, output, target);
            var facts = await worker.FactsAsync(output);
            Assert.Equal(
                (route.OutputFrames, route.Output.Rate, route.Output.Channels, format),
                (proof.FramesOut, facts.Format.Rate, facts.Format.Channels, facts.FileFormat));
            Assert.Equal(route.OutputFrames, facts.FrameCount);
        }
    }

    /// <summary>A proved copy of something like music, from an audio disc's format.</summary>
    private async Task<string> MakeAsync(WritableFormat format, string name, int frames, TagSet? tags = null, string? cover = null)
    {
        var source = worker.MakeWav($"{format.Key}-{name}-source.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), frames, music: true);
        var output = worker.Folder[$"{format.Key}-{name}{format.Extension}"];
        await worker.ProveAsync(source, output, new Target(format.Key, format.Name, format.UsualSettings), tags, cover);
        return output;
    }

    /// <summary>
    /// However few frames there are, and whatever they look like to a decoder that guesses: 2,579 samples of mono and ten of stereo were no
    /// MP3 to libav.
    /// </summary>
    [Fact]
    public void Short_mp3_files_can_be_opened()
    {
        foreach (int channels in (int[])[1, 2])
        {
            foreach (int frames in (int[])[1, 2, 10, .. Enumerable.Range(0, 160).Select(i => 100 + 37 * i)])
            {
                var input = new PcmFormat(SampleRate.AudioDisc, channels, 16);
                var output = new MemoryStream();
                TestSound.Music(input, frames)
                    .CopyTo(Codecs.AudioFiles.Create(output, input, new TagSet(), Core.Formats.Mp3.Mp3Format.Instance.UsualSettings));
                using var reader = Codecs.AudioFiles.Open(new MemoryStream(output.ToArray()));
                var block = new SampleBuffer(reader.Format);
                int read = 0;
                while (reader.Read(block) > 0)
                    read += block.FrameCount;
                Assert.Equal(frames, read);
            }
        }
    }

    /// <summary>python3-mutagen 1.46 reads what we write, in every dialect.</summary>
    [Theory]
    [MemberData(nameof(Formats))]
    public async Task Mutagen_reads_the_tags_and_pictures_of_every_format(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var output = await MakeAsync(format, "tags", 44_100, TestTags.Everything(), TestTags.PictureFile(worker.Folder));
        var read = Mutagen.ReadAny(output);
        var expected = new (string Name, string Values)[]
        {
            ("title", "Blue Slate Rain, фонарь"), ("artist", "Tin Orchard|Wickwire"), ("albumartist", "Tin Orchard"),
            ("album", "Songs from the Winding House"), ("date", "2019-06-21"), ("genre", "Songs"),
            ("comment", "A note\nin two lines"), ("lyrics", "Rain, rain"), ("bpm", "76"), ("tracknumber", "3"), ("tracktotal", "9"),
            ("discnumber", "1"), ("disctotal", "2"), ("lamp keeper", "灯"),
        };
        foreach (var (name, values) in expected)
            Assert.Equal((name, values), (name, string.Join('|', read[name]?.AsArray().Select(node => node!.GetValue<string>()) ?? [])));
        Assert.Equal(
            [Convert.ToHexStringLower(SHA256.HashData(TestTags.PictureBytes))],
            read["pictures"]!.AsArray().Select(node => node!.GetValue<string>()));
        Assert.Equal(1.0, read["length"]!.GetValue<double>(), format.IsLossy ? 0.06 : 0.0001);
    }

    [Theory]
    [MemberData(nameof(Formats))]
    public async Task Tags_are_rewritten_and_the_audio_stays(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var output = await MakeAsync(format, "rewrite", 44_100);
        var changed = worker.Folder[key + "-rewritten" + format.Extension];
        var tags = format.Dialect.Select(TestTags.Everything());
        using (var from = File.OpenRead(output))
        using (var to = File.Create(changed))
            format.RewriteTags(from, to, tags);
        using var before = File.OpenRead(output);
        using var after = File.OpenRead(changed);
        Assert.Equal(format.HashSound(before), format.HashSound(after));
        Assert.Equal(tags.Fields.Count, FileReading.ReadTags(after).Tags.Fields.Count);
        Assert.Equal(SampleDigest.Of(Codecs.AudioFiles.Open(output)), SampleDigest.Of(Codecs.AudioFiles.Open(changed)));
        Assert.Equal(["Blue Slate Rain, фонарь"], Mutagen.ReadAny(changed)["title"]!.AsArray().Select(node => node!.GetValue<string>()));
    }

    /// <summary>Whatever the tags, a file gives back what its dialect can hold.</summary>
    [Theory]
    [MemberData(nameof(Formats))]
    public async Task Any_tags_survive_a_rewrite(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var output = await MakeAsync(format, "any", 3_000);
        var bytes = File.ReadAllBytes(output);
        RandomTags.Sets.Sample(tags =>
        {
            var held = format.Dialect.Select(tags);
            var rewritten = new MemoryStream();
            format.RewriteTags(new MemoryStream(bytes), rewritten, held);
            var reading = FileReading.Read(rewritten);
            Assert.Empty(reading.Damage);
            Assert.Equal(RandomTags.Lines(held), RandomTags.Lines(reading.Tags));
            // Once more, from a file that has tags already.
            var again = new MemoryStream();
            format.RewriteTags(rewritten, again, held);
            Assert.Equal(rewritten.ToArray(), again.ToArray());
        }, iter: 200);
    }

    /// <summary>Encoder delay is cut off: what starts at a sample of the source starts there in the copy.</summary>
    [Theory]
    [MemberData(nameof(Formats))]
    public async Task A_click_stays_at_its_sample(string key)
    {
        const int At = 20_000;
        var format = (WritableFormat)FileFormats.Find(key)!;
        var input = new PcmFormat(new SampleRate(48_000), 1, 16);
        var source = worker.Folder[key + "-source.wav"];
        using (var writer = new WavWriter(File.Create(source), input))
        {
            new TestSound(input, 48_000, (block, start) =>
            {
                for (int i = 0; i < block.FrameCount; i++)
                    block.Integers[i] = start + i == At ? 30_000 : 0;
            }).CopyTo(writer);
        }

        var output = worker.Folder[key + "-click" + format.Extension];
        await worker.ProveAsync(source, output, new Target(key, format.Name, format.UsualSettings));
        using var reader = Codecs.AudioFiles.Open(output);
        var block = new SampleBuffer(reader.Format);
        double loudest = 0;
        long place = -1;
        for (long start = 0; reader.Read(block) > 0; start += block.FrameCount)
        {
            for (int i = 0; i < block.FrameCount; i++)
            {
                double level = Math.Abs(reader.Format.IsFloat ? block.Floats[i] : (double)block.Integers[i]);
                if (level > loudest)
                    (loudest, place) = (level, start + i);
            }
        }

        Assert.Equal(At, place);
    }

    /// <summary>libvorbisfile 1.3 and libopusfile 0.12, gapless as they are by default.</summary>
    [Theory]
    [InlineData("vorbis", 44_100, 2, 100_001)]
    [InlineData("vorbis", 44_100, 1, 577)]
    [InlineData("vorbis", 22_050, 2, 4_097)]
    [InlineData("opus", 48_000, 2, 100_001)]
    [InlineData("opus", 48_000, 1, 961)]
    [InlineData("opus", 48_000, 2, 100)]
    public async Task Ogg_files_are_as_long_as_their_source(string key, int rate, int channels, int frames)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var source = worker.MakeWav(
            $"{key}-{rate}-{frames}-long.wav", new PcmFormat(new SampleRate(rate), channels, 16), frames, music: true);
        var output = worker.Folder[$"{key}-{rate}-{frames}-long{format.Extension}"];
        await worker.ProveAsync(source, output, new Target(key, format.Name, format.UsualSettings));
        Assert.Equal(frames, key == "vorbis" ? LibVorbisFile.CountFrames(output) : LibOpusFile.CountFrames(output));
    }

    /// <summary>ISO/IEC 14496-12, 8.6.1.2 and 8.6.6: packets of the stated lengths, less what the edit list cuts off.</summary>
    [Theory]
    [InlineData("aac", 44_100, 100_001)]
    [InlineData("aac", 48_000, 1_024)]
    [InlineData("alac", 44_100, 100_001)]
    public async Task The_edit_list_of_m4a_leaves_the_length_of_the_source(string key, int rate, int frames)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        var source = worker.MakeWav($"{key}-{frames}-edit.wav", new PcmFormat(new SampleRate(rate), 2, 16), frames, music: true);
        var output = worker.Folder[$"{key}-{frames}-edit.m4a"];
        await worker.ProveAsync(source, output, new Target(key, format.Name, format.UsualSettings));
        var bytes = File.ReadAllBytes(output);
        uint Word(int at) => BinaryPrimitives.ReadUInt32BigEndian(bytes.AsSpan(at));
        int times = bytes.AsSpan().LastIndexOf("stts"u8) + 8;
        long stored = 0;
        for (int i = 0; i < Word(times); i++)
            stored += (long)Word(times + 4 + 8 * i) * Word(times + 8 + 8 * i);
        int edits = bytes.AsSpan().LastIndexOf("elst"u8);
        if (edits < 0)
        {
            Assert.Equal(frames, stored);
            return;
        }

        Assert.Equal(1u, Word(edits + 8));
        Assert.Equal((uint)frames, Word(edits + 12));
        Assert.True(stored >= Word(edits + 16) + frames);
    }

    /// <summary>The version that a target asks for, where the format has such tags; read back by python3-mutagen.</summary>
    [Theory]
    [InlineData("mp3", 3)]
    [InlineData("mp3", 4)]
    [InlineData("aiff", 4)]
    [InlineData("wav", 4)]
    public async Task Tags_have_the_version_of_the_target(string key, int version)
    {
        var source = worker.MakeWav($"version-{key}-{version}.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 44_100, music: true);
        var output = worker.Folder[$"version-{version}.{key}"];
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Штольня №3");
        var format = (WritableFormat)FileFormats.Find(key)!;
        await worker.ProveAsync(source, output, new Target("own", "Own", format.UsualSettings) { Id3v2Version = version }, tags);
        var bytes = await File.ReadAllBytesAsync(output);
        int at = bytes.AsSpan().LastIndexOf("ID3"u8);
        Assert.Equal(version, bytes[at + 3]);
        Assert.Equal("Штольня №3", (string?)Mutagen.ReadAny(output)["title"]![0]);
    }
}
