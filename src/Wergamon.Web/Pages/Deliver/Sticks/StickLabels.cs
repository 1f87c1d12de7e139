using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;
using Wergamon.Core.Sticks;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver.Sticks;

/// <summary>Files of a stick that are counted and listed together.</summary>
/// <param name="Key">In addresses.</param>
public sealed record StickGroup(string Key, string Words, IReadOnlyList<StickState> States);

/// <summary>Sticks in words.</summary>
internal static class StickLabels
{
    private const int MaxText = 120, MaxTitles = 6;

    public static IReadOnlyList<StickGroup> Groups { get; } =
    [
        new("new", "to add", [StickState.New, StickState.Deleted]),
        new("sound", "to make again", [StickState.Sound]),
        new("tags", "tags to write", [StickState.Tags]),
        new("moved", "to rename", [StickState.Moved]),
        new("order", "to put in order", [StickState.Order]),
        new("gone", "to remove", [StickState.Gone]),
        new("changed", "changed there", [StickState.ChangedThere]),
        new("kept", "up to date", [StickState.UpToDate]),
    ];

    public static StickGroup? Group(string? key) => Groups.FirstOrDefault(group => group.Key == key);

    public static string Of(StickState state) => state switch
    {
        StickState.New => "add",
        StickState.Deleted => "add again",
        StickState.Sound => "make again",
        StickState.Tags => "write tags",
        StickState.Moved => "rename",
        StickState.Order => "put in order",
        StickState.Gone => "remove",
        StickState.ChangedThere => "changed there",
        _ => "up to date",
    };

    /// <summary>Why that is done.</summary>
    public static string Reason(StickLine line) => line.Step.State switch
    {
        StickState.Deleted => "It was deleted on the device.",
        StickState.Sound when !line.IsPlaylist => "The audio or the device settings changed.",
        StickState.Sound => "Its tracks or their names changed.",
        StickState.Tags => "Tags or artwork changed; the audio stays.",
        StickState.Order => "The device plays in the order of writing.",
        StickState.Gone => "It is in no list on this stick.",
        StickState.ChangedThere => "Changed on the device; kept until you choose a version.",
        _ => "",
    };

    public static string Field(string field) => field == FieldNames.Chapters ? "marks" : field;

    /// <summary>The values of a field as one line.</summary>
    public static string Value(IReadOnlyList<string> values) => values.Count == 0 ? "none" : Labels.Cut(FieldText.Join(values), MaxText);

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

    /// <summary>What a run has done.</summary>
    public static string Done(IReadOnlyList<RunItemRow> results)
    {
        int written = results.Count(item => StickRuns.IsWriting(item)), removed = results.Count(item => StickRuns.IsRemoval(item)),
            moved = results.Count - written - removed;
        var parts = new List<string>();
        if (written > 0)
            parts.Add($"{Plural.Count(written, "file")} written and read back");
        if (moved > 0)
            parts.Add($"{moved:N0} renamed");
        if (removed > 0)
            parts.Add($"{removed:N0} removed");
        return parts.Count == 0 ? "Everything was up to date." : string.Join(", ", parts) + ".";
    }
}
