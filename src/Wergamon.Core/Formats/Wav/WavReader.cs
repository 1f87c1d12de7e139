using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;

namespace Wergamon.Core.Formats.Wav;

/// <summary>
/// Reads WAV: RIFF and RF64, integer PCM of 1 to 32 bits and float PCM of 32 and 64 bits, with plain and extensible
/// format headers (Microsoft, Multiple Channel Audio Data and WAVE Files; EBU Tech 3306 for RF64).
/// Other chunks are skipped.
/// </summary>
public sealed class WavReader : ChunkedPcmReader
{
    private const ushort FormatPcm = 1;
    private const ushort FormatFloat = 3;
    private const ushort FormatExtensible = 0xFFFE;
    private const int ExtensibleLength = 40;

    /// <param name="stream">A seekable stream, owned from now on.</param>
    /// <exception cref="CodedAudioException">It is a WAV file of something else than linear PCM.</exception>
    /// <exception cref="UnreadableAudioException">It is not a WAV file, or damaged beyond reading.</exception>
    public WavReader(Stream stream) : base(stream, ReadLayout(stream)) { }

    /// <summary>True when the file starts as WAV does.</summary>
    public static bool Recognises(ReadOnlySpan<byte> start) =>
        start.Length >= 12 && (start.StartsWith("RIFF"u8) || start.StartsWith("RF64"u8) || start.StartsWith("BW64"u8))
        && start[8..12].SequenceEqual("WAVE"u8);

    /// <summary>Position and format of the audio; null when it is not a readable WAV file.</summary>
    internal static PcmLayout? FindSound(Stream stream)
    {
        try
        {
            return ReadLayout(stream);
        }
        catch (UnreadableAudioException)
        {
            return null;
        }
    }

    private static PcmLayout ReadLayout(Stream stream)
    {
        Span<byte> start = stackalloc byte[12];
        stream.Position = 0;
        if (!stream.TryReadWhole(start) || !Recognises(start))
            throw new UnreadableAudioException("This is not a WAV file: it does not start with a RIFF/WAVE header.");

        var chunks = Chunks.Walk(stream, ByteOrder.LittleEndian);
        if (chunks.Find("fmt ") is not { Length: >= 16 } fmt)
            throw new UnreadableAudioException("The WAV file has no complete format header, so its sample format is unknown.");
        if (chunks.Find("data") is not { } data)
            throw new UnreadableAudioException("The WAV file has a header but no audio.");

        Span<byte> header = stackalloc byte[ExtensibleLength];
        header = header[..(int)Math.Min(fmt.Length, ExtensibleLength)];
        stream.Position = fmt.Offset;
        if (!stream.TryReadWhole(header))
            throw new UnreadableAudioException("The format header of the WAV file could not be read.");

        var damage = new List<string>();
        var format = ReadFormat(header, out bool hasStatedRoles, out int sampleBytes);
        PcmLayout.NoteCut(data, damage);
        long length = data.Length;
        if (data.DeclaredLength == 0 && IsUnfinished(stream, data))
        {
            length = stream.Length - data.Offset;
            damage.Add("The header states no length, as in a recording that was not finished; the audio is read to the end of the file.");
        }

        if (length % (sampleBytes * format.Channels) != 0)
            damage.Add("The audio does not end on a whole sample; the incomplete last one is dropped.");
        return new PcmLayout(
            format, PcmPacking.Wav with { SampleBytes = sampleBytes }, data.Offset, length, damage)
        { HasStatedRoles = hasStatedRoles };
    }

    /// <summary>True when more follows a data chunk without length than chunks that are known to stand there.</summary>
    private static bool IsUnfinished(Stream stream, ChunkPosition data)
    {
        Span<byte> next = stackalloc byte[4];
        stream.Position = data.Offset;
        return stream.TryReadWhole(next)
            && !(
                next.SequenceEqual("LIST"u8) || next.SequenceEqual("id3 "u8) || next.SequenceEqual("ID3 "u8) || next.SequenceEqual("fact"u8)
                    || next.SequenceEqual("bext"u8) || next.SequenceEqual("JUNK"u8) || next.SequenceEqual("cue "u8));
    }

    private static PcmFormat ReadFormat(ReadOnlySpan<byte> header, out bool hasStatedRoles, out int sampleBytes)
    {
        hasStatedRoles = false;
        ushort tag = BinaryPrimitives.ReadUInt16LittleEndian(header);
        int channels = BinaryPrimitives.ReadUInt16LittleEndian(header[2..]);
        int rate = (int)Math.Min(int.MaxValue, BinaryPrimitives.ReadUInt32LittleEndian(header[4..]));
        int frameBytes = BinaryPrimitives.ReadUInt16LittleEndian(header[12..]);
        int containerBits = BinaryPrimitives.ReadUInt16LittleEndian(header[14..]);
        int bits = containerBits;
        var roles = ChannelRolesFacts.Usual(channels);
        if (tag == FormatExtensible && header.Length == ExtensibleLength)
        {
            int validBits = BinaryPrimitives.ReadUInt16LittleEndian(header[18..]);
            var mask = (ChannelRoles)BinaryPrimitives.ReadUInt32LittleEndian(header[20..]);
            tag = BinaryPrimitives.ReadUInt16LittleEndian(header[24..]);
            bits = validBits is > 0 && validBits <= containerBits ? validBits : containerBits;
            hasStatedRoles = mask.Count() == channels;
            if (hasStatedRoles)
                roles = mask;
        }

        var kind = tag switch
        {
            FormatPcm => SampleKind.Integer,
            FormatFloat => SampleKind.Float,
            _ => throw new CodedAudioException($"The WAV file holds audio of type {tag}, not linear PCM."),
        };
        PcmLayout.CheckNumbers(channels, rate, containerBits, "WAV");
        if (kind == SampleKind.Float ? containerBits is not (32 or 64) : containerBits > 32)
            throw new UnreadableAudioException($"The WAV file says {containerBits}-bit {kind} samples, which are not supported.");
        if (kind == SampleKind.Float)
            bits = containerBits;
        var format = new PcmFormat(new SampleRate(rate), channels, bits, kind) { Roles = roles };
        sampleBytes = (containerBits + 7) / 8;
        if (frameBytes != sampleBytes * channels)
            throw new UnreadableAudioException(
                $"The WAV header contradicts itself: {frameBytes} bytes a frame for {channels} channels of {containerBits} bits.");
        return format;
    }
}
