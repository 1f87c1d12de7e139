using System.Text.Json.Nodes;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>What our header readers say, compared with libav (which made the files and decodes them) and python3-mutagen 1.46.</summary>
public sealed class FactTests : IDisposable
{
    private static readonly PcmFormat Floats44 = new(new SampleRate(44_100), 2, 32, SampleKind.Float);

    private const double Seconds = 2.31;

    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    /// <summary>The length is compared with what went into the encoder; to the sample where the format allows.</summary>
    public static TheoryData<string, string, string, PcmFormat, int> Kinds => new()
    {
        { "aac.m4a", "mp4", "aac", Floats44, 0 },
        { "aac.mp4", "mp4", "aac", Floats44 with { Rate = new SampleRate(48_000) }, 0 },
        { "aac51.m4b", "mp4", "aac", Floats44 with { Channels = 6, Roles = ChannelRoles.Surround51Back }, 0 },
        { "aac.mov", "mov", "aac", Floats44, 0 },
        { "aac.3g2", "3g2", "aac", Floats44 with { Channels = 1, Roles = ChannelRoles.Mono }, 0 },
        { "alac.m4a", "mp4", "alac", new PcmFormat(new SampleRate(44_100), 2, 16), 0 },
        { "alac24.m4a", "mp4", "alac", new PcmFormat(new SampleRate(96_000), 2, 24), 0 },
        { "alac.mov", "mov", "alac", new PcmFormat(new SampleRate(48_000), 1, 16), 0 },
        { "vorbis.ogg", "ogg", "libvorbis", Floats44, 0 },
        { "opus.opus", "ogg", "libopus", new PcmFormat(new SampleRate(48_000), 2, 16), 0 },
        { "flac.oga", "ogg", "flac", new PcmFormat(new SampleRate(88_200), 2, 24), 0 },
        { "flac.flac", "flac", "flac", new PcmFormat(new SampleRate(44_100), 2, 16), 0 },
        { "wma.wma", "asf", "wmav2", Floats44, 4_096 },
        { "wavpack.wv", "wv", "wavpack", new PcmFormat(new SampleRate(44_100), 2, 16), 0 },
        { "wavpack24.wv", "wv", "wavpack", new PcmFormat(new SampleRate(192_000), 2, 24), 0 },
        { "wavpack51.wv", "wv", "wavpack", new PcmFormat(new SampleRate(48_000), 6, 24), 0 },
        { "cbr.mp3", "mp3", "libmp3lame", new PcmFormat(new SampleRate(44_100), 2, 16), 0 },
        { "mono.mp3", "mp3", "libmp3lame", new PcmFormat(new SampleRate(22_050), 1, 16), 0 },
    };

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Facts_equal_what_libav_and_mutagen_say(string name, string container, string codec, PcmFormat format, int allowed)
    {
        var path = EncodedFile.Write(_folder[name], container, codec, Sound(format, Seconds));
        var ours = Read(path);
        var outside = AudioFiles.Probe(path);
        Assert.Equal((outside.CodecName, outside.FileFormat, outside.IsLossless), (ours.CodecName, ours.FileFormat, ours.IsLossless));
        Assert.Equal(outside.Format, ours.Format);
        Assert.InRange(ours.FrameCount - (long)(Seconds * format.Rate.Hertz), -allowed, allowed);
        Assert.Empty(ours.Damage);

        var mutagen = Mutagen.Facts(path);
        // mutagen counts what encoders put before and after the sound.
        Assert.InRange(mutagen["length"]!.GetValue<double>() - ours.Duration.TotalSeconds, -0.001, 0.1);
        if (mutagen["sample_rate"] is { } rate)
            Assert.Equal(rate.GetValue<int>(), ours.Format.Rate.Hertz);
        // For WavPack it counts the channels of the first block only, and for 3G2 it does not read the AAC setup.
        if (mutagen["channels"] is { } channels && container != "3g2" && (codec != "wavpack" || format.Channels <= 2))
            Assert.Equal(channels.GetValue<int>(), ours.Format.Channels);
        if (ours.IsLossless && mutagen["bits_per_sample"] is { } bits)
            Assert.Equal(bits.GetValue<int>(), ours.Format.Bits);
    }

