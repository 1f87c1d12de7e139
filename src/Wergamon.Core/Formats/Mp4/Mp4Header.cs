using System.Buffers.Binary;
using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>The first sound track of a file of the MP4 family: AAC (ISO/IEC 14496-3) and Apple Lossless; M4A, M4B, MOV, 3G2.</summary>
internal static class Mp4Header
{
    private static readonly int[] AacRates = [
        96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8_000, 7_350
    ];

    /// <summary>Null for codecs and layouts whose facts only a decoder knows, and for files with several tracks of sound.</summary>
    public static AudioFacts? Read(Mp4Movie movie, FileFormat format)
    {
        var track = SoundTrackOf(movie, out int count, out _);
        return count == 0
            ? throw new UnreadableAudioException("There is no audio in this file.")
            : count == 1
            ? OfTrack(movie, track, format)
            : null;
    }

    /// <summary>"AAC" or "ALAC" for a file with one track of sound and nothing else that plays; null for any other.</summary>
    public static string? CodecOf(Mp4Movie movie)
    {
        var track = SoundTrackOf(movie, out int count, out bool hasPictures);
        return count == 1 && !hasPictures ? ReadEntry(Mp4Movie.Descendant(track, "mdiaminfstblstsd"u8))?.Codec : null;
    }

    /// <summary>A sentence where a finished file does not state the length that it has; null when all is right.</summary>
    public static string? FindFalseLength(Stream stream, FileFormat format, long frames) =>
        Mp4Movie.Find(stream) is { } movie && Read(movie, format)?.FrameCount == frames
            ? null
            : "The header of the new file does not state the length that is in it.";

    /// <summary>The first track of sound.</summary>
    private static ReadOnlySpan<byte> SoundTrackOf(Mp4Movie movie, out int count, out bool hasPictures)
    {
        ReadOnlySpan<byte> first = default;
        count = 0;
        hasPictures = false;
        var boxes = movie.Content;
        while (Mp4Movie.NextBox(ref boxes, out var type, out var track))
        {
            if (!type.SequenceEqual("trak"u8) || Mp4Movie.Descendant(track, "mdiahdlr"u8) is not { Length: >= 12 } handler)
                continue;
            var kind = handler.Slice(8, 4);
            hasPictures |= kind.SequenceEqual("vide"u8);
            if (kind.SequenceEqual("soun"u8) && count++ == 0)
                first = track;
        }

        return first;
    }

