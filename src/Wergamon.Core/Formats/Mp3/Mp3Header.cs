using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags.Ape;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Mp3;

/// <summary>
/// MPEG audio as bare frames: finds the first one behind tags and junk, and the length from a Xing, LAME or VBRI header
/// (common practice, no source), else from the bitrate, else by walking over all frames.
/// </summary>
internal static class Mp3Header
{
    /// <summary>Junk before the first frame is searched this far.</summary>
    private const int FarthestStart = 1 << 20;

    /// <summary>A frame of free format is no longer than this at the lowest rate (ISO/IEC 11172-3, 2.4.2.3: at most 320 kbit/s).</summary>
    private const int LongestFrame = 5760;

    /// <summary>Maximum searches for the next frame of free format, which are costly; junk could ask for them without end.</summary>
    private const int MaxFreeFormats = 64;

    /// <summary>Maximum places where frames are looked for again behind junk.</summary>
    private const int MaxSearches = 64;

    /// <summary>Consecutive frames of one bitrate that make a file count as constant bitrate.</summary>
    private const int FramesLookedAt = 32;

    /// <summary>The first frame; null where no two frames follow each other.</summary>
    public static FirstFrame? Find(Stream stream)
    {
        long from = Id3v2Reader.LengthAtStart(stream), end = EndOfSound(stream);
        return FindFirst(stream, from, end) is { } found ? found with { From = from, End = end } : null;
    }

