namespace Wergamon.App.Tracks;

/// <summary>What is wrong or special about a track; lists can show only those.</summary>
public enum TrackFilter
{
    NoArtwork,
    Untagged,
    LossyOnly,
    SeveralCopies,
    MixedRates,
    NotForDisc,
    Damaged,

    /// <summary>The Bench has found that a copy is suspect.</summary>
    NotAsItSays,
    Missing,
}
