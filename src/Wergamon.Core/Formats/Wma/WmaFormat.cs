using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Asf;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Wma;

/// <summary>Windows Media Audio, standard (version 2), in ASF.</summary>
public sealed class WmaFormat : WritableFormat
{
    public static WmaFormat Instance { get; } = new();

    private WmaFormat() : base("wma", "WMA", ".wma") { }

    public override bool IsLossy => true;

    public override FormatLimits Limits { get; } = new()
    {
        MaxChannels = 2,
        HoldsFloat = true,
        Rates = [8_000, 11_025, 16_000, 22_050, 32_000, 44_100, 48_000]
    };

    public override IReadOnlyList<QualityScale> Scales { get; } =
    [
        new("constant", "Quality", [.. WmaSettings.Rates.Select(rate => new WmaSettings(rate))], new WmaSettings(192), "64", "192"),
    ];

    public override TagDialect Dialect => AsfDialect.Instance;

    /// <summary>Decoders give whole packets; the header says how long the music is.</summary>
    public override bool HasPaddingBehindMusic => true;

    public override long TagBytes(TagContents tags) => Dialect.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        SizeEstimate.OfMeanRate(settings, sound, TagBytes(tags));

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null)
    {
        var options = new Dictionary<string, string>
        {
            ["b"] = (1000 * settings.MeanKilobits(input)!.Value).ToString("0", CultureInfo.InvariantCulture)
        };
        return new WmaWriter(
            stream, input, tags, part => encoders.OpenInContainer("wmav2", input, options, part, "asf", new Dictionary<string, string>()));
    }

    public override string? VerifyHeader(Stream stream, long frames, string? md5) =>
        AsfObjects.Open(stream) is { } objects && AsfHeader.Read(stream, objects, this)?.FrameCount == frames
            ? null
            : "The header of the new file does not state the length that is in it.";

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options)
    {
        var header = AsfObjects.Open(source) ?? throw new UnreadableAudioException("This is not an ASF file.");
        var edit = new TagEdit();
        edit.Add(AsfHeaderWriter.WriteInto(header, tags, source.Length - header.Length));
        edit.Keep(header.Length, source.Length - header.Length);
        return edit;
    }

    public override string HashSound(Stream stream) => RangeHash.Of(stream, AsfObjects.Open(stream)?.Length ?? 0, stream.Length);
}
