using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Asf;

/// <summary>Windows Media Audio, standard, professional, lossless and voice, in ASF.</summary>
internal static class AsfHeader
{
    private static readonly Guid SoundStream = new("F8699E40-5B4D-11CF-A8FD-00805F5C442B");

    /// <summary>Kind of stream and of error correction, time offset, two lengths, flags, reserved (ASF specification, 3.3).</summary>
    private const int BeforeFormat = 16 + 16 + 8 + 4 + 4 + 2 + 4;

    /// <summary>Null for codecs whose facts only a decoder knows, and for files with several streams of sound.</summary>
    public static AudioFacts? Read(Stream stream, AsfObjects objects, FileFormat format)
    {
        var (ticks, preroll, bitRate, isLive) = ReadFile(objects);
        var streams = objects.All(AsfObjects.StreamProperties).Where(properties => IsSound(properties.Span)).Take(2).ToList();
        if (streams.Count > 1)
            return null;
        foreach (var properties in streams)
        {
            var cursor = new ByteCursor(properties.Span);
            cursor.Skip(BeforeFormat);
            if (ReadFormat(ref cursor) is not { } sound || isLive)
                return null;
            // 100 ns units with the preroll of milliseconds counted in.
            double seconds = ticks / 1e7 - preroll / 1e3;
            long frames = double.IsFinite(seconds) && seconds is > 0 and < 1e9 ? (long)Math.Round(seconds * sound.Format.Rate.Hertz) : 0;
            if (frames == 0)
                throw new UnreadableAudioException("The file has a header but no audio.");
            long there = stream.Length - objects.Length;
            int rate = sound.BytesPerSecond > 0 && !sound.IsLossless
                ? (int)Math.Round(sound.BytesPerSecond * 8 / 1000.0)
                : AudioFacts.MeanKilobits(there, frames, sound.Format.Rate);
            var damage = new List<string>();
            if (bitRate > 0 && there < 0.5 * sound.BytesPerSecond * seconds)
                damage.Add("The file is cut off: less than half of the audio that its header states is there.");
            return new AudioFacts(format, sound.Codec, sound.Format, frames, sound.IsLossless, rate) { Damage = damage };
        }

        throw new UnreadableAudioException("There is no audio in this file.");
    }

    /// <summary>True for a file with one stream, and that in standard WMA.</summary>
    public static bool IsPlainWma(AsfObjects objects)
    {
        if (objects.All(AsfObjects.StreamProperties).ToList() is not [var properties])
            return false;
        var cursor = new ByteCursor(properties.Span);
        cursor.Skip(BeforeFormat);
        return IsSound(properties.Span) && ReadFormat(ref cursor)?.Codec == "WMA";
    }

    private static bool IsSound(ReadOnlySpan<byte> properties) => properties.Length >= 16 && new Guid(properties[..16]) == SoundStream;

    private static (ulong Ticks, ulong Preroll, uint BitRate, bool IsLive) ReadFile(AsfObjects objects)
    {
        foreach (var properties in objects.All(AsfObjects.FileProperties))
        {
            var cursor = new ByteCursor(properties.Span);
            cursor.Skip(16 + 8 + 8 + 8);
            ulong ticks = cursor.UInt64LittleEndian();
            cursor.Skip(8);
            ulong preroll = cursor.UInt64LittleEndian();
            uint flags = cursor.UInt32LittleEndian();
            cursor.Skip(8);
            uint bitRate = cursor.UInt32LittleEndian();
            if (!cursor.IsPastEnd)
                return (ticks, preroll, bitRate, (flags & 1) != 0);
        }

        throw new UnreadableAudioException("The header of the file does not say how long it is.");
    }

    /// <summary>WAVEFORMATEX; the tags are registered with it (RFC 2361 and later, from memory).</summary>
    private static Sound? ReadFormat(ref ByteCursor cursor)
    {
        int tag = cursor.UInt16LittleEndian();
        int channels = cursor.UInt16LittleEndian();
        uint rate = cursor.UInt32LittleEndian();
        uint bytesPerSecond = cursor.UInt32LittleEndian();
        cursor.Skip(2);
        int bits = cursor.UInt16LittleEndian();
        if (cursor.IsPastEnd || !HeaderLimits.IsSound(channels, rate))
            return null;
        var hertz = new SampleRate((int)rate);
        return tag switch
        {
            0x000A => new Sound("WMA Voice", new PcmFormat(hertz, channels, 32, SampleKind.Float), bytesPerSecond, false),
            0x0160 or 0x0161 => new Sound("WMA", new PcmFormat(hertz, channels, 32, SampleKind.Float), bytesPerSecond, false),
            0x0162 => new Sound("WMA Pro", new PcmFormat(hertz, channels, 32, SampleKind.Float), bytesPerSecond, false),
            0x0163 when bits is 16 or 24 => new Sound("WMA Lossless", new PcmFormat(hertz, channels, bits), bytesPerSecond, true),
            _ => null,
        };
    }

    private sealed record Sound(string Codec, PcmFormat Format, uint BytesPerSecond, bool IsLossless);
}
