using Wergamon.App.Deliver.Sticks;
using Wergamon.Core.Bytes;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Deliver.Sticks;

/// <summary>Files of a stick that are counted and listed together.</summary>
/// <param name="Key">In addresses.</param>
public sealed record StickGroup(string Key, string Words, IReadOnlyList<SyncState> States);

/// <summary>Sticks in words.</summary>
internal static class StickLabels
{
    private const int MaxText = 120, MaxTitles = 6;

    public static IReadOnlyList<StickGroup> Groups { get; } =
    [
        new("new", "to add", [SyncState.New, SyncState.Deleted]),
        new("sound", "to make again", [SyncState.Sound]),
        new("tags", "tags to write", [SyncState.Tags]),
        new("moved", "to rename", [SyncState.Moved]),
        new("order", "to put in order", [SyncState.Order]),
        new("gone", "to remove", [SyncState.Gone]),
        new("changed", "changed there", [SyncState.ChangedThere]),
        new("kept", "up to date", [SyncState.UpToDate, SyncState.NotAnalysed]),
        new("missing", "source missing", [SyncState.SourceMissing]),
    ];

    public static StickGroup? Group(string? key) => Groups.FirstOrDefault(group => group.Key == key);

    public static string Of(SyncState state) => state switch
    {
        SyncState.New => "add",
        SyncState.Deleted => "add again",
        SyncState.Sound => "make again",
        SyncState.Tags => "write tags",
        SyncState.Moved => "rename",
        SyncState.Order => "put in order",
        SyncState.Gone => "remove",
        SyncState.ChangedThere => "changed there",
        SyncState.SourceMissing => "keep",
        _ => "up to date",
    };

    /// <summary>Why that is done.</summary>
    public static string Reason(StickLine line) => line.Step.State switch
    {
        SyncState.Deleted => "It was deleted on the device.",
        SyncState.Sound when !line.IsPlaylist => "The audio or the device settings changed.",
        SyncState.Sound => "Its tracks or their names changed.",
        SyncState.Tags => "Tags or artwork changed; the audio stays.",
        SyncState.Order => "The device plays in the order of writing.",
        SyncState.Gone => "It is in no list on this stick.",
        SyncState.ChangedThere => "Changed on the device; kept until you choose a version.",
        SyncState.NotAnalysed => "Written to in the library; the analysis will tell whether the audio changed.",
        SyncState.SourceMissing => "Its file in the library is missing.",
        _ => "",
    };

    public static string Field(string field) => field == FieldNames.Chapters ? "marks" : field;

    /// <summary>The values of a field as one line.</summary>
    public static string Value(IReadOnlyList<string> values) =>
        values.Count == 0 ? "none" : WellFormedText.Cut(FieldText.Join(values), MaxText);

    /// <summary>The first titles of a list, and how many more there are.</summary>
    public static string Titles(IReadOnlyList<StickEntry> entries) =>
        entries.Count == 0
            ? "empty"
            : string.Join(", ", entries.Take(MaxTitles).Select(entry => entry.Title))
                + (entries.Count > MaxTitles ? $" and {entries.Count - MaxTitles:N0} more" : "");

    /// <summary>Differences of a playlist other than its order.</summary>
    public static string Difference(StickListChange list) => string.Join(", ", new[]
    {
        list.Added > 0 ? $"{list.Added:N0} added" : "",
        list.Removed > 0 ? $"{list.Removed:N0} taken out" : "",
        list.Unknown > 0 ? $"{list.Unknown:N0} other files skipped" : "",
    }.Where(part => part.Length > 0));

    /// <summary>
    /// A warning when the file system of a stick is known to be one that its device cannot read; otherwise null.
    /// </summary>
    /// <param name="found">As the system calls it.</param>
    public static string? FileSystemNote(DeviceDescription device, string found) => (device.FileSystem, found) switch
    {
        (StickFileSystem.Other, _) or (StickFileSystem.Fat32, "vfat" or "msdos") or (StickFileSystem.ExFat, "exfat" or "vfat" or "msdos") =>
            null,
        _ => $"The device reads {device.Rules.Name}; this place is {found}.",
    };
}
