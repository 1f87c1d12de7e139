using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Imports music that somebody added to a stick into the library.</summary>
public sealed class StickImports(StickViews views, DeliveryRuns starts, MusicFolders folders)
{
    public static readonly RunKind RunKind = new("stick-import", Station.Deliver, "Copying", "copied")
    {
        SaysSummary = run => $"{run.CountResults("file")} into the library"
    };

    /// <summary>
    /// Starts to copy music that somebody put on the stick into a music folder, below a folder named after the stick; gives the run, or the
    /// reason, for the person, why that is not possible.
    /// </summary>
    /// <param name="paths">On the stick; files written from here are skipped.</param>
    public (long? RunId, string? Problem) Start(long id, long folderId, IReadOnlyCollection<string> paths)
    {
        if (views.View(id) is not { Place: { } place } view)
            return (null, "This stick is not connected. Plug it in again.");
        if (folders.List().FirstOrDefault(each => each.Id == folderId) is not { IsThere: true } folder)
            return (null, "This music folder is missing.");
        var chosen = view.Foreign.Where(paths.Contains).ToList();
        if (chosen.Count == 0)
            return (null, "None of the picked files is still on the stick.");
        var top = Path.Combine(folder.Path, SafeFileName.From(view.Row.Title));
        return starts.Start(id, new NewRun(RunKind, view.Row.Title, "into the library", folder.Path), (connection, run) =>
            [
                .. chosen.Select(
                    (path, position) => RunStore.InsertItem(
                        connection, run, position,
                        StickImportHandler.ItemKind.New(
                            Lane.Stick(id), Path.GetFileNameWithoutExtension(path),
                            1 + StickItems.WeightOf(PlainFile.Length(Path.Combine(place, path))),
                new StickImportSpec(place, view.Settings.Mark, path, folderId, Path.Combine(top, path)) { StickId = id })))]);
    }
}
