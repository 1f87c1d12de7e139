using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Aiff;

/// <summary>AIFF: linear PCM in an IFF file. Floats are planned as integers: few players read AIFF-C.</summary>
public sealed class AiffFormat : WritableFormat
{
    public static AiffFormat Instance { get; } = new();

    private AiffFormat() : base("aiff", "AIFF", ".aiff") { }

    public override FormatLimits Limits { get; } = new();

    public override EncoderSettings UsualSettings => new AiffSettings();

    public override TagDialect Dialect => Id3v2Dialect.Instance;

    public override long TagBytes(TagContents tags) => ChunkTags.LengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        SizeEstimate.OfPcm(AiffWriter.FileLength(sound.Format, sound.Frames, TagBytes(tags)), sound);

    /// <summary>There is nothing to decode: its samples stay as they are anyway.</summary>
    public override bool CanCarry(AudioFacts source) => false;

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null) =>
        new AiffWriter(stream, input, ChunkTags.TailFor(AiffTags.Id3ChunkId, tags, tagOptions));

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options) =>
        ChunkTags.Edit(source, ByteOrder.BigEndian, AiffTags.Id3ChunkId, AiffTags.Texts, tags, options);

    public override string HashSound(Stream stream) => ChunkTags.HashRest(stream, ByteOrder.BigEndian, AiffTags.Texts);

    internal override IPcmReader? OpenPcm(Stream stream, ReadOnlySpan<byte> start) =>
        AiffReader.Recognises(start) ? ChunkedPcmReader.Try(() => new AiffReader(stream)) : null;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => AiffReader.Recognises(start)
        ? new OpenedFile(this, () => ChunkedPcmReader.Try(() => new AiffReader(stream))?.FactsAs(this), () => AiffTags.Read(stream))
        : null;
}

/// <summary>AIFF has nothing to choose.</summary>
public sealed record AiffSettings : EncoderSettings
{
    [JsonIgnore]
    public override WritableFormat Format => AiffFormat.Instance;

    public override string Summary => "AIFF, tags inside";
}
