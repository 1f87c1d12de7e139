namespace Wergamon.App.Tracks;

/// <summary>A list of tracks that another station keeps.</summary>
public sealed record TrackListing(long Id, string Title, IReadOnlyList<long> TrackIds);

/// <summary>
/// Ordered lists of tracks that one station keeps and others read: an interface between stations that do not know each other.
/// </summary>
public interface ITrackLists
{
    /// <summary>All lists by name.</summary>
    IReadOnlyList<(long Id, string Title)> All();

    /// <summary>A list as it is now, without tracks that have left the library; null when there is none.</summary>
    TrackListing? Get(long id);

    /// <summary>Sets the tracks of a list in the order chosen elsewhere, as a change that can be undone.</summary>
    /// <returns>False for one that is not made by hand.</returns>
    bool SetTracks(long id, IReadOnlyList<long> trackIds, string words);
}
