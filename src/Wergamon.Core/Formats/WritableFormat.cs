using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats;

/// <summary>A format that copies can be made in.</summary>
public abstract class WritableFormat : TaggedFormat
{
    private protected WritableFormat(string key, string name, string extension) : base(key, name) => Extension = extension;

    /// <summary>With its dot: ".flac".</summary>
    public string Extension { get; }

    /// <summary>True when encoding throws detail away.</summary>
    public virtual bool IsLossy => false;

    /// <summary>True when a file can be decoded while it is being written, so that its proof adds no time.</summary>
    public virtual bool IsReadableWhileWritten => false;

    /// <summary>Advice about tags in this format; null when there is none.</summary>
    public virtual string? TagAdvice => null;

    /// <summary>What its files can hold.</summary>
    public abstract FormatLimits Limits { get; }

    /// <summary>Quality scales, the usual one first; empty when there is nothing to choose.</summary>
    public virtual IReadOnlyList<QualityScale> Scales => [];

    /// <summary>The settings that copies are made with unless others are chosen.</summary>
    public virtual EncoderSettings UsualSettings => Scales[0].Usual;

    /// <summary>Size of the tags in a file, in bytes.</summary>
    public abstract long TagBytes(TagContents tags);

    /// <summary>How large a file will be, tags included.</summary>
    public abstract SizeEstimate EstimateSize(EncoderSettings settings, PlannedSound sound, TagContents tags);

    /// <summary>Starts a file.</summary>
    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <param name="input">Format of the samples; within <see cref="Limits"/>.</param>
    /// <param name="tags">Only what <see cref="TaggedFormat.Dialect"/> can hold.</param>
    /// <param name="settings">Of this format.</param>
    /// <param name="tagOptions">How tags are written; null for the usual way.</param>
    /// <exception cref="CodecException">The encoder refuses.</exception>
    public abstract IPcmWriter OpenWriter(
        Stream stream, PcmFormat input, TagSet tags, EncoderSettings settings, IEncoders encoders, TagWriteOptions? tagOptions = null);

    /// <summary>Whether the coded sound of a file can go into one of this format as it is.</summary>
    public virtual bool CanCarry(AudioFacts source) => source.FileFormat == this && source.CodecName == Name;

    /// <summary>False for a file of this format whose header leaves open what a copy has to state.</summary>
    public virtual bool IsWhole(Stream stream) => true;

    /// <summary>Starts a copy of a file of this format that gets other tags; see <see cref="TaggedFormat.RewriteTags"/>.</summary>
    /// <param name="stream">Empty, seekable, owned from now on.</param>
    /// <param name="source">A whole file of this format; seekable, owned from now on.</param>
    /// <param name="input">Format of the samples that the sound decodes to; blocks of it are ignored.</param>
    public IPcmWriter OpenRewriter(Stream stream, Stream source, PcmFormat input, TagSet tags, TagWriteOptions? options = null) =>
        new RewrittenFile(stream, source, this, input, tags, options);

    /// <summary>Starts a file that gets the coded sound of another one unchanged.</summary>
    /// <param name="stream">Seekable, written from its position 0 and owned from now on.</param>
    /// <param name="input">Format of the samples that the sound decodes to; blocks of it are only counted.</param>
    /// <param name="source">Of a codec that <see cref="CanCarry"/> takes; owned from now on.</param>
    /// <exception cref="CodecException">It does not go into this format.</exception>
    public virtual IPcmWriter OpenCarrier(Stream stream, PcmFormat input, TagSet tags, ICodedSound source) =>
        throw new CodecException($"The audio of this file cannot be copied into {Name}.");

    /// <summary>How the header of a finished file contradicts what was decoded from it, in words; null when all is right.</summary>
    /// <param name="frames">Samples of one channel.</param>
    /// <param name="md5">Of the samples, as FLAC counts it.</param>
    public virtual string? VerifyHeader(Stream stream, long frames, string? md5) => null;
}

/// <summary>The audio that a copy will hold.</summary>
/// <param name="Format">As it goes into the encoder.</param>
/// <param name="Frames">Samples of one channel.</param>
/// <param name="Source">What it comes from.</param>
/// <param name="IsUnchanged">True when the samples are those of the source.</param>
public sealed record PlannedSound(PcmFormat Format, long Frames, AudioFacts Source, bool IsUnchanged);
