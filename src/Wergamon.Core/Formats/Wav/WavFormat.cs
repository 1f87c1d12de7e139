using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Wav;

/// <summary>WAV: linear PCM in a RIFF file.</summary>
public sealed class WavFormat : WritableFormat
{
    public static WavFormat Instance { get; } = new();

    private WavFormat() : base("wav", "WAV", ".wav") { }

    public override bool HoldsTagsWell => false;

    public override string TagAdvice => "Many players do not read tags in WAV; AIFF and FLAC hold them well";

    public override FormatLimits Limits { get; } = new() { HoldsFloat = true };

    public override EncoderSettings UsualSettings => new WavSettings();

    public override TagDialect Dialect => Id3v2Dialect.Instance;

    public override string BrowserType(string codecName) => "audio/wav";

    public override long TagBytes(TagContents tags) => ChunkTags.LengthOf(tags) + RiffTags.InfoLengthOf(tags);

    public override SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags) =>
        SizeEstimate.OfPcm(WavWriter.FileLength(sound.Format, sound.Frames, TagBytes(tags)), sound);

    /// <summary>There is nothing to decode: its samples stay as they are anyway.</summary>
    public override bool CanCarry(AudioFacts source) => false;

    public override IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null) =>
        new WavWriter(
            stream, input, tail: [.. RiffTags.Texts.Write([], tags), .. ChunkTags.TailFor(RiffTags.Id3ChunkId, tags, tagOptions)]);

    public override TagEdit EditTags(Stream source, TagSet tags, TagWriteOptions options)
    {
        Span<byte> start = stackalloc byte[4];
        source.Position = 0;
        if (!source.TryReadWhole(start) || !start.SequenceEqual("RIFF"u8))
            throw new UnreadableAudioException("Tags of WAV files above 4 GB cannot be changed.");
        return ChunkTags.Edit(source, ByteOrder.LittleEndian, RiffTags.Id3ChunkId, RiffTags.Texts, tags, options);
    }

    public override string HashSound(Stream stream) => ChunkTags.HashRest(stream, ByteOrder.LittleEndian, RiffTags.Texts);

    internal override IPcmReader? OpenPcm(Stream stream, ReadOnlySpan<byte> start) =>
        WavReader.Recognises(start) ? ChunkedPcmReader.Try(() => new WavReader(stream)) : null;

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start) => WavReader.Recognises(start)
        ? new OpenedFile(this, () => ChunkedPcmReader.Try(() => new WavReader(stream))?.FactsAs(this), () => RiffTags.Read(stream))
        : null;
}

/// <summary>WAV has nothing to choose.</summary>
public sealed record WavSettings : EncoderSettings
{
    [JsonIgnore]
    public override WritableFormat Format => WavFormat.Instance;

    public override string Summary => "WAV, as the source";
}