    private static AudioFacts? OfTrack(Mp4Movie movie, ReadOnlySpan<byte> track, FileFormat format)
    {
        var table = Mp4Movie.Descendant(track, "mdiaminfstbl"u8);
        if (ReadEntry(Mp4Movie.Child(table, "stsd"u8)) is not { } entry)
            return null;
        int rate = entry.Format.Rate.Hertz;
        var mediaHead = new ByteCursor(Mp4Movie.Descendant(track, "mdiamdhd"u8));
        bool isLong = mediaHead.Byte() == 1;
        mediaHead.Skip(isLong ? 19 : 11);
        uint scale = mediaHead.UInt32BigEndian();
        long units = UnitsOf(Mp4Movie.Child(table, "stts"u8));
        if (scale == 0 || units <= 0)
            return null;
        long frames = ToFrames(units, scale, rate);
        frames = StatedLength(movie, rate, entry.IsSpectral) is { } stated && stated <= frames
            ? stated
            : WithoutEdits(movie, track, frames, scale, rate);
        if (frames <= 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        long bytes = BytesOf(Mp4Movie.Child(table, "stsz"u8)) is > 0 and var summed ? summed : movie.SoundBytes;
        var damage = new List<string>();
        if (bytes > movie.SoundBytes && movie.SoundBytes > 0)
            damage.Add($"The file is cut off: its tables state {bytes:N0} bytes of audio, {movie.SoundBytes:N0} are there.");
        return new AudioFacts(
            format, entry.Codec, entry.Format, frames, !entry.Format.IsFloat,
            AudioFacts.MeanKilobits(bytes, ToFrames(units, scale, rate), entry.Format.Rate))
        {
            IsVariableBitRate = entry.IsVariable,
            Damage = damage,
        };
    }

    private static Entry? ReadEntry(ReadOnlySpan<byte> descriptions)
    {
        if (descriptions.Length < 8)
            return null;
        descriptions = descriptions[8..];
        if (!Mp4Movie.NextBox(ref descriptions, out var codec, out var content))
            return null;
        var entry = new ByteCursor(content);
        entry.Skip(8);
        int version = entry.UInt16BigEndian();
        entry.Skip(6);
        int channels = entry.UInt16BigEndian();
        entry.Skip(6);
        int rate = (int)(entry.UInt32BigEndian() >> 16);
        // In MOV files, versions 1 and 2 of the description are longer.
        entry.Skip(version switch { 1 => 16, 2 => 36, _ => 0 });
        if (codec.SequenceEqual("alac"u8))
            return ReadAlac(FindSetup(entry.Rest, "alac"u8));
        return codec.SequenceEqual("mp4a"u8) ? ReadAac(FindSetup(entry.Rest, "esds"u8), channels, rate) : null;
    }

    /// <summary>The decoder's own box is in the entry, or in MOV files in its wave box.</summary>
    private static ReadOnlySpan<byte> FindSetup(ReadOnlySpan<byte> boxes, ReadOnlySpan<byte> type)
    {
        var direct = Mp4Movie.Child(boxes, type);
        return direct.IsEmpty ? Mp4Movie.Child(Mp4Movie.Child(boxes, "wave"u8), type) : direct;
    }

    /// <summary>The setup of Apple Lossless (its published description of the magic cookie, from memory).</summary>
    private static Entry? ReadAlac(ReadOnlySpan<byte> setup)
    {
        var cursor = new ByteCursor(setup);
        cursor.Skip(4 + 4 + 1);
        int bits = cursor.Byte();
        cursor.Skip(3);
        int channels = cursor.Byte();
        cursor.Skip(10);
        uint rate = cursor.UInt32BigEndian();
        return cursor.IsPastEnd || !HeaderLimits.IsSound(channels, rate) || bits is not (16 or 20 or 24 or 32)
            ? null
            : new Entry("ALAC", new PcmFormat(new SampleRate((int)rate), channels, bits), null, false);
    }

    /// <summary>The elementary stream descriptor (ISO/IEC 14496-1, 7.2.6) with the setup of AAC inside (14496-3, 1.6.2).</summary>
    private static Entry? ReadAac(ReadOnlySpan<byte> box, int channels, int rate)
    {
        var cursor = new ByteCursor(box);
        cursor.Skip(4);
        if (!TryEnter(ref cursor, 3))
            return null;
        cursor.Skip(2);
        byte flags = cursor.Byte();
        cursor.Skip((flags & 0x80) != 0 ? 2 : 0);
        if ((flags & 0x40) != 0)
            cursor.Skip(cursor.Byte());
        cursor.Skip((flags & 0x20) != 0 ? 2 : 0);
        if (!TryEnter(ref cursor, 4))
            return null;
        byte type = cursor.Byte();
        if (type is not (0x40 or 0x66 or 0x67 or 0x68))
            return null;
        cursor.Skip(4);
        uint most = cursor.UInt32BigEndian(), mean = cursor.UInt32BigEndian();
        bool isSpectral = false;
        if (TryEnter(ref cursor, 5) && !TryReadAacSetup(cursor.Rest, ref channels, ref rate, out isSpectral)
            || !HeaderLimits.IsSound(channels, rate))
            return null;
        return new Entry(
            "AAC", new PcmFormat(new SampleRate(rate), channels, 32, SampleKind.Float), most == 0 || mean == 0 ? null : most != mean,
            isSpectral);
    }

    /// <summary>
    /// The audio specific config (ISO/IEC 14496-3, 1.6.2.1). False where only a decoder can tell the rate: at low rates the upper half of
    /// the spectrum and the second channel may come along unannounced (1.6.6.1).
    /// </summary>
    private static bool TryReadAacSetup(ReadOnlySpan<byte> setup, ref int channels, ref int rate, out bool isSpectral)
    {
        const int HighestCoreRate = 24_000, SyncExtension = 0x2B7, ParametricExtension = 0x548;
        var bits = new BitCursor(setup);
        int kind = ReadObjectType(ref bits);
        int stated = ReadRate(ref bits);
        int layout = bits.Take(4);
        isSpectral = kind is 5 or 29;
        bool isParametric = kind == 29, isAnnounced = isSpectral;
        if (isSpectral)
        {
            stated = ReadRate(ref bits);
        }
        else if (kind == 2 && layout is > 0 and <= 7)
        {
            // Frame length, core coder and extension flags of the general audio config.
            bits.Take(bits.Take(2) % 2 == 1 ? 15 : 1);
            if (bits.Left >= 16 && bits.Take(11) == SyncExtension && ReadObjectType(ref bits) == 5)
            {
                isAnnounced = true;
                isSpectral = bits.Take(1) == 1;
                if (isSpectral)
                    stated = ReadRate(ref bits);
                isParametric = isSpectral && bits.Left >= 12 && bits.Take(11) == ParametricExtension && bits.Take(1) == 1;
            }
        }

        if (stated > 0)
            rate = stated;
        channels = isParametric && layout == 1 ? 2 : layout switch { 0 => channels, 7 => 8, <= 6 => layout, _ => channels };
        return isAnnounced || rate > HighestCoreRate;
    }

    private static int ReadObjectType(ref BitCursor bits) => bits.Take(5) is var kind and not 31 ? kind : 32 + bits.Take(6);

    private static int ReadRate(ref BitCursor bits) =>
        bits.Take(4) is var index && index == 15 ? bits.Take(24) : index < AacRates.Length ? AacRates[index] : 0;

    private static bool TryEnter(ref ByteCursor cursor, byte tag)
    {
        if (cursor.Byte() != tag)
            return false;
        for (int i = 0; i < 4 && (cursor.Byte() & 0x80) != 0; i++)
        {
        }

        return !cursor.IsPastEnd;
    }

    private static long UnitsOf(ReadOnlySpan<byte> times)
    {
        var cursor = new ByteCursor(times);
        cursor.Skip(4);
        uint count = cursor.UInt32BigEndian();
        long units = 0;
        for (uint i = 0; i < count && cursor.Left >= 8; i++)
            units += (long)cursor.UInt32BigEndian() * cursor.UInt32BigEndian() & long.MaxValue >> 12;
        return units;
    }

    private static long BytesOf(ReadOnlySpan<byte> sizes)
    {
        var cursor = new ByteCursor(sizes);
        cursor.Skip(4);
        uint same = cursor.UInt32BigEndian();
        uint count = cursor.UInt32BigEndian();
        if (same > 0)
            return (long)same * count;
        long bytes = 0;
        for (var rest = cursor.Rest; rest.Length >= 4 && count > 0; rest = rest[4..], count--)
            bytes += BinaryPrimitives.ReadUInt32BigEndian(rest);
        return bytes;
    }

    private static long ToFrames(long units, uint scale, int rate) =>
        scale == rate ? units : (long)Math.Round((double)units * rate / scale);

    /// <summary>
    /// The length that encoders write in a free-form tag: delay, padding and the samples between (common practice, no source).
    /// </summary>
    private static long? StatedLength(Mp4Movie movie, int rate, bool isSpectral)
    {
        var parts = Mp4Tags.FreeForm(movie.Content, "iTunSMPB")?.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return parts is [_, _, _, var length, ..] && rate > 0 && !isSpectral
                && long.TryParse(length, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out long frames) && frames > 0
            ? frames
            : null;
    }

    /// <summary>What the edit list cuts off: encoder delay at the start and, where it is precise enough, padding at the end.</summary>
    private static long WithoutEdits(Mp4Movie movie, ReadOnlySpan<byte> track, long frames, uint scale, int rate)
    {
        var movieHead = new ByteCursor(Mp4Movie.Child(movie.Content, "mvhd"u8));
        movieHead.Skip(movieHead.Byte() == 1 ? 19 : 11);
        uint movieScale = movieHead.UInt32BigEndian();
        var list = new ByteCursor(Mp4Movie.Descendant(track, "edtselst"u8));
        bool isLong = list.Byte() == 1;
        list.Skip(3);
        uint count = list.UInt32BigEndian();
        if (movieScale == 0 || count == 0)
            return frames;
        long played = isLong ? (long)list.UInt64BigEndian() : list.UInt32BigEndian();
        long from = isLong ? (long)list.UInt64BigEndian() : (int)list.UInt32BigEndian();
        if (list.IsPastEnd || count != 1 || from < 0 || played < 0)
            return frames;
        long left = frames - ToFrames(from, scale, rate);
        long stated = (long)Math.Round((double)played * rate / movieScale);
        return stated > 0 && Math.Abs(left - stated) > rate / movieScale + 1 ? Math.Min(left, stated) : left;
    }

    /// <param name="IsVariable">Null where the descriptor leaves it open.</param>
    /// <param name="IsSpectral">Upper half of the spectrum rebuilt by the decoder (SBR): lengths in tags count at half the rate.</param>
    private sealed record Entry(string Codec, PcmFormat Format, bool? IsVariable, bool IsSpectral);

    private ref struct BitCursor(ReadOnlySpan<byte> bytes)
    {
        private readonly ReadOnlySpan<byte> _bytes = bytes;
        private int _at;

        public readonly int Left => 8 * _bytes.Length - _at;

        public int Take(int count)
        {
            int value = 0;
            for (int i = 0; i < count; i++, _at++)
                value = value << 1 | (_at >> 3 < _bytes.Length ? _bytes[_at >> 3] >> (7 - (_at & 7)) & 1 : 0);
            return value;
        }
    }
}
