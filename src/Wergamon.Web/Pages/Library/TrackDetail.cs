using Wergamon.App.Library;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages;

/// <summary>One copy in the tree of where copies came from.</summary>
/// <param name="Made">The step that made it; null for a file that came in as it is.</param>
/// <param name="Depth">0 for what came in.</param>
public sealed record LineageLine(CopyRow Copy, LineageRow? Made, int Depth)
{
    public string InWords(DateTimeOffset now) => Made is null
        ? $"came in as it is, {Words.Day(Copy.AddedAt, now)}"
        : $"{Copy.Fidelity.InWords()}, for {Made.TargetName}, {Words.Day(Made.MadeAt, now)}";
}

/// <summary>All that is shown of one track.</summary>
public sealed record TrackDetail(TrackRow Track, TagSet Tags, IReadOnlyList<LineageLine> Lineage)
{
    private const int DeepestShown = 4;

    public static TrackDetail? Read(LibraryQueries library, long trackId)
    {
        if (library.TracksById([trackId]) is not [var track])
            return null;
        var made = library.LineageOf(trackId).ToDictionary(row => row.CopyId);
        var lines = new List<LineageLine>();
        foreach (var copy in track.Copies.Where(copy => !made.TryGetValue(copy.Id, out var row) || track.Copies.All(other => other.Id != row.FromCopyId)))
            AddWithDescendants(copy, 0);
        return new TrackDetail(track, library.TagsOf(track.Master.Id), lines);

        void AddWithDescendants(CopyRow copy, int depth)
        {
            lines.Add(new LineageLine(copy, made.GetValueOrDefault(copy.Id), Math.Min(depth, DeepestShown)));
            foreach (var child in track.Copies.Where(child => made.TryGetValue(child.Id, out var row) && row.FromCopyId == copy.Id))
                AddWithDescendants(child, depth + 1);
        }
    }
}