    /// <summary>
    /// ISO/IEC 14496-3, 1.6.6.1: a decoder rebuilds the upper half of the spectrum, so that the rate is twice that of the core;
    /// unannounced, only it can tell.
    /// </summary>
    [Theory]
    [InlineData(0xA0, 44_100)]
    [InlineData(0x00, 22_050)]
    [InlineData(-1, 0)]
    public void Rate_of_aac_is_that_of_its_decoder(int extension, int rate)
    {
        var path = EncodedFile.Write(_folder["he.m4a"], "mp4", "aac", Sound(Floats44 with { Rate = new SampleRate(22_050) }, Seconds));
        var bytes = File.ReadAllBytes(path);
        int sync = bytes.AsSpan().IndexOf((ReadOnlySpan<byte>)[0x56, 0xE5]);
        if (extension >= 0)
            bytes[sync + 2] = (byte)extension;
        else
            bytes.AsSpan(sync, 3).Clear();
        File.WriteAllBytes(path, bytes);
        var facts = ReadOrNull(path);
        Assert.Equal(rate, facts?.Format.Rate.Hertz ?? 0);
        if (facts is not null)
            Assert.Equal(AudioFiles.Probe(path).Format.Rate, facts.Format.Rate);
    }

    /// <summary>RFC 7845, section 4.1: a stream that was cut out of a longer one starts at its position there.</summary>
    [Fact]
    public void An_opus_stream_that_begins_in_the_middle_has_the_length_of_what_is_there()
    {
        var path = EncodedFile.Write(_folder["cut.opus"], "ogg", "libopus", Sound(new PcmFormat(new SampleRate(48_000), 2, 16), 12));
        var bytes = File.ReadAllBytes(path);
        var pages = new List<int>();
        for (int at = 0; at < bytes.Length;)
        {
            pages.Add(at);
            at += 27 + bytes[at + 26] + bytes.AsSpan(at + 27, bytes[at + 26]).ToArray().Sum(lace => lace);
        }

        File.WriteAllBytes(path, [.. bytes[..pages[2]], .. bytes[pages[5]..]]);
        long decoded = CountDecoded(path);
        Assert.InRange(Read(path).FrameCount, 12 * 48_000 - 4 * 48_000, 12 * 48_000 - 48_000);
        Assert.InRange(decoded - Read(path).FrameCount, -1_000, 1_000);
    }

    [Theory]
    [InlineData("MP+\u0007")]
    [InlineData("MPCK")]
    public void Musepack_is_not_mistaken_for_mpeg_audio(string mark)
    {
        // What follows could pass for frames of layer I.
        byte[] frame = [0xFF, 0xFE, 0x10, 0, .. new byte[28]];
        using var stream = new MemoryStream(
            [.. System.Text.Encoding.Latin1.GetBytes(mark), .. Enumerable.Repeat(frame, 50).SelectMany(bytes => bytes)]);
        Assert.Null(FileFormats.Of(stream));
    }

    /// <summary>One-bit sound: no encoder is at hand, so that headers are built by hand and read by libav as well.</summary>
    [Theory]
    [InlineData("dsf")]
    [InlineData("dff")]
    public void One_bit_sound_is_read_with_the_tag_that_its_header_points_to(string kind)
    {
        const int Channels = 2, BlockBytes = 4096, Blocks = 20, Rate = 2_822_400;
        var data = new byte[Channels * BlockBytes * Blocks];
        new Random(1).NextBytes(data);
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Lamp Room");
        var tag = Core.Tags.Id3v2.Id3v2Writer.Write(tags);
        static byte[] Little(long value, int width) => BitConverter.GetBytes(value)[..width];
        static byte[] Big(long value, int width) => [.. BitConverter.GetBytes(value)[..width].Reverse()];
        byte[] format = [
            .. "fmt "u8, .. Little(52, 8), .. Little(1, 4), .. Little(0, 4), .. Little(2, 4), .. Little(Channels, 4), .. Little(Rate, 4),
            .. Little(1, 4), .. Little(8L * BlockBytes * Blocks, 8), .. Little(BlockBytes, 4), .. Little(0, 4)
        ];
        byte[] dsf = [
            .. "DSD "u8, .. Little(28, 8), .. Little(28 + 52 + 12 + data.Length + tag.Length, 8), .. Little(28 + 52 + 12 + data.Length, 8),
            .. format, .. "data"u8, .. Little(12 + data.Length, 8), .. data, .. tag
        ];
        byte[] properties = [
            .. "SND "u8, .. "FS  "u8, .. Big(4, 8), .. Big(Rate, 4), .. "CHNL"u8, .. Big(10, 8), .. Big(Channels, 2), .. "SLFTSRGT"u8,
            .. "CMPR"u8, .. Big(20, 8), .. "DSD "u8, 14, .. "not compressed\0"u8
        ];
        byte[] body = [
            .. "DSD "u8, .. "FVER"u8, .. Big(4, 8), 1, 5, 0, 0, .. "PROP"u8, .. Big(properties.Length, 8), .. properties, .. "DSD "u8,
            .. Big(data.Length, 8), .. data, .. "ID3 "u8, .. Big(tag.Length, 8), .. tag
        ];
        byte[] dff = [.. "FRM8"u8, .. Big(body.Length, 8), .. body];
        File.WriteAllBytes(_folder["one." + kind], kind == "dsf" ? dsf : dff);
        using var stream = File.OpenRead(_folder["one." + kind]);
        var reading = FileReading.Read(stream);
        var outside = AudioFiles.Probe(_folder["one." + kind]);
        Assert.Equal(
            ("DSD", outside.Format, (long)BlockBytes * Blocks), (reading.Facts!.CodecName, reading.Facts.Format, reading.Facts.FrameCount));
        Assert.Equal(CountDecoded(_folder["one." + kind]), reading.Facts.FrameCount);
        Assert.Equal("Lamp Room", reading.Tags.First(FieldNames.Title));
    }

