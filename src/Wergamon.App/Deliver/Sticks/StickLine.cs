using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file of a stick and what it needs.</summary>
public sealed record StickLine(SyncStep Step)
{
    public StickTrack? Track { get; init; }

    public StickPlaylist? Playlist { get; init; }

    /// <summary>As it was written; null for a new one.</summary>
    internal StickFile? Known { get; init; }

    public bool IsPlaylist => Step.Key.IsPlaylist;

    public string Path => (Step.Wanted?.Path ?? Step.Written?.Path)!;

    public string Title => Playlist?.List.Title ?? Track?.Track.Title ?? System.IO.Path.GetFileNameWithoutExtension(Path);

    public string Artist => Track?.Track.Artist ?? "";

    /// <summary>What happens to the sound; null if nothing is converted.</summary>
    public Route? Route => Step.IsWritten && Track is { IsCopied: false } track ? track.Planned.Route : null;

    public IReadOnlyList<PlanNote> Notes => Step.IsWritten && Track is { } track ? track.Planned.Notes : [];

    /// <summary>What will be written, if that is known in advance.</summary>
    public long BytesToWrite =>
        Playlist is not null && IsToDo ? Playlist.Text.Length
        : Step.IsWritten ? Track?.Bytes ?? 0
        : Step.State == SyncState.Tags ? Step.Written!.Stamp.Bytes
        : 0;

    public bool IsToDo => Step.IsToDo;
}
