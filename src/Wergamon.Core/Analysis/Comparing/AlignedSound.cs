using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Two signals on the time axis of the first, and the residue of subtracting the second from the first.</summary>
public sealed class AlignedSound : IDisposable
{
    private readonly ISeekablePcm _first, _second;
    private readonly long _offset;
    private readonly float _gain;
    private readonly SampleBuffer _firstBlock, _secondBlock;
    private readonly FloatSamples _firstFloats = new(), _secondFloats = new();
    private readonly float[] _matched, _residue;
    private int _length;

    /// <param name="first">Owned from now on, as is the second.</param>
    /// <param name="second">Of the same rate and channels.</param>
    /// <param name="offset">Frames by which the second is late.</param>
    /// <param name="gain">Linear; brings the second to the level of the first.</param>
    public AlignedSound(ISeekablePcm first, ISeekablePcm second, long offset, double gain)
    {
        if (first.Format.Rate != second.Format.Rate || first.Format.Channels != second.Format.Channels)
            throw new ArgumentException("Both need the same rate and channels.", nameof(second));
        (_first, _second, _offset, _gain) = (first, second, offset, (float)gain);
        (_firstBlock, _secondBlock) = (new SampleBuffer(first.Format, BlockFrames), new SampleBuffer(second.Format, BlockFrames));
        (_matched, _residue) = (new float[BlockFrames * Channels], new float[BlockFrames * Channels]);
    }

    /// <summary>The most frames that are read at once.</summary>
    public const int BlockFrames = 4096;

    public SampleRate Rate => _first.Format.Rate;

    public int Channels => _first.Format.Channels;

    /// <summary>Frames of the first signal.</summary>
    public FrameRange FirstRange => new(0, _first.FrameCount);

    /// <summary>Frames of the second signal, on the axis of the first.</summary>
    public FrameRange SecondRange => new(-_offset, _second.FrameCount);

    /// <summary>From where the one that starts earlier starts, to where the one that ends later ends.</summary>
    public FrameRange Whole
    {
        get
        {
            long from = Math.Min(0, -_offset);
            return new FrameRange(from, Math.Max(_first.FrameCount, _second.FrameCount - _offset) - from);
        }
    }

    /// <summary>Where both are; of no length when they do not meet.</summary>
    public FrameRange Overlap
    {
        get
        {
            long from = Math.Max(0, -_offset);
            return new FrameRange(from, Math.Max(0, Math.Min(_first.FrameCount, _second.FrameCount - _offset) - from));
        }
    }

    /// <summary>The last block read: the first signal, interleaved.</summary>
    public ReadOnlySpan<float> First => _firstFloats.Again(_firstBlock);

    /// <summary>The second as it is in its file.</summary>
    public ReadOnlySpan<float> Second => IsEqual ? First : _secondFloats.Again(_secondBlock);

    /// <summary>The second at the level of the first.</summary>
    public ReadOnlySpan<float> Matched => IsEqual && _gain == 1 ? First : _matched.AsSpan(0, _length);

    /// <summary>The first minus the matched second; silence where only one of them is.</summary>
    public ReadOnlySpan<float> Residue => _residue.AsSpan(0, _length);

    /// <summary>Whether both are the same integers in the whole block.</summary>
    internal bool IsEqual { get; private set; }

    /// <summary>Energies of the last block that was read.</summary>
    internal PairEnergies Energies { get; private set; }

    /// <summary>How the last block differs without any gain, as floats.</summary>
    internal PairDifference Difference { get; private set; }

    /// <summary>The samples of the block as integers, where both files hold integers of these widths.</summary>
    internal (SampleBuffer First, SampleBuffer Second) Blocks => (_firstBlock, _secondBlock);

    /// <param name="frame">On the axis of the first; can be anywhere.</param>
    /// <param name="count">At most <see cref="BlockFrames"/>.</param>
    public void Read(long frame, int count)
    {
        ReadBoth(frame, count);
        _length = count * Channels;
        if (IsEqual && _gain == 1)
        {
            _residue.AsSpan(0, _length).Clear();
            double energy = Products.Energy(First);
            (Energies, Difference) = (new PairEnergies(energy, energy, 0), new PairDifference(_length, 0));
            return;
        }

        (Energies, Difference) = PairEnergies.OfMatched(First, Second, _gain, _matched.AsSpan(0, _length), _residue.AsSpan(0, _length));
        var overlap = Overlap;
        int from = (int)Math.Clamp(overlap.Start - frame, 0, count),
            to = (int)Math.Clamp(overlap.Start + overlap.Count - frame, from, count);
        _residue.AsSpan(0, from * Channels).Clear();
        _residue.AsSpan(to * Channels, (count - to) * Channels).Clear();
    }

    /// <summary>Copies a stretch of the first and of the matched second.</summary>
    /// <param name="frame">On the axis of the first; can be anywhere.</param>
    /// <param name="first">Interleaved, of as many frames as <paramref name="matched"/>.</param>
    public void CopyTo(long frame, Span<float> first, Span<float> matched)
    {
        for (int at = 0; at < first.Length; at += _length)
        {
            Read(frame + at / Channels, Math.Min(BlockFrames, (first.Length - at) / Channels));
            First.CopyTo(first[at..]);
            Matched.CopyTo(matched[at..]);
        }
    }

    /// <summary>As <see cref="Read"/>, without matching and residue.</summary>
    internal void ReadBoth(long frame, int count)
    {
        _first.Read(frame, count, _firstBlock);
        _second.Read(frame + _offset, count, _secondBlock);
        _firstFloats.Of(_firstBlock);
        IsEqual = _first.Format == _second.Format && !_first.Format.IsFloat && _firstBlock.Integers.SequenceEqual(_secondBlock.Integers);
        if (!IsEqual)
            _secondFloats.Of(_secondBlock);
    }

    public void Dispose()
    {
        _first.Dispose();
        _second.Dispose();
    }
}
