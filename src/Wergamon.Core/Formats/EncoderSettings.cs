using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Alac;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Formats.Wma;

namespace Wergamon.Core.Formats;

/// <summary>In which format and how a copy is encoded; each format has settings of its own.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "format")]
[JsonDerivedType(typeof(WavSettings), "wav")]
[JsonDerivedType(typeof(AiffSettings), "aiff")]
[JsonDerivedType(typeof(FlacSettings), "flac")]
[JsonDerivedType(typeof(AlacSettings), "alac")]
[JsonDerivedType(typeof(Mp3Settings), "mp3")]
[JsonDerivedType(typeof(AacSettings), "aac")]
[JsonDerivedType(typeof(VorbisSettings), "vorbis")]
[JsonDerivedType(typeof(OpusSettings), "opus")]
[JsonDerivedType(typeof(WmaSettings), "wma")]
public abstract record EncoderSettings
{
    [JsonIgnore]
    public abstract WritableFormat Format { get; }

    /// <summary>False for values outside the format's range.</summary>
    [JsonIgnore]
    public virtual bool IsValid => true;

    /// <summary>The chosen quality as a figure: "256 kbit/s"; empty where there is nothing to choose.</summary>
    [JsonIgnore]
    public virtual string Figure => "";

    /// <summary>What the figure means; empty when it is plain.</summary>
    [JsonIgnore]
    public virtual string Meaning => "";

    /// <summary>One line that says what comes out: "MP3 256 kbit/s".</summary>
    [JsonIgnore]
    public abstract string Summary { get; }

    /// <summary>Mean bitrate to be expected, in kbit/s; null for lossless formats.</summary>
    public virtual double? MeanKilobits(PcmFormat format) => null;

    /// <summary>A few characters for the end of a route: "FLAC 24-bit", "MP3 256".</summary>
    /// <param name="output">The samples as they are encoded.</param>
    public virtual string LabelFor(PcmFormat output) => $"{Format.Name} {output.BitsInWords}";
}
