using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;

namespace Wergamon.Core.Formats.Aiff;

/// <summary>
/// Reads AIFF (Audio Interchange File Format 1.3) and the uncompressed kinds of AIFF-C: NONE and twos (big endian),
/// sowt (little endian), fl32 and fl64 (floats).
/// </summary>
public sealed class AiffReader : ChunkedPcmReader
{
    private const int CommonLength = 18;
    private const int SoundHeaderLength = 8;

    /// <param name="stream">A seekable stream, owned from now on.</param>
    /// <exception cref="CodedAudioException">Its sound is compressed.</exception>
    /// <exception cref="UnreadableAudioException">It is not an AIFF file, or damaged beyond reading.</exception>
    public AiffReader(Stream stream) : base(stream, ReadLayout(stream)) { }

    /// <summary>True when the file starts as AIFF or AIFF-C does.</summary>
    public static bool Recognises(ReadOnlySpan<byte> start) =>
        start.Length >= 12 && start.StartsWith("FORM"u8) && (start[8..12].SequenceEqual("AIFF"u8) || start[8..12].SequenceEqual("AIFC"u8));

    private static PcmLayout ReadLayout(Stream stream)
    {
        Span<byte> start = stackalloc byte[12];
        stream.Position = 0;
        if (!stream.TryReadWhole(start) || !Recognises(start))
            throw new UnreadableAudioException("This is not an AIFF file: it does not start with a FORM/AIFF header.");

        var chunks = Chunks.Walk(stream, ByteOrder.BigEndian);
        if (chunks.Find("COMM") is not { Length: >= CommonLength } common)
            throw new UnreadableAudioException("The AIFF file has no complete common chunk, so its sample format is unknown.");
        if (chunks.Find("SSND") is not { Length: >= SoundHeaderLength } sound)
            throw new UnreadableAudioException("The AIFF file has a header but no audio.");

        Span<byte> header = stackalloc byte[CommonLength + 4];
        header = header[..(int)Math.Min(header.Length, common.Length)];
        stream.Position = common.Offset;
        Span<byte> offsetBytes = stackalloc byte[4];
        if (!stream.TryReadWhole(header))
            throw new UnreadableAudioException("The common chunk of the AIFF file could not be read.");
        stream.Position = sound.Offset;
        if (!stream.TryReadWhole(offsetBytes))
            throw new UnreadableAudioException("The sound chunk of the AIFF file could not be read.");

        var layout = Describe(header, start[11] == 'C', sound, BinaryPrimitives.ReadUInt32BigEndian(offsetBytes));
        return RolesOf(stream, chunks, layout.Format.Channels) is { } roles
            ? layout with { Format = layout.Format with { Roles = roles }, HasStatedRoles = true }
            : layout;
    }

    private static ChannelRoles? RolesOf(Stream stream, List<ChunkPosition> chunks, int channels)
    {
        Span<byte> layout = stackalloc byte[ChannelLayoutChunk.Length];
        if (chunks.Find(ChannelLayoutChunk.Id) is not { } place || place.Length < layout.Length)
            return null;
        stream.Position = place.Offset;
        return stream.TryReadWhole(layout) ? ChannelLayoutChunk.Read(layout, channels) : null;
    }

    private static PcmLayout Describe(ReadOnlySpan<byte> common, bool compressedKind, ChunkPosition sound, uint offset)
    {
        int channels = BinaryPrimitives.ReadInt16BigEndian(common);
        long frames = BinaryPrimitives.ReadUInt32BigEndian(common[2..]);
        int bits = BinaryPrimitives.ReadInt16BigEndian(common[6..]);
        double exactRate = ExtendedFloat.Read(common.Slice(8, ExtendedFloat.Length));
        int rate = exactRate is >= 1 and <= PcmLayout.HighestRate ? (int)Math.Round(exactRate) : 0;
        PcmLayout.CheckNumbers(channels, rate, bits, "AIFF");

        var compression = compressedKind && common.Length >= CommonLength + 4
            ? Encoding.Latin1.GetString(common.Slice(CommonLength, 4))
            : "NONE";
        var (order, kind, sampleBits) = compression switch
        {
            "NONE" or "twos" => (ByteOrder.BigEndian, SampleKind.Integer, bits),
            "sowt" => (ByteOrder.LittleEndian, SampleKind.Integer, bits),
            "fl32" or "FL32" => (ByteOrder.BigEndian, SampleKind.Float, 32),
            "fl64" or "FL64" => (ByteOrder.BigEndian, SampleKind.Float, 64),
            _ => throw new CodedAudioException($"The AIFF-C file holds compressed audio of type {compression}."),
        };
        if (kind == SampleKind.Integer && sampleBits > 32)
            throw new UnreadableAudioException($"The AIFF file says {sampleBits}-bit samples, which are not supported.");

        var format = new PcmFormat(new SampleRate(rate), channels, sampleBits, kind);
        var damage = new List<string>();
        PcmLayout.NoteCut(sound, damage);
        long there = Math.Max(0, sound.Length - SoundHeaderLength - offset);
        long start = Math.Min(SoundHeaderLength + offset, sound.Length);
        long declared = frames * format.BytesPerFrame;
        if (declared > there && !sound.IsCutShort)
            damage.Add($"The header says {frames} samples; there is room for {there / format.BytesPerFrame}.");
        return new PcmLayout(format, new PcmPacking(order), sound.Offset + start, Math.Min(declared, there), damage);
    }
}