    [Theory]
    [InlineData("128k", "", false, 128)]
    [InlineData("", "400", true, 0)]
    public void Constant_and_variable_mp3_are_distinguished_with_and_without_info_frame(
        string bitRate, string quality, bool variable, int kilobits)
    {
        (string, string)[] options = bitRate.Length > 0 ? [("b", bitRate)] : [("flags", "+qscale"), ("global_quality", quality)];
        var path = EncodedFile.Write(
            _folder["x.mp3"], "mp3", "libmp3lame", Sound(new PcmFormat(new SampleRate(44_100), 2, 16), 20), options);
        var whole = Read(path);
        Assert.Equal(variable, whole.IsVariableBitRate);
        Assert.Equal(20 * 44_100, whole.FrameCount);

        // Without the tag and the first frame nothing states the length: it is counted, and delay and padding stay in it.
        var bytes = File.ReadAllBytes(path);
        int info = Math.Max(bytes.AsSpan().IndexOf("Xing"u8), bytes.AsSpan().IndexOf("Info"u8));
        var bare = bytes[bytes.AsSpan(info).IndexOf((byte[])[0xFF, 0xFB]) is var at and > 0 ? (info + at).. : ..];
        byte[] junk = [.. "RIFFjunk"u8, .. Enumerable.Range(0, 3_000).Select(i => (byte)(i % 251))];
        using var stream = new MemoryStream([.. junk, .. bare]);
        var counted = FileReading.Read(stream).Facts!;
        Assert.Equal(variable, counted.IsVariableBitRate);
        Assert.InRange(counted.FrameCount - whole.FrameCount, 0, 3 * 1152);
        Assert.Contains("not audio", Assert.Single(counted.Damage), StringComparison.Ordinal);
        if (!variable)
            Assert.Equal((kilobits, kilobits), (whole.KilobitsPerSecond, counted.KilobitsPerSecond));
        else
            Assert.InRange(counted.KilobitsPerSecond, 33, 319);
    }

    /// <summary>Junk behind the info frame, and between the first frames of a file that has none.</summary>
    [Theory]
    [InlineData("")]
    [InlineData("400")]
    public void Junk_between_frames_does_not_end_an_mp3(string quality)
    {
        const int HeaderLength = 4;
        (string, string)[] options = quality.Length > 0 ? [("flags", "+qscale"), ("global_quality", quality)] : [("b", "128k")];
        var path = EncodedFile.Write(
            _folder[$"junk{quality}.mp3"], "mp3", "libmp3lame", Sound(new PcmFormat(new SampleRate(44_100), 2, 16), 20), options);
        var bytes = File.ReadAllBytes(path).AsSpan();
        var first = bytes[bytes.IndexOf((byte[])[0xFF, 0xFB])..];
        int second = HeaderLength + first[HeaderLength..].IndexOf((byte[])[0xFF, 0xFB]),
            third = second + HeaderLength + first[(second + HeaderLength)..].IndexOf((byte[])[0xFF, 0xFB]);
        byte[] junk = [.. Enumerable.Range(0, 5_000).Select(i => (byte)(i % 251))];
        var behindInfo = FileReading.Read(new MemoryStream([.. first[..second], .. junk, .. first[second..]])).Facts!;
        Assert.Equal(20 * 44_100, behindInfo.FrameCount);
        var behindSound = FileReading.Read(
            new MemoryStream([.. first[second..third], .. first[second..third], .. junk, .. first[third..]])).Facts!;
        Assert.InRange(behindSound.FrameCount - 20 * 44_100, -1152, 4 * 1152);
        Assert.Contains("5,000 bytes between frames", Assert.Single(behindSound.Damage), StringComparison.Ordinal);
    }

