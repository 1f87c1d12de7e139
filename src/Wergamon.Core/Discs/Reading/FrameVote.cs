namespace Wergamon.Core.Discs.Reading;

/// <summary>Counts votes frame by frame over the readings of a stretch.</summary>
/// <param name="length">Frames of the stretch.</param>
internal sealed class FrameVote(long start, int length, int mostReadings)
{
    private readonly uint[] _values = new uint[length * mostReadings];
    private readonly byte[] _votes = new byte[length * mostReadings];
    private readonly byte[] _distinct = new byte[length];

    /// <summary>The part that has not agreed yet, as frames of the disc; empty when all has.</summary>
    public (long From, long End) Open { get; private set; } = (start, start + length);

    public long Start => start;

    public long End => start + length;

    /// <summary>Readings of the stretch so far.</summary>
    public int Readings { get; private set; }

    /// <summary>True when the position of some readings had to be assumed.</summary>
    public bool IsUnplaced { get; set; }

    public bool IsSettled => Open.From >= Open.End;

    /// <summary>Adds a reading. Frames that the drive reported as damaged have no vote.</summary>
    /// <param name="from">Its first frame on the disc.</param>
    /// <param name="damaged">Stretches of the disc that the drive reported as damaged in this reading.</param>
    public void Add(ReadOnlySpan<uint> frames, long from, IEnumerable<(long From, long End)> damaged)
    {
        Readings++;
        int at = 0;
        foreach (var (badFrom, badEnd) in damaged.Order())
        {
            int bad = (int)Math.Clamp(badFrom - from, at, frames.Length);
            Count(frames[at..bad], (int)(from - start) + at);
            at = (int)Math.Clamp(badEnd - from, bad, frames.Length);
        }

        Count(frames[at..], (int)(from - start) + at);
    }

    /// <summary>Whether any reading had a vote on a frame.</summary>
    public bool HasVotes(long frame) => _distinct[frame - start] > 0;

    private void Count(ReadOnlySpan<uint> frames, int offset)
    {
        for (int i = 0; i < frames.Length; i++)
        {
            int row = (offset + i) * mostReadings;
            int distinct = _distinct[offset + i];
            int slot = _values.AsSpan(row, distinct).IndexOf(frames[i]);
            if (slot < 0)
            {
                slot = distinct;
                _values[row + slot] = frames[i];
                _distinct[offset + i]++;
            }

            _votes[row + slot]++;
        }
    }

    /// <summary>Finds frames that have agreed: enough readings for one value, and more than twice as many as for any other.</summary>
    public void Narrow(int agreements)
    {
        long from = Open.From, end = Open.End;
        while (from < end && IsAgreed(from, agreements))
            from++;
        while (end > from && IsAgreed(end - 1, agreements))
            end--;
        Open = (from, end);
    }

    public bool IsAgreed(long frame, int agreements)
    {
        var (_, most, second) = Count(frame);
        return most >= agreements && most > 2 * second;
    }

    /// <summary>The value that most readings gave; of several, the one that came first.</summary>
    public uint Winner(long frame) => Count(frame).Value;

    private (uint Value, int Most, int Second) Count(long frame)
    {
        int index = (int)(frame - start), row = index * mostReadings;
        int best = 0, second = 0;
        for (int slot = 1; slot < _distinct[index]; slot++)
        {
            if (_votes[row + slot] > _votes[row + best])
                (second, best) = (_votes[row + best], slot);
            else
                second = Math.Max(second, _votes[row + slot]);
        }

        return (_values[row + best], _votes[row + best], second);
    }
}
