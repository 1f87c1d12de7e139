using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp4;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Alac;

/// <summary>Apple Lossless in M4A.</summary>
public sealed class AlacFormat : WritableFormat
{
    /// <summary>Lossless compression of music gives 50 to 70 % of PCM (common practice, no source); the middle of it.</summary>
    private const double UsualShare = 0.6;

    public static AlacFormat Instance { get; } = new();

    private AlacFormat() : base("alac", "ALAC", ".m4a") { }

    public override FormatLimits Limits { get; } = new()
    {
        MaxChannels = 7,
        Layouts = [
            ChannelRoles.Surround30, ChannelRoles.Surround40, ChannelRoles.Surround50Back, ChannelRoles.Surround51Back,
            ChannelRoles.Surround61Back
        ],
        Bits = [16, 24],
    };

    public override EncoderSettings UsualSettings => new AlacSettings();

    public override TagDialect Dialect => Mp4Dialect.Instance;

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        new((long)(sound.Frames * sound.Format.BytesPerFrame * UsualShare) + TagBytes(tags), SizeBasis.Experience);

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null) =>
        Write(stream, input, tags, sink => encoders.Open("alac", input, new Dictionary<string, string>(), sink));

    public override bool CanCarry(AudioFacts source) => source.CodecName == Name;

    public override IPcmWriter OpenCarrier(Stream stream, PcmFormat input, TagSet tags, ICodedSound source)
    {
        if (source.Setup.Length < AlacPacket.SetupLength)
            throw new CodecException("The file does not say how its ALAC is to be decoded.");
        var setup = source.Setup.ToArray();
        int usual = AlacPacket.UsualFrames(setup);
        return Write(stream, input, tags, sink => new CarriedEncoder(source, packet => AlacPacket.FramesOf(packet, usual), setup, sink));
    }

    private static Mp4Writer Write(Stream stream, PcmFormat input, TagSet tags, Func<PacketSink, IEncoder> open) => new(
        stream, input, tags, open,
        (boxes, setup, _) =>
        {
            using (Mp4Writer.OpenEntry(boxes, "alac"u8, input, input.Bits))
                boxes.Bytes(setup);
        });

    public override string? VerifyHeader(Stream stream, long frames, string? md5) => Mp4Header.FindFalseLength(stream, this, frames);

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) => Mp4Rewriter.Edit(source, Dialect.Select(tags));

    public override string HashSound(Stream stream) => Mp4Rewriter.HashSound(stream);
}

/// <summary>ALAC has nothing to choose.</summary>
public sealed record AlacSettings : EncoderSettings
{
    [JsonIgnore]
    public override WritableFormat Format => AlacFormat.Instance;

    public override string Summary => "ALAC, as the source";
}
