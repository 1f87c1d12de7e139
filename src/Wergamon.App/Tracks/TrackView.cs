namespace Wergamon.App.Tracks;

/// <summary>What a list is sorted by.</summary>
public enum TrackSort
{
    Artist,
    Title,
    Album,
    Number,
    Year,
    Genre,
    Format,
    Rates,
    Length,
    Size,
    Added,
    Tempo,
    Key,
    Rating,
    Path,
}

/// <summary>A list of tracks: what is in it and in which order. Two equal views show the same list.</summary>
/// <param name="Words">Every one of them is found in the track's tags or paths; empty for all tracks.</param>
/// <param name="Marks">Every one of them holds.</param>
/// <param name="Format">The codec of the master copy; null for any.</param>
/// <param name="Folder">Only files below it; null for all.</param>
public sealed record TrackView(
    string Words, IReadOnlyList<TrackFilter> Marks, string? Format, string? Folder, TrackSort Sort, bool IsDescending);

/// <summary>How many tracks a view has and how many of them have each mark and each format.</summary>
public sealed record TrackCounts(
    int Tracks, long LengthMs, long Bytes, IReadOnlyDictionary<TrackFilter, int> Marks, IReadOnlyList<(string Format, int Tracks)> Formats);
