using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp4;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Aac;

/// <summary>AAC (ISO/IEC 14496-3, low complexity) in M4A.</summary>
public sealed class AacFormat : WritableFormat
{
    public static AacFormat Instance { get; } = new();

    private AacFormat() : base("aac", "AAC", ".m4a") { }

    public override bool IsLossy => true;

    /// <summary>
    /// Rates that have an index (ISO/IEC 14496-3, table 1.18); more than 6 channels few players take (common practice, no source).
    /// </summary>
    public override FormatLimits Limits { get; } = new()
    {
        MaxChannels = 6,
        Layouts = [ChannelRoles.Surround30, ChannelRoles.Surround40, ChannelRoles.Surround50Back, ChannelRoles.Surround51Back],
        HoldsFloat = true,
        Rates = [8_000, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000, 64_000, 88_200, 96_000],
    };

    public override IReadOnlyList<QualityScale> Scales { get; } =
    [
        new("constant", "Quality", [.. AacSettings.Rates.Select(rate => new AacSettings(rate))], new AacSettings(256), "64", "320"),
    ];

    public override TagDialect Dialect => Mp4Dialect.Instance;

    public override string BrowserType(string codecName) => "audio/mp4";

    /// <summary>Decoders give whole packets; the header says which samples are music.</summary>
    public override bool HasPaddingBehindMusic => true;

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        SizeEstimate.OfMeanRate(settings, sound, TagBytes(tags));

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null)
    {
        var options = new Dictionary<string, string>
        {
            ["b"] = ((AacSettings)settings).RateFor(input).ToString(CultureInfo.InvariantCulture)
        };
        return new Mp4Writer(
            stream, input, tags, sink => encoders.Open("aac", input, options, sink),
            (boxes, setup, rates) => WriteEntry(boxes, input, setup, rates));
    }

    public override bool CanCarry(AudioFacts source) => source.CodecName == Name;

    public override IPcmWriter OpenCarrier(Stream stream, PcmFormat input, TagSet tags, ICodedSound source)
    {
        var sound = source.Setup.IsEmpty ? new AdtsSound(source) : source;
        int frames = sound.PacketFrames > 0 ? sound.PacketFrames : AacSettings.PacketFrames;
        return new Mp4Writer(
            stream, input, tags,
            sink => new CarriedEncoder(sound, _ => frames, sound.Setup.ToArray(), sink),
            (boxes, setup, rates) => WriteEntry(boxes, input, setup, rates));
    }

    public override string? VerifyHeader(Stream stream, long frames, string? md5) => Mp4Header.FindFalseLength(stream, this, frames);

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) => Mp4Rewriter.Edit(source, Dialect.Select(tags));

    public override string HashSound(Stream stream) => Mp4Rewriter.HashSound(stream);

    /// <summary>The sample entry with its elementary stream descriptor (ISO/IEC 14496-14, 5.6; 14496-1, 7.2.6).</summary>
    private static void WriteEntry(BoxWriter boxes, PcmFormat format, ReadOnlySpan<byte> setup, Mp4Bitrates rates)
    {
        const int EsTag = 3, ConfigTag = 4, SetupTag = 5, SyncTag = 6;
        const int AacObject = 0x40, AudioStream = 0x15;
        using (Mp4Writer.OpenEntry(boxes, "mp4a"u8, format, bits: 16))
        using (boxes.OpenFull("esds"u8))
        {
            int setupLength = DescriptorHead + setup.Length;
            int configLength = DescriptorHead + 13 + setupLength;
            Descriptor(boxes, EsTag, 3 + configLength + DescriptorHead + 1);
            boxes.Zeros(3);
            Descriptor(boxes, ConfigTag, 13 + setupLength);
            boxes.Byte(AacObject);
            boxes.Byte(AudioStream);
            boxes.Byte((int)(rates.LargestPacket >> 16));
            boxes.UInt16((int)rates.LargestPacket);
            boxes.UInt32(rates.Max);
            boxes.UInt32(rates.Mean);
            Descriptor(boxes, SetupTag, setup.Length);
            boxes.Bytes(setup);
            Descriptor(boxes, SyncTag, 1);
            boxes.Byte(2);
        }
    }

    private const int DescriptorHead = 5;

    /// <summary>Tag, and length in four bytes of seven bits each.</summary>
    private static void Descriptor(BoxWriter boxes, int tag, int length)
    {
        boxes.Byte(tag);
        for (int shift = 21; shift >= 0; shift -= 7)
            boxes.Byte(length >> shift & 0x7F | (shift > 0 ? 0x80 : 0));
    }
}
