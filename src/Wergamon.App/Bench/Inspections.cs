using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;

namespace Wergamon.App.Bench;

/// <summary>Starts authenticity checks: of one file, an album, or the whole library.</summary>
public sealed class Inspections(Database database, InspectionStore store, LibraryQueries library, RunStore runs)
{
    /// <summary>The runs that check files.</summary>
    public static readonly RunKind RunKind = new("inspect", Station.Bench, "Checking", "checked")
    {
        SaysSummary = run => $"{run.CountResults("file")} checked",
        SaysHowItEnded = true
    };

    /// <summary>Checks all copies that were not checked yet; null when there are none.</summary>
    public long? StartAll() => Start(store.Left(null), "Whole library");

    public long? StartAlbum(long albumId) =>
        library.Album(albumId) is { } album
            ? Start(store.Left([.. library.TracksOfAlbum(albumId).SelectMany(track => track.Copies).Select(copy => copy.Id)]), album.Title)
            : null;

    public long? StartCopy(long copyId) =>
        library.Copy(copyId) is { } copy && library.TracksById([copy.TrackId]) is [var track]
            ? Start(store.Left([copyId]), track.Title)
            : null;

    private long? Start(IReadOnlyList<CopyRow> copies, string title)
    {
        if (copies.Count == 0)
            return null;
        return database.Change(connection =>
        {
            long runId = runs.Insert(connection, new NewRun(RunKind, title, "Authenticity check", null));
            for (int i = 0; i < copies.Count; i++)
            {
                var copy = copies[i];
                long length = (long)copy.Facts.Duration.TotalMilliseconds;
                var item = InspectHandler.ItemKind.New(Lane.Worker, Path.GetFileName(copy.Path), length, new InspectSpec(copy.Id));
                RunStore.InsertItem(connection, runId, i, item with { CopyIds = [copy.Id] });
            }

            return runId;
        });
    }
}
