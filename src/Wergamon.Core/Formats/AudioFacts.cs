using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats;

/// <summary>What a file tells about its audio before it is decoded.</summary>
/// <param name="FileFormat">Null for a file that only a decoder knows.</param>
/// <param name="CodecName">As the trade writes it: "FLAC", "MP3", "WAV", "AAC".</param>
/// <param name="Format">Format as decoded. The bits of a lossy source are those of its decoder.</param>
/// <param name="FrameCount">Samples per channel; for some formats only as exact as the header.</param>
/// <param name="IsLossless">True when decoding gives back what was encoded.</param>
/// <param name="KilobitsPerSecond">Mean bitrate of the audio alone.</param>
public sealed record AudioFacts(
    FileFormat? FileFormat, string CodecName, PcmFormat Format, long FrameCount, bool IsLossless, int KilobitsPerSecond)
{
    /// <summary>Damage that was skipped, in words; empty for an intact file.</summary>
    public IReadOnlyList<string> Damage { get; init; } = [];

    /// <summary>
    /// The streams of sound in the order of the file, for one that has several; empty for one. The facts are those of the stream that is
    /// heard.
    /// </summary>
    public IReadOnlyList<SoundStream> Streams { get; init; } = [];

    /// <summary>The facts of a chosen stream.</summary>
    /// <param name="stream">Its place among <see cref="Streams"/>; null for the one that is heard.</param>
    public AudioFacts OfStream(int? stream) => stream is { } chosen && chosen < Streams.Count ? Streams[chosen].Facts : this;

    /// <summary>Whether the bitrate of a lossy file varies; null when its header does not say.</summary>
    public bool? IsVariableBitRate { get; init; }

    /// <summary>Mean bitrate of a number of bytes of audio.</summary>
    /// <param name="bytes">Size of the sound alone.</param>
    /// <param name="frames">Samples of one channel; more than 0.</param>
    /// <param name="rate">Their rate.</param>
    public static int MeanKilobits(long bytes, double frames, SampleRate rate) =>
        (int)Math.Min(int.MaxValue, Math.Round(bytes * 8.0 * rate.Hertz / frames / 1000));

    /// <summary>For the person, why these facts cannot be true; null where they can.</summary>
    public string? Problem =>
        !HeaderLimits.IsRate(Format.Rate.Hertz) || FrameCount < 0 || FrameCount / Format.Rate.Hertz > Limits.MaxSeconds
            ? "The file claims to play for more than a year, or at an impossible rate; its header is damaged."
            : null;

    public TimeSpan Duration => Format.Duration(FrameCount);

    /// <summary>"FLAC 24-bit 48", "FLAC 24-bit 48 5.1", "MP3 192".</summary>
    public string Label => IsLossless
        ? string.Join(
            ' ', new[] { CodecName, Format.BitsInWords, Format.Rate.Kilohertz, ChannelsUnlessStereo }.Where(part => part.Length > 0))
        : string.Join(
            ' ',
            new[]
            {
                CodecName, KilobitsPerSecond.ToString(CultureInfo.InvariantCulture), ChannelsUnlessStereo
            }.Where(part => part.Length > 0));

    /// <summary>"FLAC 24/48", "MP3 192": for narrow places.</summary>
    public string ShortLabel => IsLossless
        ? $"{CodecName} {Format.Bits}{(Format.IsFloat ? "f" : "")}/{Format.Rate.Kilohertz} {ChannelsUnlessStereo}".TrimEnd()
        : Label;

    private string ChannelsUnlessStereo => Format.Channels == 2 ? "" : Format.ChannelsInWords;
}

/// <summary>One of several streams of sound in a file: a movie in two languages, a stereo mix beside 5.1.</summary>
/// <param name="Name">Its language and title as the file says them; may be empty.</param>
/// <param name="IsHeard">True for the one that is taken unless another is chosen.</param>
public sealed record SoundStream(string Name, bool IsHeard, AudioFacts Facts)
{
    public string Name { get; init; } = WellFormedText.From(Name, Limits.MaxName);
}
