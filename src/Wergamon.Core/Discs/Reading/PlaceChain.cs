using Wergamon.Core.Audio;

namespace Wergamon.Core.Discs.Reading;

/// <summary>How the position of a read was found.</summary>
internal enum PlacedBy
{
    /// <summary>Assumed to be where it was requested; nothing can confirm it.</summary>
    Nothing,

    /// <summary>By frames right beside it.</summary>
    Neighbour,

    /// <summary>By frames in it whose position is known, or because any position is right.</summary>
    Anchor,

    /// <summary>Assumed to be where it was requested; what follows has to confirm it.</summary>
    Assumption,

    /// <summary>By reading it many times.</summary>
    Vote,
}

/// <summary>
/// Errors of reads that were placed by one another. The first is taken to be right; if it was not, all the others seem
/// to be off by the same amount.
/// </summary>
internal sealed class PlaceChain
{
    /// <summary>Maximum reads before a decision.</summary>
    private const int Most = 16;

    private readonly List<int> _shifts = [];

    public bool IsOpen => _shifts.Count > 0;

    public int Reads => _shifts.Count;

    public bool IsFull => _shifts.Count >= Most;

    /// <summary>The frame at which the first read started.</summary>
    public long From { get; private set; }

    public void Open(long from)
    {
        _shifts.Clear();
        _shifts.Add(0);
        From = from;
    }

    /// <summary>Adds a read that was placed by the chain; does nothing without one.</summary>
    public void Add(int shift)
    {
        if (IsOpen)
            _shifts.Add(shift);
    }

    public void Close() => _shifts.Clear();

    /// <summary>How far most reads seem to be off; null while no amount leads clearly.</summary>
    /// <param name="lead">Reads by which it must lead any other.</param>
    public int? Verdict(int lead)
    {
        var counts = _shifts.GroupBy(shift => shift)
            .OrderByDescending(group => group.Count())
            .Take(2)
            .Select(group => (group.Key, Count: group.Count()))
            .ToList();
        return counts[0].Count - (counts.Count > 1 ? counts[1].Count : 0) >= lead ? counts[0].Key : null;
    }
}
