using System.Data;
using System.Globalization;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Deliver;

/// <summary>A file that will be delivered.</summary>
/// <param name="Track">Null when it has left the library.</param>
/// <param name="Planned">Null where there is no file to make it from.</param>
public sealed record DeliveredFile(DeliveryItemRow Item, TrackRow? Track, PlanItem? Planned)
{
    public string Title => Track?.Title ?? Item.Title;

    public string Artist => Track?.Artist ?? Item.Artist;
}

/// <summary>Plans files for a disc or a stick, and makes the items of a run of them.</summary>
public sealed class DeliveredFiles(Database database, LibraryQueries library)
{
    /// <summary>All in one folder, in order.</summary>
    public const string NumberedNames = "{track:000} {artist} - {title}";

    /// <param name="target">With the pattern of names.</param>
    /// <param name="isNumbered">True to number names in this order, not by album.</param>
    public IReadOnlyList<DeliveredFile> Plan(IReadOnlyList<DeliveryItemRow> items, Target target, bool isNumbered)
    {
        var tracks = library.TracksById([.. items.Select(item => item.TrackId).OfType<long>().Distinct()]).ToDictionary(track => track.Id);
        var there = items.Where(item => item.TrackId is { } id && tracks.TryGetValue(id, out var track) && !track.Master.IsMissing)
            .ToList();
        var sounds = library.KnownSoundsOf(
            there.Select(item => tracks[item.TrackId!.Value].Master.Id).Distinct(), target.Level is { AlbumAsOne: true });
        Dictionary<long, TagContents> contents;
        using (var connection = database.Open())
            contents = LibraryQueries.ContentsOf(connection, there.Select(item => tracks[item.TrackId!.Value].Master.Id).Distinct());
        var sources = there.Select(
            (item, place) => SourceOf(tracks[item.TrackId!.Value], contents, sounds, isNumbered ? (place + 1, there.Count) : null));
        var planned = there.Zip(Planner.Plan(sources, target, "", _ => null)).ToDictionary(pair => pair.First.Id, pair => pair.Second);
        return [
            .. items.Select(
                item =>
                    new DeliveredFile(
                        item, item.TrackId is { } id ? tracks.GetValueOrDefault(id) : null, planned.GetValueOrDefault(item.Id)))
        ];
    }

    /// <summary>Adds an item for each file to a run; gives their numbers.</summary>
    /// <param name="folder">Where they go.</param>
    internal static IReadOnlyList<long> Insert(
        IDbConnection connection, long runId, int position, IReadOnlyList<DeliveredFile> files, string folder)
    {
        var fromNames = LibraryQueries.FieldsFromNames(connection, files.Select(file => file.Track!.Master.Id));
        return [.. files.Select(file =>
        {
            var master = file.Track!.Master;
            var spec = CopyOf(file.Track, file.Planned!, folder, fromNames.GetValueOrDefault(master.Id) ?? []);
            return RunStore.InsertItem(
                connection, runId, position++,
                DeliverFileHandler.ItemKind.New(
                    Lane.Worker, file.Title, (long)master.Facts.Duration.TotalMilliseconds, spec) with { CopyIds = [master.Id] });
        })];
    }

    /// <summary>A copy to be made, which replaces what an earlier run has left under its name.</summary>
    /// <param name="folder">Where it goes; its path below is that of the plan.</param>
    /// <param name="fields">What it gets besides the tags of its source, and in their place.</param>
    internal static CopySpec CopyOf(TrackRow track, PlanItem item, string folder, IReadOnlyList<JobField> fields) =>
        TrackSources.CopyOf(track, item, fields) with
        {
            Target = item.Target with { ExcludedFromLibrary = true },
            OutputFolder = folder,
            OnConflict = ConflictRule.Replace,
        };

    /// <summary>A track as a source, with a number of its own where files are numbered in their order.</summary>
    internal static PlanSource SourceOf(
        TrackRow track, Dictionary<long, TagContents> contents, IReadOnlyDictionary<long, KnownSound> sounds, (int Place, int Of)? number)
        => TrackSources.SourceOf(
            track, contents[track.Master.Id], sounds.GetValueOrDefault(track.Master.Id), number is { } known ? NumberFields(known) : []);

    private static JobField[] NumberFields((int Place, int Of) number) =>
    [
        new(FieldNames.Track, [number.Place.ToString(CultureInfo.InvariantCulture)]),
        new(FieldNames.TrackTotal, [number.Of.ToString(CultureInfo.InvariantCulture)]),
    ];
}
