using Wergamon.Core.Naming;

namespace Wergamon.Core.Playlists;

/// <summary>A file of the library that an entry of a playlist may mean.</summary>
public readonly record struct KnownFile(long TrackId, string Path, string Title, string Artist, TimeSpan Length);

/// <summary>
/// Finds the tracks that a playlist means: by path; else by the end of the path, where music has moved or another machine has written the
/// list; else by title, artist and length. What could mean several tracks alike means none.
/// </summary>
public sealed class PlaylistMatching
{
    /// <summary>As for copies of one track. <em>Common practice, no source.</em></summary>
    private static readonly TimeSpan LengthTolerance = TimeSpan.FromSeconds(2);

    private readonly Dictionary<string, long> _byPath = new(StringComparer.Ordinal);
    private readonly ILookup<string, KnownFile> _byName;
    private readonly ILookup<string, KnownFile> _byTitle;

    public PlaylistMatching(IReadOnlyCollection<KnownFile> files)
    {
        foreach (var file in files)
            _byPath.TryAdd(file.Path, file.TrackId);
        _byName = files.ToLookup(file => FoldedText.SortKey(PartsOf(file.Path)[^1]));
        _byTitle = files.ToLookup(file => FoldedText.SortKey(file.Title));
    }

    /// <returns>The ID of a track; null for what is not in the library.</returns>
    public long? Find(PlaylistEntry entry)
    {
        if (entry.Path.Length > 0)
        {
            if (_byPath.TryGetValue(entry.Path, out long exact))
                return exact;
            if (ByEnd(entry) is { } moved)
                return moved;
        }

        return ByTags(entry);
    }

    /// <summary>Among files of this name, the one that shares the most folders above it, from the name upwards.</summary>
    private long? ByEnd(PlaylistEntry entry)
    {
        var parts = PartsOf(entry.Path);
        var best = _byName[FoldedText.SortKey(parts[^1])]
            .Where(file => Fits(file, entry))
            .GroupBy(file => CommonEnd(PartsOf(file.Path), parts))
            .MaxBy(group => group.Key);
        var tracks = (best ?? Enumerable.Empty<KnownFile>()).Select(file => file.TrackId).Distinct().Take(2).ToList();
        return tracks.Count == 1 ? tracks[0] : null;
    }

    private long? ByTags(PlaylistEntry entry)
    {
        if (entry.Title.Length == 0)
            return null;
        var artist = FoldedText.SortKey(entry.Artist);
        var tracks = _byTitle[FoldedText.SortKey(entry.Title)]
            .Where(file => FoldedText.SortKey(file.Artist) == artist && Fits(file, entry))
            .Select(file => file.TrackId)
            .Distinct()
            .Take(2)
            .ToList();
        return tracks.Count == 1 ? tracks[0] : null;
    }

    private static bool Fits(KnownFile file, PlaylistEntry entry) =>
        entry.Duration is not { } duration || (file.Length - duration).Duration() <= LengthTolerance;

    /// <summary>Lists of other systems separate folders by backslashes.</summary>
    private static string[] PartsOf(string path) => path.Contains('/', StringComparison.Ordinal) ? path.Split('/') : path.Split('\\');

    private static int CommonEnd(string[] first, string[] second)
    {
        int count = 0;
        while (count < first.Length && count < second.Length
            && FoldedText.SortKey(first[^(count + 1)]) == FoldedText.SortKey(second[^(count + 1)]))
            count++;
        return count;
    }
}