    public static AudioFacts Read(Stream stream, FirstFrame found)
    {
        var damage = new List<string>();
        long end = found.End;
        if (found.At > found.From)
            damage.Add($"{found.At - found.From:N0} bytes before the first frame are not audio and were skipped.");
        var (frame, at) = (found.Frame, found.At);
        var info = ReadInfo(stream, at, frame);
        long soundBytes = end - at;
        var (frames, variable, junk) = info is { Frames: { } stated }
            ? new FrameCount(stated, info.IsVariable, 0)
            : Count(stream, at, end, frame, found.FreeLength);
        long samples = frames * frame.SamplesPerFrame - (info is { Frames: not null } ? info.Delay + info.Padding : 0);
        if (junk > 0)
            damage.Add($"{junk:N0} bytes between frames are not audio and were skipped.");
        if (info is { Frames: not null, Bytes: { } bytes } && bytes > soundBytes + LongestFrame)
            damage.Add($"The file is cut off: its header states {bytes:N0} bytes of audio, {soundBytes:N0} are there.");
        if (frames <= 0 || samples <= 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        // Decoders give floats for layer III and free format, and integers for the older two layers (as libavcodec and libmpg123 do).
        var format = frame.Layer == 3 || frame.IsFreeFormat
            ? new PcmFormat(new SampleRate(frame.Rate), frame.Channels, 32, SampleKind.Float)
            : new PcmFormat(new SampleRate(frame.Rate), frame.Channels, 16);
        long codedBytes = info is { Frames: not null, Bytes: { } whole } ? Math.Max(whole, soundBytes) : soundBytes;
        int rate = variable || frame.IsFreeFormat
            ? AudioFacts.MeanKilobits(codedBytes, (double)frames * frame.SamplesPerFrame, format.Rate)
            : frame.KilobitsPerSecond;
        return new AudioFacts(
            Mp3Format.Instance, "MP" + frame.Layer + (frame.IsFreeFormat ? " free format" : ""), format, samples, IsLossless: false,
            rate)
        { IsVariableBitRate = variable, Damage = damage };
    }

    /// <summary>Tags at the end are not audio.</summary>
    private static long EndOfSound(Stream stream)
    {
        long end = stream.Length - (Id3v1.IsAtEnd(stream) ? Id3v1.Length : 0);
        return end - ApeTag.LengthBefore(stream, end);
    }

    private static FirstFrame? FindFirst(Stream stream, long from, long end)
    {
        // An info frame says so itself, though junk may follow it.
        if (FrameAt(stream, from) is { IsFreeFormat: false } there
            && (FrameAt(stream, from + there.Length)?.IsLike(there) == true || ReadInfo(stream, from, there) is { Frames: not null }))
            return new FirstFrame(from, there, 0);
        long farthest = Math.Min(end - from, FarthestStart + 2 * LongestFrame);
        byte[] window = [];
        int at = 0, freeFormatsTried = 0;
        for (int size = 4 * LongestFrame; window.Length < farthest; size *= 4)
        {
            int filled = window.Length;
            Array.Resize(ref window, (int)Math.Min(farthest, size));
            stream.Position = from + filled;
            if (!stream.TryReadWhole(window.AsSpan(filled)))
                return null;
            bool isAll = window.Length == farthest;
            int last = window.Length - MpegFrame.HeaderLength - (isAll ? 0 : 2 * LongestFrame);
            while (at <= last)
            {
                int sync = window.AsSpan(at, last + 1 - at).IndexOf((byte)0xFF);
                if (sync < 0)
                {
                    at = last + 1;
                    break;
                }

                at += sync;
                if (MpegFrame.Read(window.AsSpan(at)) is { } frame
                    && (!frame.IsFreeFormat || freeFormatsTried++ < MaxFreeFormats)
                    && LengthIfFollowed(window, at, frame, from + window.Length == end) is { } length)
                    return new FirstFrame(from + at, frame, frame.IsFreeFormat ? length : 0);
                at++;
            }
        }

        return null;
    }

    private static MpegFrame? FrameAt(Stream stream, long at)
    {
        Span<byte> header = stackalloc byte[MpegFrame.HeaderLength];
        stream.Position = at;
        return stream.TryReadWhole(header) ? MpegFrame.Read(header) : null;
    }

    /// <summary>Length of the frame if another like it follows, or if it exactly fills the rest of the file.</summary>
    private static int? LengthIfFollowed(ReadOnlySpan<byte> window, int at, MpegFrame frame, bool endsWithFile)
    {
        if (!frame.IsFreeFormat)
        {
            int next = at + frame.Length;
            bool follows = next + MpegFrame.HeaderLength <= window.Length
                ? MpegFrame.Read(window[next..])?.IsLike(frame) == true
                : endsWithFile && next == window.Length;
            return follows ? frame.Length : null;
        }

        for (int length = 24; length <= LongestFrame; length++)
        {
            int second = at + length, third = second + length;
            if (second + MpegFrame.HeaderLength > window.Length)
                return null;
            if (IsFreeLike(window[second..], frame) && ThirdFollows(window, third, frame))
                return length - frame.Padding;
        }

        return null;
    }

    /// <summary>Padding makes neighbouring frames differ by a byte.</summary>
    private static bool ThirdFollows(ReadOnlySpan<byte> window, int near, MpegFrame frame)
    {
        for (int at = near - 1; at <= near + 1; at++)
        {
            if (at + MpegFrame.HeaderLength <= window.Length && IsFreeLike(window[at..], frame))
                return true;
        }

        return false;
    }

    private static bool IsFreeLike(ReadOnlySpan<byte> bytes, MpegFrame frame) =>
        MpegFrame.Read(bytes) is { IsFreeFormat: true } other && other.IsLike(frame);

    private static InfoFrame? ReadInfo(Stream stream, long at, MpegFrame frame)
    {
        Span<byte> bytes = stackalloc byte[256];
        stream.Position = at;
        bytes = bytes[..stream.ReadUpTo(bytes)];
        if (bytes.Length > 36 + 18 && bytes[36..].StartsWith("VBRI"u8))
        {
            var vbri = new ByteCursor(bytes[(36 + 10)..]);
            uint stated = vbri.UInt32BigEndian();
            return new InfoFrame(vbri.UInt32BigEndian(), stated, 0, 0, IsVariable: true);
        }

        if (bytes.Length < frame.InfoOffset + 8)
            return null;
        var head = new ByteCursor(bytes[frame.InfoOffset..]);
        var marker = head.Take(4);
        bool variable = marker.SequenceEqual("Xing"u8);
        if (!variable && !marker.SequenceEqual("Info"u8))
            return null;
        uint flags = head.UInt32BigEndian();
        uint? frames = (flags & 1) != 0 ? head.UInt32BigEndian() : null;
        uint? length = (flags & 2) != 0 ? head.UInt32BigEndian() : null;
        head.Skip((flags & 4) != 0 ? 100 : 0);
        head.Skip((flags & 8) != 0 ? 4 : 0);
        // The encoder's name of 9 bytes, 12 bytes of other facts, then delay and padding of 12 bits each.
        var name = head.Take(9);
        head.Skip(12);
        var gap = head.Take(3);
        bool hasGap = !gap.IsEmpty && !name.IsEmpty && name[0] is not 0 and not 0xFF && name[0] is not 0x55;
        return hasGap
            ? new InfoFrame(frames, length, gap[0] << 4 | gap[1] >> 4, (gap[1] & 15) << 8 | gap[2], variable)
            : new InfoFrame(frames, length, 0, 0, variable);
    }

    /// <summary>
    /// Without a header: by the bitrate where the first frames share one, by walking over all frames otherwise. Junk between frames is
    /// skipped and counted.
    /// </summary>
    private static FrameCount Count(Stream stream, long start, long end, MpegFrame first, int freeLength)
    {
        bool variable = false;
        long frames = 0, at = start, junk = 0;
        int searches = 0;
        while (at < end && (variable || junk > 0 || frames < FramesLookedAt))
        {
            if (FrameAt(stream, at) is not { } frame || !frame.IsLike(first))
            {
                if (frames == 0 || end - at <= LongestFrame || searches++ == MaxSearches || FindFirst(stream, at, end) is not { } next
                    || !next.Frame.IsLike(first))
                    break;
                junk += next.At - at;
                at = next.At;
                continue;
            }

            variable |= !first.IsFreeFormat && frame.KilobitsPerSecond != first.KilobitsPerSecond;
            at += first.IsFreeFormat ? freeLength + frame.Padding : Math.Max(frame.Length, MpegFrame.HeaderLength);
            frames++;
        }

        if (!variable && junk == 0 && frames == FramesLookedAt)
            frames = (long)Math.Round(frames * (double)(end - start) / (at - start));
        return new FrameCount(frames, variable, junk);
    }

    /// <param name="Frames">Frames of audio.</param>
    /// <param name="Junk">Bytes between them that are none.</param>
    private readonly record struct FrameCount(long Frames, bool IsVariable, long Junk);

    internal sealed record FirstFrame(long At, MpegFrame Frame, int FreeLength)
    {
        /// <summary>Where the tag in front ends.</summary>
        public long From { get; init; }

        /// <summary>Where the tags behind the sound start.</summary>
        public long End { get; init; }
    }

    /// <param name="Frames">Frames of audio, without the info frame.</param>
    /// <param name="Delay">Samples to cut off at the start.</param>
    /// <param name="Padding">Samples to cut off at the end.</param>
    private sealed record InfoFrame(uint? Frames, uint? Bytes, int Delay, int Padding, bool IsVariable);
}
