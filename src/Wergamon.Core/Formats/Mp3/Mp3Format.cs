using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Mp3;

/// <summary>MPEG audio as bare frames with tags around them. Layer III is written; layers I and II are only read.</summary>
public sealed class Mp3Format : WritableFormat
{
    private const int FrameSamples = 1152;
    private const int LowRateFrameSamples = 576;

    /// <summary>Encoder delay, decoder delay and padding of the last frame, in samples.</summary>
    private const int ExtraSamples = 576 + 529 + 288;

    public static Mp3Format Instance { get; } = new();

    private Mp3Format() : base("mp3", "MP3", ".mp3") { }

    public override bool IsLossy => true;

    /// <summary>
    /// Sample rates of MPEG-1 and MPEG-2 layer III (ISO 11172-3, ISO 13818-3) and their halves. The encoder takes integers and floats of
    /// any depth.
    /// </summary>
    public override FormatLimits Limits { get; } = new()
    {
        MaxChannels = 2,
        HoldsFloat = true,
        Rates = [8_000, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000],
    };

    public override IReadOnlyList<QualityScale> Scales { get; } =
    [
        new("constant", "Quality", [.. Mp3Settings.ConstantRates.Select(Mp3Settings.Constant)], Mp3Settings.Constant(256), "96", "320"),
        new("average", "Quality", [.. Mp3Settings.ConstantRates.Select(Mp3Settings.Average)], Mp3Settings.Average(192), "96", "320"),
        new(
            "variable", "Quality", [.. Enumerable.Range(0, Mp3Settings.MaxVariable + 1).Reverse().Select(Mp3Settings.Variable)],
            Mp3Settings.Variable(2), "9 smallest", "0 best"),
    ];

    public override TagDialect Dialect => Id3v2Dialect.Instance;

    public override string? BrowserType(string codecName) => codecName == "MP3" ? "audio/mpeg" : null;

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags)
    {
        var mp3 = (Mp3Settings)settings;
        int hertz = sound.Format.Rate.Hertz;
        int frameSamples = hertz >= 32_000 ? FrameSamples : LowRateFrameSamples;
        long frames = (sound.Frames + ExtraSamples + frameSamples - 1) / frameSamples + 1;
        long bytes = (long)(frames * (double)frameSamples * mp3.KilobitsPerSecond(hertz) * 125 / hertz);
        return new SizeEstimate(bytes + TagBytes(tags), mp3.Mode == Mp3Mode.Constant ? SizeBasis.Bitrate : SizeBasis.Experience);
    }

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null) =>
        new Mp3Writer(stream, input, tags, (Mp3Settings)settings, encoders, tagOptions);

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) =>
        TagsAroundSound.EditAtStart(source, tags, options);

    public override string HashSound(Stream stream) => TagsAroundSound.HashSound(stream);

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) =>
        !IsMusepack(stream) && Mp3Header.Find(stream) is { } found
        ? new OpenedFile(this, () => Mp3Header.Read(stream, found), () => TagsAroundSound.Read(stream))
        : null;

    /// <summary>Whether the frames state no bitrate (ISO/IEC 11172-3, 2.4.2.3), which not every decoder takes.</summary>
    /// <param name="stream">A file of this format.</param>
    public static bool IsFreeFormat(Stream stream) => Mp3Header.Find(stream) is { Frame.IsFreeFormat: true };

    /// <summary>Where the frames end and tags begin that a decoder could take for sound, in bytes from the start.</summary>
    public static long EndOfSound(Stream stream) => TagsAroundSound.EndOfSound(stream);

    /// <summary>
    /// Musepack of stream version 7 or 8, whose bytes can pass for frames of layer I (from memory; held against libavformat).
    /// </summary>
    private static bool IsMusepack(Stream stream)
    {
        Span<byte> mark = stackalloc byte[4];
        stream.Position = Id3v2Reader.LengthAtStart(stream);
        return stream.TryReadWhole(mark) && (mark.StartsWith("MP+"u8) || mark.SequenceEqual("MPCK"u8));
    }
}
