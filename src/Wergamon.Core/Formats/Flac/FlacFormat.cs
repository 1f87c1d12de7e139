using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Flac;

/// <summary>FLAC (RFC 9639).</summary>
public sealed class FlacFormat : WritableFormat
{
    /// <summary>Lossless compression of music gives 50 to 70 % of PCM (common practice, no source); the middle of it.</summary>
    private const double UsualShare = 0.6;

    public static FlacFormat Instance { get; } = new();

    private FlacFormat() : base("flac", "FLAC", ".flac") { }

    public override bool IsReadableWhileWritten => true;

    /// <summary>The format holds 4 to 32 bits (RFC 9639, section 8.2); the encoder takes these two.</summary>
    public override FormatLimits Limits { get; } = new() { MaxChannels = 8, Bits = [16, 24] };

    public override IReadOnlyList<QualityScale> Scales { get; } =
    [
        new(
            "level", "Compression", [.. Enumerable.Range(0, FlacSettings.MaxLevel + 1).Select(level => new FlacSettings { Level = level })],
            new FlacSettings(), "0 quick", "8 small"),
    ];

    public override TagDialect Dialect => FlacDialect.Instance;

    public override string BrowserType(string codecName) => "audio/flac";

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags)
    {
        double bytes = sound is { IsUnchanged: true, Source.FileFormat: FlacFormat }
            ? sound.Source.KilobitsPerSecond * 125.0 * sound.Source.Duration.TotalSeconds
            : sound.Frames * sound.Format.BytesPerFrame * UsualShare;
        return new SizeEstimate((long)bytes + TagBytes(tags), SizeBasis.Experience);
    }

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null) =>
        new FlacWriter(stream, input, tags, sink => encoders.Open(
            "flac", input,
            new Dictionary<string, string>
            {
                ["compression_level"] = ((FlacSettings)settings).Level.ToString(CultureInfo.InvariantCulture)
            },
            sink));

    public override bool CanCarry(AudioFacts source) => source.CodecName == Name;

    public override IPcmWriter OpenCarrier(Stream stream, PcmFormat input, TagSet tags, ICodedSound source) =>
        new FlacWriter(stream, input, tags, sink => new CarriedFlac(source, input, sink));

    /// <summary>A stream that was written without going back leaves length and MD5 open.</summary>
    public override bool IsWhole(Stream stream) =>
        FlacTags.Read(stream, FlacTags.FindStart(stream) ?? 0).StreamInfo is { FrameCount: not null, SampleMd5: not null };

    public override string? VerifyHeader(Stream stream, long frames, string? md5)
    {
        var stated = FlacTags.Read(stream, 0).StreamInfo;
        return stated?.FrameCount == frames && stated.SampleMd5 == md5
            ? null
            : "The head of the new file does not state the samples that are in it.";
    }

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options)
    {
        long start = FlacTags.FindStart(source) ?? throw new UnreadableAudioException("This is not a FLAC file.");
        var head = FlacTags.Read(source, start);
        var streamInfo = new byte[FlacStreamInfo.Length];
        source.Position = start + FlacTags.StreamInfoOffset;
        if (head.StreamInfo is null || !source.TryReadWhole(streamInfo))
            throw new UnreadableAudioException("The FLAC file does not say what audio it holds.");
        var edit = new TagEdit();
        edit.Add(FlacTags.WriteInto(head.AudioOffset, streamInfo, head.SeekTable, tags));
        edit.Keep(head.AudioOffset, source.Length - head.AudioOffset);
        return edit;
    }

    public override string HashSound(Stream stream) =>
        RangeHash.Of(stream, FlacTags.Read(stream, FlacTags.FindStart(stream) ?? 0).AudioOffset, stream.Length);

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (FlacTags.FindStart(stream) is not { } at)
            return null;
        var head = FlacTags.Read(stream, at);
        return new OpenedFile(
            this, () => ReadFacts(stream, head),
            () => at == 0 ? head.AsReading() : TagsAroundSound.Join(head.AsReading(), Id3v2Reader.ReadAtStart(stream)));
    }

    private AudioFacts? ReadFacts(Stream stream, FlacHead head)
    {
        if (head.StreamInfo is not { } info)
            throw new UnreadableAudioException("The FLAC file does not say what audio it holds.");
        long audioBytes = stream.Length - head.AudioOffset;
        if (audioBytes <= 0)
            throw new UnreadableAudioException("The FLAC file has a header but no audio.");
        return info.FrameCount is { } frames
            ? new AudioFacts(
                this, Name, info.Format, frames, IsLossless: true,
                AudioFacts.MeanKilobits(audioBytes, frames, info.Format.Rate))
            { Damage = head.Damage }
            : null;
    }
}
