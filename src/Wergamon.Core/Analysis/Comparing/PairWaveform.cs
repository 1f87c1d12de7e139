using System.Buffers.Binary;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Which of the sounds of a comparison.</summary>
public enum ComparedSignal
{
    First,

    /// <summary>At the level of the first.</summary>
    Second,
    Residue,
}

/// <summary>
/// Minimum and maximum of both signals and of their residue, in columns of <see cref="FramesPerColumn"/> frames and in two coarser
/// levels, so that a view of any width is read in few steps. Half-precision floats, which hold a residue far below full scale.
/// </summary>
/// <remarks>The file: frames (8 bytes), first frame (8 bytes), then the levels from fine to coarse; a column is six values.</remarks>
public static class PairWaveform
{
    public const int FramesPerColumn = 256;

    private const int Levels = 3, Factor = 16, Signals = 3, ColumnBytes = Signals * 2 * 2, HeadBytes = 16;

    /// <summary>Writes the waveform of a whole comparison, block by block.</summary>
    public sealed class Writer
    {
        private readonly Stream _output;
        private readonly int _channels;
        private readonly long _firstFrame;
        private readonly float[] _ranges = new float[2 * Signals];
        private readonly float[] _peaks = new float[Signals];
        private readonly List<float[]>[] _coarser = [[], []];
        private readonly byte[] _column = new byte[ColumnBytes];
        private long _frames, _columns;
        private int _inColumn;

        /// <param name="output">Seekable; stays open.</param>
        /// <param name="firstFrame">Position of the first block on the time axis.</param>
        public Writer(Stream output, int channels, long firstFrame)
        {
            (_output, _channels, _firstFrame) = (output, channels, firstFrame);
            output.Write(new byte[HeadBytes]);
            Clear();
        }

        /// <summary>The greatest magnitude of a signal in the last block.</summary>
        public float Peak(ComparedSignal signal) => _peaks[(int)signal];

        /// <summary>Appends a block of the three signals, interleaved.</summary>
        public void Append(ReadOnlySpan<float> first, ReadOnlySpan<float> second, ReadOnlySpan<float> residue)
        {
            Array.Clear(_peaks);
            for (int at = 0, frames = first.Length / _channels; at < frames;)
            {
                int some = Math.Min(frames - at, FramesPerColumn - _inColumn);
                Widen(0, first.Slice(at * _channels, some * _channels));
                Widen(1, second.Slice(at * _channels, some * _channels));
                Widen(2, residue.Slice(at * _channels, some * _channels));
                at += some;
                if ((_inColumn += some) == FramesPerColumn)
                    EndColumn();
            }

            _frames += first.Length / _channels;
        }

        public void Complete()
        {
            if (_inColumn > 0)
                EndColumn();
            foreach (var level in _coarser)
            {
                foreach (var ranges in level)
                    Write(ranges);
            }

            Span<byte> head = stackalloc byte[HeadBytes];
            BinaryPrimitives.WriteInt64LittleEndian(head, _frames);
            BinaryPrimitives.WriteInt64LittleEndian(head[8..], _firstFrame);
            _output.Position = 0;
            _output.Write(head);
            _output.Flush();
        }

        private void Widen(int signal, ReadOnlySpan<float> samples)
        {
            var (low, high) = SampleRange.Widen(samples, float.MaxValue, float.MinValue);
            _peaks[signal] = Math.Max(_peaks[signal], Math.Max(-low, high));
            (_ranges[2 * signal], _ranges[2 * signal + 1]) = (Math.Min(_ranges[2 * signal], low), Math.Max(_ranges[2 * signal + 1], high));
        }

        private void EndColumn()
        {
            Write(_ranges);
            for (int level = 0, each = Factor; level < _coarser.Length; level++, each *= Factor)
                Merge(_coarser[level], each);
            _columns++;
            Clear();
        }

        private void Merge(List<float[]> level, int each)
        {
            if (_columns % each == 0)
                level.Add([.. _ranges]);
            var last = level[^1];
            for (int i = 0; i < last.Length; i += 2)
                (last[i], last[i + 1]) = (Math.Min(last[i], _ranges[i]), Math.Max(last[i + 1], _ranges[i + 1]));
        }

