using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Alac;
using Wergamon.Core.Formats.Ape;
using Wergamon.Core.Formats.Asf;
using Wergamon.Core.Formats.Dff;
using Wergamon.Core.Formats.Dsf;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Mp4;
using Wergamon.Core.Formats.Ogg;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Formats.WavPack;
using Wergamon.Core.Formats.Wma;

namespace Wergamon.Core.Formats.Registry;

/// <summary>Registry of all formats.</summary>
public static class FileFormats
{
    private const int StartLength = 12;

    /// <summary>In the order in which a file is tried. Bare MPEG audio frames come last, since they have no signature.</summary>
    public static IReadOnlyList<FileFormat> All { get; } =
    [
        WavFormat.Instance, AiffFormat.Instance, FlacFormat.Instance,
        new OggFormat([VorbisFormat.Instance, OpusFormat.Instance, new FlacInOgg()]), VorbisFormat.Instance, OpusFormat.Instance,
        new Mp4Format([AacFormat.Instance, AlacFormat.Instance]), AacFormat.Instance, AlacFormat.Instance,
        new AsfFormat(WmaFormat.Instance), WmaFormat.Instance,
        WavPackFormat.Instance, ApeFormat.Instance, DsfFormat.Instance, DffFormat.Instance,
        Mp3Format.Instance,
    ];

    /// <summary>The formats that copies can be made in: lossless ones first, by name.</summary>
    public static IReadOnlyList<WritableFormat> Writable { get; } = [
        .. All.OfType<WritableFormat>().OrderBy(format => format.IsLossy).ThenBy(format => format.Name, StringComparer.Ordinal)
    ];

    /// <summary>The format of that key; null for a file that only a decoder knows.</summary>
    public static FileFormat? Find(string? key) => All.FirstOrDefault(format => format.Key == key);

    /// <summary>The format of a file; null for one that only a decoder knows.</summary>
    /// <exception cref="UnreadableAudioException">The file is damaged beyond reading.</exception>
    public static FileFormat? Of(Stream stream)
    {
        using var file = Open(stream);
        return file?.Format;
    }

    /// <summary>Reads the samples of a file that needs no decoder; null, and the stream stays the caller's, when it needs one.</summary>
    /// <param name="stream">Seekable, owned by the reader from now on.</param>
    /// <exception cref="UnreadableAudioException">The file is empty or damaged beyond reading.</exception>
    public static IPcmReader? OpenPcm(Stream stream)
    {
        Span<byte> start = stackalloc byte[StartLength];
        start = ReadStart(stream, start);
        if (start.IsEmpty)
            throw new UnreadableAudioException("The file is empty.");
        foreach (var format in All)
        {
            if (format.OpenPcm(stream, start) is { } reader)
                return reader;
        }

        return null;
    }

    /// <summary>The facts of a file whose decoder gives padding behind the music; null for others.</summary>
    /// <exception cref="UnreadableAudioException">The file is damaged beyond reading.</exception>
    public static AudioFacts? FactsOfPadded(Stream stream)
    {
        using var file = Open(stream);
        return file is { Format.HasPaddingBehindMusic: true } ? file.ReadFacts() : null;
    }

    internal static OpenedFile? Open(Stream stream)
    {
        Span<byte> start = stackalloc byte[StartLength];
        start = ReadStart(stream, start);
        foreach (var format in All)
        {
            if (format.Open(stream, start) is { } file)
                return file;
        }

        return null;
    }

    private static Span<byte> ReadStart(Stream stream, Span<byte> into)
    {
        stream.Position = 0;
        return into[..stream.ReadUpTo(into)];
    }
}