    /// <summary>A block without samples carries only metadata (WavPack 4 and 5 file format).</summary>
    [Fact]
    public void A_wavpack_block_without_samples_says_nothing_about_the_sound()
    {
        const int SamplesAt = 20, HeadLength = 32;
        var path = EncodedFile.Write(_folder["empty.wv"], "wv", "wavpack", Sound(new PcmFormat(new SampleRate(44_100), 2, 16), Seconds));
        var bytes = File.ReadAllBytes(path);
        var empty = bytes[..HeadLength];
        BitConverter.TryWriteBytes(empty.AsSpan(4), HeadLength - 8);
        empty.AsSpan(SamplesAt).Clear();
        File.WriteAllBytes(path, [.. empty, .. bytes]);
        var facts = Read(path);
        var outside = AudioFiles.Probe(path);
        Assert.Equal((outside.Format, (long)(Seconds * 44_100)), (facts.Format, facts.FrameCount));
    }

    /// <summary>Free format: the bitrate index is 0 and only the next header tells a frame's length (ISO/IEC 11172-3, 2.4.2.3).</summary>
    [Fact]
    public void Mp3_of_free_format_is_measured_by_its_frames()
    {
        using var stream = new MemoryStream();
        for (int i = 0; i < 100; i++)
        {
            bool padded = i % 3 == 1;
            stream.Write([0xFF, 0xFB, (byte)(padded ? 0x02 : 0x00), 0x00]);
            stream.Write(new byte[500 - 4 + (padded ? 1 : 0)]);
        }

        var facts = FileReading.Read(stream).Facts!;
        Assert.Equal(100 * 1152, facts.FrameCount);
        Assert.Equal(44_100, facts.Format.Rate.Hertz);
        Assert.Equal((int)Math.Round(stream.Length * 8 / (100 * 1152 / 44_100.0) / 1000), facts.KilobitsPerSecond);
    }

    /// <summary>There is no APE encoder to use: headers are built by hand and read by libav as well.</summary>
    [Theory]
    [InlineData(3990, 24, 2, 96_000)]
    [InlineData(3990, 16, 1, 44_100)]
    [InlineData(3950, 16, 2, 44_100)]
    public void Ape_headers_agree_with_libav(int version, int bits, int channels, int rate)
    {
        const int Frames = 3, LastBlocks = 1_000;
        using var made = new MemoryStream();
        using (var head = new BinaryWriter(made, System.Text.Encoding.ASCII, leaveOpen: true))
        {
            head.Write("MAC "u8);
            head.Write((ushort)version);
            if (version >= 3980)
            {
                head.Write((ushort)0);
                foreach (uint field in (uint[])[52, 24, 4 * Frames, 0, 4_000, 0, 0])
                    head.Write(field);
                head.Write(new byte[16]);
                head.Write((ushort)2000);
                head.Write((ushort)0x20);
                foreach (uint field in (uint[])[73_728, LastBlocks, Frames])
                    head.Write(field);
                head.Write((ushort)bits);
                head.Write((ushort)channels);
                head.Write((uint)rate);
            }
            else
            {
                head.Write((ushort)2000);
                head.Write((ushort)0x20);
                head.Write((ushort)channels);
                foreach (uint field in (uint[])[(uint)rate, 0, 0, Frames, LastBlocks])
                    head.Write(field);
            }

            for (int i = 0; i < Frames; i++)
                head.Write((uint)(200 + i * 1_200));
            head.Write(new byte[4_000]);
        }

        File.WriteAllBytes(_folder["x.ape"], made.ToArray());
        var ours = Read(_folder["x.ape"]);
        int blocks = version >= 3980 ? 73_728 : 73_728 * 4;
        Assert.Equal((Frames - 1) * blocks + LastBlocks, ours.FrameCount);
        Assert.Equal(new PcmFormat(new SampleRate(rate), channels, bits), ours.Format);
        using var outside = new LibAvReader(_folder["x.ape"]);
        Assert.Equal((outside.CodecName, outside.Format.Rate, outside.Format.Channels), ("ape", ours.Format.Rate, ours.Format.Channels));
        Assert.Equal(outside.FrameCount!.Value, ours.FrameCount);
    }

