using System.Text;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Playlists;

namespace Wergamon.App.Deliver.Files;

/// <summary>Files made by a target, to be downloaded as one zip in their order.</summary>
public sealed class ZippedFiles(
    DeliveryStore store, DeliveryRuns starts, DeliveredFiles files, TargetChoices targets, RunStore runs, DeliverySpool spool,
    Settings settings)
{
    public static readonly RunKind RunKind = new("zip", Station.Deliver, "Converting", "proved");

    private const string ChoiceKey = "zip";

    /// <summary>Plans tracks, with the settings of the last plan.</summary>
    /// <param name="title">Null to go by the album.</param>
    public long Create(string? title, IReadOnlyList<long> trackIds) =>
        store.Create(
            DeliveryKind.Zip, store.TitleFor(title, trackIds),
            (settings.Read(ChoiceKey, FilesJson.Default.ZipSettings) ?? new ZipSettings()).ToJson(), trackIds);

    public ZipView? View(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Zip } row)
            return null;
        var chosen = ZipSettings.Of(row);
        var target = targets.Get(chosen.TargetKey) with
        {
            Names = chosen.Names,
            Place = OutputLocation.Folder,
            OnConflict = ConflictRule.KeepBoth
        };
        return new ZipView(
            row, chosen, target, files.Plan(store.Items(id), target, chosen.IsNumbered))
        { Run = store.LatestRun(id) is { } run ? runs.Get(run) : null };
    }

    /// <summary>Changes how the files are made; the next plan begins with the same.</summary>
    public void SetSettings(long id, ZipSettings changed)
    {
        store.SetSettings(id, changed.ToJson());
        settings.Write(ChoiceKey, changed, FilesJson.Default.ZipSettings);
    }

    /// <summary>Starts to make the files; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Start(long id)
    {
        if (View(id) is not { } view)
            return (null, "These files are no longer planned.");
        if (view.Problem is { } problem)
            return (null, problem);
        return starts.Start(
            id, new NewRun(RunKind, view.Row.Title, view.Target.Name, null),
            (connection, run) => DeliveredFiles.Insert(connection, run, 0, view.Files, spool.FolderOf(run)), staysInSpool: true);
    }

    /// <summary>
    /// The files of the newest run that are there, with their names in the zip, and the playlist; empty until they are made.
    /// </summary>
    public IReadOnlyList<(string Name, Func<Stream> Open, long Bytes)> Made(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Zip } row || store.LatestRun(id) is not { } run
            || runs.Get(run) is not { State: RunState.Done })
            return [];
        var folder = spool.FolderOf(run);
        var made = runs.Items(run)
            .Where(item => CopyResult.Of(item) is { Path: var path } && PlainFile.Exists(path))
            .OrderBy(item => item.Position)
            .Select(item => (Item: item, CopyResult.Of(item)!.Path))
            .ToList();
        if (made.Count == 0)
            return [];
        List<(string, Func<Stream>, long)> entries = [
            .. made.Select(
                each =>
                    (Path.GetRelativePath(folder, each.Path), (Func<Stream>)(() => PlainFile.OpenRead(each.Path)),
                        PlainFile.Length(each.Path)))
        ];
        if (ZipSettings.Of(row).HasPlaylist)
        {
            var list = new Playlist(
                row.Title,
                [
                    .. made.Select(
                        each =>
                            new PlaylistEntry(
                                Path.GetRelativePath(folder, each.Path), each.Item.Title, "", TimeSpan.FromMilliseconds(each.Item.Weight)))
                ]);
            var text = Encoding.UTF8.GetBytes(PlaylistFormat.M3u8.Write(list));
            entries.Add(
                (SafeFileName.From(row.Title, PlaylistFormat.M3u8.Extension), () => new MemoryStream(text, writable: false), text.Length));
        }

        return entries;
    }
}
