using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file that was changed on the device.</summary>
/// <param name="Notes">What it says otherwise now; empty where something else in it has changed.</param>
/// <param name="Problem">Why it cannot be read, for the person; null when it can.</param>
public sealed record StickFileChange(StickLine Line, IReadOnlyList<NoteChange> Notes, string? Problem);

/// <summary>A track in a playlist of a device.</summary>
/// <param name="TrackId">Null for one that is not from here.</param>
public sealed record StickEntry(long? TrackId, string Title);

/// <summary>What was changed on the device since the stick was written.</summary>
/// <param name="Deleted">Files that were deleted there.</param>
/// <param name="Added">Paths of music files that were not written from here.</param>
public sealed record StickChanges(
    IReadOnlyList<StickFileChange> Files, IReadOnlyList<StickListChange> Lists, IReadOnlyList<StickLine> Deleted,
    IReadOnlyList<string> Added)
{
    /// <summary>Changes that wait for a decision.</summary>
    public int Count => Files.Sum(file => Math.Max(1, file.Notes.Count)) + Lists.Count + Deleted.Count;
}

/// <summary>A playlist that was changed on the device.</summary>
/// <param name="Here">The tracks of the list now.</param>
/// <param name="There">Those on the device.</param>
/// <param name="IsConflict">True if the list was changed here, too.</param>
public sealed record StickListChange(StickLine Line, IReadOnlyList<StickEntry> Here, IReadOnlyList<StickEntry> There, bool IsConflict)
{
    public int Added => There.Count(entry => entry.TrackId is not null) - Kept;

    public int Removed => Here.Count - Kept;

    /// <summary>Entries that are no tracks of the library; they cannot be applied.</summary>
    public int Unknown => There.Count(entry => entry.TrackId is null);

    private int Kept
    {
        get
        {
            var left = Here.GroupBy(entry => entry.TrackId!.Value).ToDictionary(group => group.Key, group => group.Count());
            return There.Count(entry => entry.TrackId is { } id && left.GetValueOrDefault(id) > 0 && left[id]-- > 0);
        }
    }
}
