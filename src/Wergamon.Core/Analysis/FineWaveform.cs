using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>
/// Waveform of a whole signal in columns of <see cref="FramesPerColumn"/> frames, fine enough to see single beats: minimum and maximum of
/// each column in turn as signed bytes, 127 for full scale.
/// </summary>
public static class FineWaveform
{
    public const int FramesPerColumn = 64;

    private const int BytesPerColumn = 2, ColumnsPerRead = 32_768, BlocksPerReport = 64;

    /// <summary>Reads a source to its end.</summary>
    /// <param name="reader">Any audio; stays open.</param>
    /// <param name="output">Written from where it is; stays open.</param>
    /// <param name="report">Called from time to time with the frames read so far.</param>
    /// <returns>Frames in all.</returns>
    public static long Write(IPcmReader reader, Stream output, Action<long> report)
    {
        var block = new SampleBuffer(reader.Format);
        var floats = new FloatSamples();
        int channels = reader.Format.Channels, inColumn = 0;
        float low = float.MaxValue, high = float.MinValue;
        long frames = 0;
        for (int blocks = 1; reader.Read(block) > 0; blocks++)
        {
            var samples = floats.Of(block);
            while (samples.Length > 0)
            {
                int some = Math.Min(samples.Length / channels, FramesPerColumn - inColumn);
                (low, high) = SampleRange.Widen(samples[..(some * channels)], low, high);
                samples = samples[(some * channels)..];
                inColumn += some;
                if (inColumn == FramesPerColumn)
                    EndColumn();
            }

            frames += block.FrameCount;
            if (blocks % BlocksPerReport == 0)
                report(frames);
        }

        if (inColumn > 0)
            EndColumn();
        return frames;

        void EndColumn()
        {
            output.WriteByte(Waveform.ByteOf(low));
            output.WriteByte(Waveform.ByteOf(high));
            (low, high, inColumn) = (float.MaxValue, float.MinValue, 0);
        }
    }

    /// <summary>A stretch in fewer columns, as a drawing needs them; everything outside of the signal is silence.</summary>
    /// <param name="input">What <see cref="Write"/> wrote; seekable.</param>
    /// <param name="fromFrame">May be before the start.</param>
    /// <param name="toFrame">More than <paramref name="fromFrame"/>.</param>
    /// <param name="columns">Columns of the result, two bytes each.</param>
    public static byte[] Read(Stream input, double fromFrame, double toFrame, int columns)
    {
        long all = input.Length / BytesPerColumn;
        double each = (toFrame - fromFrame) / columns / FramesPerColumn, start = fromFrame / FramesPerColumn;
        var result = new byte[BytesPerColumn * columns];
        var buffer = new byte[BytesPerColumn * ColumnsPerRead];
        long bufferAt = 0, buffered = 0;
        for (int column = 0; column < columns; column++)
        {
            long from = (long)Math.Floor(start + column * each), to = Math.Max(from + 1, (long)Math.Floor(start + (column + 1) * each));
            sbyte low = sbyte.MaxValue, high = sbyte.MinValue;
            for (long at = Math.Max(0, from); at < Math.Min(all, to); at++)
            {
                if (at < bufferAt || at >= bufferAt + buffered)
                {
                    input.Position = at * BytesPerColumn;
                    (bufferAt, buffered) = (at, input.ReadAtLeast(buffer, buffer.Length, throwOnEndOfStream: false) / BytesPerColumn);
                    if (buffered == 0)
                        break;
                }

                int place = (int)(at - bufferAt) * BytesPerColumn;
                low = Math.Min(low, unchecked((sbyte)buffer[place]));
                high = Math.Max(high, unchecked((sbyte)buffer[place + 1]));
            }

            if (low <= high)
                (result[BytesPerColumn * column], result[BytesPerColumn * column + 1]) = unchecked(((byte)low, (byte)high));
        }

        return result;
    }
}