        private void Write(float[] ranges)
        {
            for (int i = 0; i < ranges.Length; i++)
                BinaryPrimitives.WriteHalfLittleEndian(_column.AsSpan(2 * i), (Half)ranges[i]);
            _output.Write(_column);
        }

        private void Clear()
        {
            for (int i = 0; i < _ranges.Length; i += 2)
                (_ranges[i], _ranges[i + 1]) = (float.MaxValue, float.MinValue);
            _inColumn = 0;
        }
    }

    /// <summary>
    /// A stretch in some columns: for each signal in turn, minimum and maximum of each column. Everything outside is silence.
    /// </summary>
    /// <param name="input">What a <see cref="Writer"/> has written; seekable.</param>
    /// <param name="from">First frame; can be anywhere.</param>
    /// <param name="to">More than <paramref name="from"/>.</param>
    /// <exception cref="InvalidDataException">The file is cut off.</exception>
    public static float[] Read(Stream input, double from, double to, int columns)
    {
        Span<byte> head = stackalloc byte[HeadBytes];
        input.Position = 0;
        if (!input.TryReadWhole(head))
            throw new InvalidDataException("The waveform is cut off.");
        long frames = BinaryPrimitives.ReadInt64LittleEndian(head), firstFrame = BinaryPrimitives.ReadInt64LittleEndian(head[8..]);
        double each = (to - from) / columns;
        int level = 0;
        long perColumn = FramesPerColumn, offset = HeadBytes;
        while (level < Levels - 1 && perColumn * Factor <= each)
        {
            offset += ColumnsAt(frames, perColumn) * ColumnBytes;
            perColumn *= Factor;
            level++;
        }

        long count = ColumnsAt(frames, perColumn);
        long first = Math.Clamp((long)Math.Floor((from - firstFrame) / perColumn), 0, count),
            end = Math.Clamp((long)Math.Ceiling((to - firstFrame) / perColumn), first, count);
        var bytes = new byte[(end - first) * ColumnBytes];
        input.Position = offset + first * ColumnBytes;
        if (!input.TryReadWhole(bytes))
            throw new InvalidDataException("The waveform is cut off.");
        var result = new float[Signals * 2 * columns];
        for (int column = 0; column < columns; column++)
        {
            long start = (long)Math.Floor((from + column * each - firstFrame) / perColumn),
                stop = Math.Max(start + 1, (long)Math.Floor((from + (column + 1) * each - firstFrame) / perColumn));
            for (int signal = 0; signal < Signals; signal++)
            {
                float low = float.MaxValue, high = float.MinValue;
                for (long at = Math.Max(start, first); at < Math.Min(stop, end); at++)
                {
                    var place = bytes.AsSpan((int)(at - first) * ColumnBytes + signal * 4);
                    low = Math.Min(low, (float)BinaryPrimitives.ReadHalfLittleEndian(place));
                    high = Math.Max(high, (float)BinaryPrimitives.ReadHalfLittleEndian(place[2..]));
                }

                if (low <= high)
                    (result[2 * (signal * columns + column)], result[2 * (signal * columns + column) + 1]) = (low, high);
            }
        }

        return result;
    }

    /// <summary>The same from the samples themselves, for a stretch that is shorter than the columns of the file.</summary>
    public static float[] Draw(AlignedSound sound, double from, double to, int columns)
    {
        var result = new float[Signals * 2 * columns];
        double each = (to - from) / columns;
        for (int column = 0; column < columns; column++)
        {
            // A column narrower than a sample shows the sample that it is in.
            long start = (long)Math.Floor(from + column * each);
            int count = (int)Math.Clamp((long)Math.Floor(from + (column + 1) * each) - start, 1, AlignedSound.BlockFrames);
            sound.Read(start, count);
            Put(0, sound.First);
            Put(1, sound.Matched);
            Put(2, sound.Residue);

            void Put(int signal, ReadOnlySpan<float> samples)
            {
                int at = 2 * (signal * columns + column);
                (result[at], result[at + 1]) = SampleRange.Widen(samples, samples[0], samples[0]);
            }
        }

        return result;
    }

    private static long ColumnsAt(long frames, long perColumn) => (frames + perColumn - 1) / perColumn;
}
