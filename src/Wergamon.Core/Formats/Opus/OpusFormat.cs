using System.Buffers.Binary;
using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Ogg;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Opus;

/// <summary>Opus in Ogg (RFC 6716, RFC 7845).</summary>
public sealed class OpusFormat : WritableFormat, IOggCodec
{
    /// <summary>Opus counts its positions at this rate, whatever the rate of the source was (RFC 7845, section 4).</summary>
    private const int Rate = 48_000;

    /// <summary>Loudspeakers in the order of Vorbis (RFC 7845, section 5.1.1.2).</summary>
    private const string SurroundFamily = "1";

    private const int HeaderCount = 2;
    private const int PreSkipOffset = 10;

    public static OpusFormat Instance { get; } = new();

    private OpusFormat() : base("opus", "Opus", ".opus") { }

    /// <summary>How the identification header starts (RFC 7845, section 5.1).</summary>
    private static ReadOnlySpan<byte> Mark => "OpusHead"u8;

    FileFormat IOggCodec.Format => this;

    bool IOggCodec.Recognises(ReadOnlySpan<byte> firstPacket) => firstPacket.StartsWith(Mark);

    /// <summary>RFC 7845, section 5.1.</summary>
    OggIdentity? IOggCodec.ReadIdentity(ReadOnlySpan<byte> firstPacket)
    {
        var cursor = new ByteCursor(firstPacket);
        cursor.Skip(9);
        int channels = cursor.Byte();
        int skip = cursor.UInt16LittleEndian();
        return OggIdentity.OfLossy(cursor, Name, channels, Rate, skip, isVariable: true);
    }

    /// <summary>RFC 7845, section 4.1.</summary>
    long IOggCodec.StartOf(OggPages pages) => Math.Max(0, pages.FirstPosition(packet => OpusPacket.FramesOf(packet.Span)) ?? 0);

    public override bool IsLossy => true;

    public override bool IsReadableWhileWritten => true;

    /// <summary>Layouts of channel mapping family 1, those of Vorbis (RFC 7845, section 5.1.1.2).</summary>
    public override FormatLimits Limits { get; } = new()
    {
        MaxChannels = 8,
        Layouts = OggLayouts.All,
        HoldsFloat = true,
        Rates = [Rate]
    };

    public override IReadOnlyList<QualityScale> Scales { get; } =
    [
        new("variable", "Quality", [.. OpusSettings.Rates.Select(rate => new OpusSettings(rate))], new OpusSettings(128), "32", "256"),
    ];

    public override TagDialect Dialect => OggDialect.Instance;

    public override string BrowserType(string codecName) => "audio/ogg";

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        SizeEstimate.OfMeanRate(settings, sound, TagBytes(tags));

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null)
    {
        double rate = 1000 * settings.MeanKilobits(input)!.Value;
        var options = new Dictionary<string, string>
        {
            ["b"] = ((int)rate).ToString(CultureInfo.InvariantCulture),
            ["vbr"] = "on",
            ["application"] = "audio"
        };
        // Without it the encoder takes the channels in an order of its own and states none.
        if (input.Channels > 2)
            options["mapping_family"] = SurroundFamily;
        return new OggWriter(stream, input, sink => encoders.Open("libopus", input, options, sink), head => HeadersOf(head, tags));
    }

    public override bool CanCarry(AudioFacts source) => source.CodecName == Name;

    public override IPcmWriter OpenCarrier(Stream stream, PcmFormat input, TagSet tags, ICodedSound source)
    {
        var setup = source.Setup.ToArray();
        var headers = HeadersOf(setup, tags);
        return new OggWriter(
            stream, input, sink => new CarriedEncoder(source, packet => OpusPacket.FramesOf(packet), setup, sink, headers.Skipped),
            _ => headers);
    }

    private static OggHeaders HeadersOf(byte[] head, TagSet tags) => head.AsSpan().StartsWith(Mark) && head.Length >= PreSkipOffset + 2
        ? new OggHeaders([head, OggTags.OpusPacket(tags)], BinaryPrimitives.ReadUInt16LittleEndian(head.AsSpan(PreSkipOffset)))
        : throw new CodecException("There is no Opus header.");

    public override string? VerifyHeader(Stream stream, long frames, string? md5) => OggHeader.FindFalseLength(stream, this, frames);

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) =>
        OggTags.Edit(source, HeaderCount, OggTags.OpusPacket(tags));

    public override string HashSound(Stream stream) => OggTags.HashSound(stream, HeaderCount);
}
