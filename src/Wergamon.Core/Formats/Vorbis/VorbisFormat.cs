using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Ogg;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Vorbis;

/// <summary>Vorbis in Ogg (Vorbis I specification).</summary>
public sealed class VorbisFormat : WritableFormat, IOggCodec
{
    /// <summary>Identification, comments and setup (Vorbis I specification, 4.2.1).</summary>
    private const int HeaderCount = 3;

    public static VorbisFormat Instance { get; } = new();

    private VorbisFormat() : base("vorbis", "Vorbis", ".ogg") { }

    FileFormat IOggCodec.Format => this;

    bool IOggCodec.Recognises(ReadOnlySpan<byte> firstPacket) => firstPacket.StartsWith("\u0001vorbis"u8);

    /// <summary>Vorbis I specification, 4.2.2.</summary>
    OggIdentity? IOggCodec.ReadIdentity(ReadOnlySpan<byte> firstPacket)
    {
        var cursor = new ByteCursor(firstPacket);
        cursor.Skip(7 + 4);
        int channels = cursor.Byte();
        uint rate = cursor.UInt32LittleEndian();
        uint most = cursor.UInt32LittleEndian();
        cursor.Skip(4);
        uint least = cursor.UInt32LittleEndian();
        return OggIdentity.OfLossy(cursor, Name, channels, rate, 0, isVariable: most == 0 || most != least);
    }

    public override bool IsLossy => true;

    public override bool IsReadableWhileWritten => true;

    /// <summary>The encoder has setups for these rates; 8 channels have an order of their own (Vorbis I specification, 4.3.9).</summary>
    public override FormatLimits Limits { get; } = new()
    {
        MaxChannels = 8,
        Layouts = OggLayouts.All,
        HoldsFloat = true,
        Rates = [8_000, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000, 64_000, 88_200, 96_000, 176_400, 192_000],
    };

    public override IReadOnlyList<QualityScale> Scales { get; } =
    [
        new(
            "quality", "Quality",
            [
                .. Enumerable.Range(VorbisSettings.MinQuality, VorbisSettings.MaxQuality - VorbisSettings.MinQuality + 1)
                    .Select(quality => new VorbisSettings(quality))
            ],
            new VorbisSettings(6), "-1 smallest", "10 best"),
    ];

    public override TagDialect Dialect => OggDialect.Instance;

    public override string BrowserType(string codecName) => "audio/ogg";

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        SizeEstimate.OfMeanRate(settings, sound, TagBytes(tags));

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null)
    {
        var options = new Dictionary<string, string>
        {
            ["flags"] = "+qscale",
            ["global_quality"] = LibAvQuality.Of(((VorbisSettings)settings).Quality)
        };
        return new OggWriter(
            stream, input, sink => encoders.Open("libvorbis", input, options, sink), extraData => HeadersOf(Split(extraData), tags));
    }

    public override bool CanCarry(AudioFacts source) => source.CodecName == Name;

    public override IPcmWriter OpenCarrier(Stream stream, PcmFormat input, TagSet tags, ICodedSound source)
    {
        var setup = source.Setup.ToArray();
        var headers = Split(setup);
        var length = VorbisPacketLength.Of(headers) ?? throw new CodecException("The Vorbis headers are damaged.");
        return new OggWriter(stream, input, sink => new CarriedEncoder(source, length.Next, setup, sink), _ => HeadersOf(headers, tags));
    }

    private static VorbisHeaders Split(byte[] extraData) =>
        VorbisHeaders.Split(extraData) ?? throw new CodecException("There are no Vorbis headers.");

    private static OggHeaders HeadersOf(VorbisHeaders headers, TagSet tags) =>
        new([headers.Identification, OggTags.VorbisPacket(tags), headers.Setup], 0);

    public override string? VerifyHeader(Stream stream, long frames, string? md5) => OggHeader.FindFalseLength(stream, this, frames);

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) =>
        OggTags.Edit(source, HeaderCount, OggTags.VorbisPacket(tags));

    public override string HashSound(Stream stream) => OggTags.HashSound(stream, HeaderCount);
}
