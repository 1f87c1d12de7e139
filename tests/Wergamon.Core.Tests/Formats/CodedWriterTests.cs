using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Formats;

/// <summary>What the writers put around the packets of an encoder, with a scripted encoder.</summary>
public sealed class CodedWriterTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>
    /// RFC 9639, section 8: the marker, STREAMINFO, the other blocks, then frames; the final STREAMINFO replaces the first.
    /// </summary>
    [Fact]
    public void Flac_gets_its_header_first_and_its_final_numbers_last()
    {
        var encoders = new ScriptedEncoders { FinalExtraData = StreamInfo(0x22) };
        var file = new MemoryStream();
        TestSound.Noise(Format, 100)
            .CopyTo(FlacFormat.Instance.OpenWriter(file, Format, Titled(), new FlacSettings { Level = 3 }, encoders));
        Assert.Equal(("flac", "3"), (encoders.Name, encoders.Options["compression_level"]));
        var bytes = file.ToArray();
        Assert.Equal(StreamInfo(0x22), bytes[FlacTags.StreamInfoOffset..(FlacTags.StreamInfoOffset + FlacStreamInfo.Length)]);
        var head = FlacTags.Read(new MemoryStream(bytes), 0);
        Assert.Equal("Gas Test", head.Tags.First(FieldNames.Title));
        Assert.Equal(ScriptedEncoders.Packet, bytes[(int)head.AudioOffset..]);
    }

    [Fact]
    public void An_encoder_that_breaks_its_promises_is_refused()
    {
        var noFinal = new ScriptedEncoders();
        Assert.Throws<CodecException>(
            () =>
                TestSound.Noise(Format, 100)
                    .CopyTo(FlacFormat.Instance.OpenWriter(new MemoryStream(), Format, new TagSet(), new FlacSettings(), noFinal)));
        var tooMuch = new ScriptedEncoders { Extra = new byte[FlacStreamInfo.Length + 1] };
        Assert.Throws<CodecException>(
            () => FlacFormat.Instance.OpenWriter(new MemoryStream(), Format, new TagSet(), new FlacSettings(), tooMuch));
        // No frame that could state the length.
        Assert.Throws<CodecException>(
            () =>
                TestSound.Noise(Format, 100)
                    .CopyTo(
                        Mp3Format.Instance.OpenWriter(
                            new MemoryStream(), Format, new TagSet(), Mp3Settings.Constant(128), new ScriptedEncoders())));
    }

    [Theory]
    [InlineData(Mp3Mode.Constant, 320, 44_100, "b", "320000")]
    [InlineData(Mp3Mode.Average, 320, 22_050, "b", "160000")]
    [InlineData(Mp3Mode.Constant, 320, 8_000, "b", "64000")]
    [InlineData(Mp3Mode.Variable, 2, 44_100, "global_quality", "236")]
    public void An_mp3_starts_with_its_tag_and_keeps_to_bitrates_of_its_rate(
        Mp3Mode mode, int value, int rate, string option, string expected)
    {
        var encoders = new ScriptedEncoders();
        var file = new MemoryStream();
        using var writer = Mp3Format.Instance.OpenWriter(
            file, Format with { Rate = new SampleRate(rate) }, Titled(), new Mp3Settings(mode, value), encoders);
        Assert.Equal(("libmp3lame", "mp3", expected), (encoders.Name, encoders.Container, encoders.Options[option]));
        Assert.Equal("Gas Test", Id3v2Reader.Read(file.ToArray()).Tags.First(FieldNames.Title));
    }

    private static byte[] StreamInfo(byte filling)
    {
        var block = new byte[FlacStreamInfo.Length];
        Array.Fill(block, filling);
        return block;
    }

    private static TagSet Titled()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Gas Test");
        return tags;
    }

    /// <summary>Gives one packet, whatever the input.</summary>
    private sealed class ScriptedEncoders : IEncoders
    {
        public static readonly byte[] Packet = [0xFF, 0xF8, 1, 2, 3];

        public byte[] Extra { get; init; } = StreamInfo(0x11);

        public byte[] FinalExtraData { get; init; } = [];

        public string Name { get; private set; } = "";

        public string Container { get; private set; } = "";

        public Dictionary<string, string> Options { get; private set; } = [];

        public IEncoder Open(string name, PcmFormat input, IReadOnlyDictionary<string, string> options, PacketSink takePacket)
        {
            (Name, Options) = (name, new(options));
            return new ScriptedEncoder(Extra, () => takePacket(new EncodedPacket(Packet, FinalExtraData, 0)));
        }

        public IEncoder OpenInContainer(
            string name, PcmFormat input, IReadOnlyDictionary<string, string> options, Stream stream, string container,
            IReadOnlyDictionary<string, string> containerOptions)
        {
            (Name, Options, Container) = (name, new(options), container);
            return new ScriptedEncoder(Extra, () => stream.Write(new byte[8]));
        }
    }

    private sealed class ScriptedEncoder(byte[] extra, Action complete) : IEncoder
    {
        public ReadOnlySpan<byte> ExtraData => extra;

        public int Delay => 0;

        public void Write(SampleBuffer block)
        {
        }

        public void Complete() => complete();

        public void Dispose()
        {
        }
    }
}
