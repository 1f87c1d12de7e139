using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;
using Wergamon.Core.Playlists;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A list of a stick as it is now.</summary>
/// <param name="IsThere">False for a set that was removed, or an album that has left the library.</param>
public sealed record StickList(StickListRow Row, string Title, IReadOnlyList<long> TrackIds, bool IsThere)
{
    /// <summary>The folder of its files if each list has one.</summary>
    public string Folder { get; init; } = "";
}

/// <summary>A track in its place on a stick, as it should be.</summary>
/// <param name="List">The first list that has it.</param>
/// <param name="Notes">What the library says of it now.</param>
/// <param name="IsCopied">True if the file is copied unchanged.</param>
public sealed record StickTrack(StickList List, TrackRow Track, PlanItem Planned, StickNotes Notes, bool IsCopied)
{
    /// <summary>True when nothing happens to the sound and it stays in its format, whatever is written into its tags.</summary>
    public bool KeepsSound { get; init; }

    public long Bytes => IsCopied ? Track.Master.FileBytes : Planned.Size.Bytes;
}

/// <summary>A playlist as it should be.</summary>
public sealed record StickPlaylist(StickList List, Playlist Playlist)
{
    public string Text { get; } = PlaylistFormat.M3u8.Write(Playlist);
}

/// <summary>A stick beside the library as both are now.</summary>
/// <param name="Place">Where it is; null while it is away.</param>
/// <param name="Lines">In the order wanted, then what goes.</param>
/// <param name="Foreign">Paths of files that were not written from here.</param>
public sealed record StickView(
    DeliveryRow Row, StickSettings Settings, DeviceDescription Device, IReadOnlyList<StickList> Lists, string? Place,
    IReadOnlyList<StickLine> Lines, IReadOnlyList<string> Foreign)
{
    /// <summary>False while something that was found is not saved yet; see <see cref="StickViews.Reconcile"/>.</summary>
    public bool IsReconciled { get; init; }

    /// <summary>Those of them that were copied into the library.</summary>
    public IReadOnlySet<string> Imported { get; init; } = new HashSet<string>();

    /// <summary>The newest run; null before the first.</summary>
    public RunRow? Run { get; init; }

    public long? FreeBytes { get; init; }

    /// <summary>The file system at its place: "vfat".</summary>
    public string? FoundFileSystem { get; init; }

    /// <summary>Tracks whose changed files are not analysed yet: whether their sound has changed is not known.</summary>
    public int NotAnalysed => Count(SyncState.NotAnalysed);

    /// <summary>Tracks that are excluded because somebody deleted them on the device.</summary>
    public int Skipped { get; init; }

    /// <summary>Tracks whose file is missing now; their files on the stick are kept.</summary>
    public int SourcesMissing { get; init; }

    public IReadOnlyList<StickLine> ToDo { get; } = [.. Lines.Where(line => line.IsToDo)];

    public int Count(params SyncState[] states) => Lines.Count(line => states.Contains(line.Step.State));

    public long BytesToWrite => ToDo.Sum(line => line.BytesToWrite);

    /// <summary>What the stick will hold more than now.</summary>
    public long BytesAdded =>
        ToDo.Sum(line => line.BytesToWrite)
            - ToDo.Where(line => line.Step.State is SyncState.Gone or SyncState.Sound or SyncState.Tags)
                .Sum(line => line.Step.Written!.Stamp.Bytes);

    /// <summary>
    /// Converting for one second of playing time, by kind of work, as this machine has done it; see <see cref="Throughput"/>.
    /// </summary>
    internal IReadOnlyDictionary<string, double> Paces { get; init; } = new Dictionary<string, double>();

    internal int Workers { get; init; } = 1;

    /// <summary>How fast the stick was last written; null before that.</summary>
    public double? BytesPerSecond { get; init; }

    /// <summary>
    /// How long the update will take, estimated from earlier work: converting and writing run side by side. Null without earlier work.
    /// </summary>
    public TimeSpan? Duration
    {
        get
        {
            double converting = 0;
            foreach (var line in ToDo.Where(line => line.Route is not null))
            {
                if (!Paces.TryGetValue(
                    ConvertWork.Of(line.Track!.Planned.Target, line.Route!.Steps.Select(step => step.Kind)).Key, out double pace))
                    return null;
                converting += pace * line.Track.Track.Master.Facts.Duration.TotalSeconds / Workers;
            }

            return BytesPerSecond is { } speed ? TimeSpan.FromSeconds(Math.Max(converting, BytesToWrite / speed)) : null;
        }
    }

    /// <summary>Why it cannot be brought up to date now, for the person; null when it can.</summary>
    public string? Problem =>
        Place is null ? "This stick is not connected. Plug it in, or choose its folder."
        : BytesAdded > FreeBytes ? "There is not enough space on the stick. Remove a list, or choose smaller files."
        : Device.Rules.ProblemOf(
            [.. Lines.Where(line => line.Step.Wanted is not null).Select(line => (line.Path, line.Track?.Bytes ?? 0))]);
}

/// <summary>What a comparison of a stick has found that is not saved yet.</summary>
/// <param name="Moved">Its settings, if it is at another path now.</param>
/// <param name="Titles">Of renamed lists, by ID.</param>
/// <param name="TookPlace">Keys of changes that were interrupted after they had taken place.</param>
/// <param name="Imported">Files that came into the library from the stick and count as written from here.</param>
/// <param name="Analysed">Files whose sound has been analysed since they were written.</param>
/// <param name="Vanished">Keys of files that are neither wanted nor there any more.</param>
internal sealed record StickFindings(
    StickSettings? Moved, IReadOnlyList<(long ListId, string Title)> Titles, IReadOnlyList<SyncKey> TookPlace,
    IReadOnlyList<StickFile> Imported, IReadOnlyList<StickFile> Analysed, IReadOnlyList<SyncKey> Vanished)
{
    public bool IsAnything =>
        Moved is not null || Titles.Count + TookPlace.Count + Imported.Count + Analysed.Count + Vanished.Count > 0;
}
