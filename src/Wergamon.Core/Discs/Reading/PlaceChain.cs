using Wergamon.Core.Audio;

namespace Wergamon.Core.Discs.Reading;

/// <summary>By what the place of a read was found.</summary>
internal enum PlacedBy
{
    /// <summary>It was taken to stand where it was asked for, and nothing can confirm that.</summary>
    Nothing,

    /// <summary>By frames right beside it.</summary>
    Neighbour,

    /// <summary>By frames in it whose place is known, or because any place is right.</summary>
    Anchor,

    /// <summary>It was taken to stand where it was asked for; what follows has to confirm that.</summary>
    Assumption,

    /// <summary>By reading it many times.</summary>
    Vote,
}

/// <summary>
/// How far astray reads were that are placed by one another. The first is taken to be right; if it was not, all the others seem
/// to be astray by the same amount.
/// </summary>
internal sealed class PlaceChain
{
    /// <summary>After so many reads the matter is decided one way or the other.</summary>
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

    /// <summary>Takes in a read that was placed by the chain; without one, nothing happens.</summary>
    public void Add(int shift)
    {
        if (IsOpen)
            _shifts.Add(shift);
    }

    public void Close() => _shifts.Clear();

    /// <summary>By how much most reads seem to be astray; null while no amount leads clearly.</summary>
    /// <param name="lead">By so many reads it must lead before any other.</param>
    public int? Verdict(int lead)
    {
        var counts = _shifts.GroupBy(shift => shift).OrderByDescending(group => group.Count()).Take(2).Select(group => (group.Key, Count: group.Count())).ToList();
        return counts[0].Count - (counts.Count > 1 ? counts[1].Count : 0) >= lead ? counts[0].Key : null;
    }
}