    [Theory]
    [InlineData("x.m4a", "mp4", "aac", true)]
    [InlineData("x.ogg", "ogg", "libvorbis", true)]
    [InlineData("x.opus", "ogg", "libopus", true)]
    [InlineData("x.wma", "asf", "wmav2", false)]
    [InlineData("x.wv", "wv", "wavpack", true)]
    public void Tags_that_mutagen_writes_are_read_whole(string name, string container, string codec, bool hasAll)
    {
        var format = codec is "libopus" or "wavpack" ? new PcmFormat(new SampleRate(48_000), 2, 16) : Floats44;
        var path = EncodedFile.Write(_folder[name], container, codec, Sound(format, 1));
        byte[] cover = [0xFF, 0xD8, 0xFF, 0xE0, .. Enumerable.Range(0, 150_000).Select(i => (byte)(i * 31 >> 3))];
        File.WriteAllBytes(_folder["cover.jpg"], cover);
        var fields = new JsonObject
        {
            ["title"] = "Blue Slate Rain, фонарь",
            ["artist"] = "Tin Orchard",
            ["albumartist"] = "Various",
            ["album"] = "Songs from the Winding House",
            ["date"] = "2019",
            ["genre"] = "Songs",
            ["composer"] = "Wickwire",
            ["comment"] = "A note\nin two lines",
        };
        Mutagen.WriteEasy(path, fields, _folder["cover.jpg"]);
        using var stream = File.OpenRead(path);
        var (tags, damage) = FileReading.ReadTags(stream);
        Assert.Empty(damage);
        string?[] read =
        [
            tags.First(FieldNames.Title), tags.First(FieldNames.Artist), tags.First(FieldNames.AlbumArtist), tags.First(FieldNames.Album),
            tags.First(FieldNames.Year), tags.First(FieldNames.Genre), tags.First(FieldNames.Composer), tags.First(FieldNames.Comment),
        ];
        Assert.Equal(fields.Select(field => field.Value!.GetValue<string>()), read);
        Assert.Equal(
            (3, 1, 2, 76),
            (tags.Number(FieldNames.Track), tags.Number(FieldNames.Disc), tags.Number(FieldNames.DiscTotal),
                tags.Number(FieldNames.Tempo)));
        Assert.Equal("1", tags.First(FieldNames.Compilation));
        if (hasAll)
            Assert.Equal(
                (9, "灯"),
                (tags.Number(FieldNames.TrackTotal), tags.First(container == "mp4" ? "village.lantern:lamp keeper" : "lamp keeper")));
        var picture = Assert.Single(tags.Pictures);
        Assert.Equal((PictureKind.Front, "image/jpeg"), (picture.Kind, picture.MimeType));
        Assert.True(picture.Data.Span.SequenceEqual(cover));
        Assert.Empty(Read(path).Damage);
    }

    private static long CountDecoded(string path)
    {
        using var reader = new LibAvReader(path);
        var block = new SampleBuffer(reader.Format);
        long frames = 0;
        while (reader.Read(block) > 0)
            frames += block.FrameCount;
        return frames;
    }

    private static AudioFacts Read(string path) => ReadOrNull(path) ?? throw new InvalidOperationException("left to the worker");

    private static AudioFacts? ReadOrNull(string path)
    {
        using var stream = File.OpenRead(path);
        return FileReading.Read(stream).Facts;
    }

    private static TestSound Sound(PcmFormat format, double seconds)
    {
        long frames = (long)(seconds * format.Rate.Hertz);
        return format.IsFloat
            ? new TestSound(format, frames, (block, start) =>
            {
                var samples = block.Floats;
                for (int i = 0; i < samples.Length; i++)
                    samples[i] = 0.4f * MathF.Sin((start + i / format.Channels) * 0.05f * (1 + i % format.Channels));
            })
            : TestSound.Music(format, frames);
    }
}
