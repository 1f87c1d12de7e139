using System.Data;
using System.IO.Hashing;
using System.Text;
using System.Text.Json;
using Wergamon.App.Copies;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;
using Wergamon.Core.Playlists;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;
using Wergamon.Core.Tags;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>What a stick should hold.</summary>
/// <param name="SourcesMissing">Tracks whose file is missing now, on the stick or not.</param>
internal sealed record DesiredContents(
    IReadOnlyList<WantedFile> Files, IReadOnlyDictionary<SyncKey, StickTrack> Tracks, int SourcesMissing);

/// <summary>Determines which files a stick should hold, how they are named and what identifies them.</summary>
public sealed class StickPlanner(Database database, LibraryQueries library, ITrackNotes notes)
{
    public const string PlaylistFolder = "Playlists";

    /// <param name="lists">In order.</param>
    /// <param name="skipped">Tracks that stay off.</param>
    /// <param name="written">What is on the stick, by key.</param>
    internal DesiredContents Plan(
        DeviceDescription device, IReadOnlyList<StickList> lists, IReadOnlySet<long> skipped,
        IReadOnlyDictionary<SyncKey, StickFile> written)
    {
        var ids = lists.SelectMany(list => list.TrackIds).Distinct().Where(id => !skipped.Contains(id)).ToList();
        var tracks = library.TracksById(ids).DistinctBy(track => track.Id).ToDictionary(track => track.Id);
        var places = PlacesOf(device, lists, tracks).ToList();
        var there = places.Where(place => !place.Track.Master.IsMissing).ToList();
        var copies = there.Select(place => place.Track.Master.Id).Distinct().ToList();
        var sounds = library.KnownSoundsOf(copies, asOne: false);
        using var connection = database.Open();
        var contents = LibraryQueries.ContentsOf(connection, copies);
        var planned = Planned(device, there, contents, sounds);
        var known = Facts(connection, copies, ids);
        var (files, byKey) = (new List<WantedFile>(places.Count), new Dictionary<SyncKey, StickTrack>(places.Count));
        int missing = 0;
        var plans = there.Zip(planned).ToDictionary(pair => pair.First.Key, pair => pair.Second);
        foreach (var place in places)
        {
            if (!plans.TryGetValue(place.Key, out var item))
            {
                missing++;
                if (written.TryGetValue(place.Key, out var made))
                    files.Add(new WantedFile(place.Key, made.File.Path, null, made.File.Tags));
                continue;
            }

            var track = TrackOf(place, item, device, contents[place.Track.Master.Id], known);
            files.Add(new WantedFile(place.Key, item.RelativePath, SoundOf(track, known), TagsOf(track, device, known)));
            byKey.Add(place.Key, track);
        }

        return new DesiredContents(files, byKey, missing);
    }

    /// <summary>The playlists of a stick.</summary>
    /// <param name="pathOf">The path of a track in a list, as it will be; null for one that is not on the stick.</param>
    public static IReadOnlyList<(WantedFile File, StickPlaylist Playlist)> Playlists(
        DeviceDescription device, IReadOnlyList<StickList> lists, Func<StickList, long, int, (string Path, TrackRow Track)?> pathOf)
    {
        var made = new List<(WantedFile, StickPlaylist)>();
        foreach (var list in lists.Where(list => device.HasPlaylists && list.IsThere))
        {
            var path = device.Fit(
                (device.Layout == StickLayout.FolderPerList ? list.Folder : PlaylistFolder) + "/" + list.Folder
                    + PlaylistFormat.M3u8.Extension);
            var entries = new List<PlaylistEntry>();
            foreach (var (trackId, occurrence) in Occurrences(list.TrackIds))
            {
                if (pathOf(list, trackId, occurrence) is var (file, track))
                    entries.Add(new PlaylistEntry(RelativePath(path, file), track.Title, track.Artist, track.Master.Facts.Duration));
            }

            var playlist = new StickPlaylist(list, new Playlist(list.Title, entries));
            made.Add((new WantedFile(SyncKey.OfPlaylist(list.Row.Id), path, SourceSound.OfText(HashOf(playlist.Text)), ""), playlist));
        }

        return made;
    }

    /// <summary>The key of a track on a stick: once per place in a list, or once at all.</summary>
    /// <param name="occurrence">How often it occurs earlier in this list.</param>
    public static SyncKey KeyOf(DeviceDescription device, StickList list, long trackId, int occurrence) =>
        device.Layout == StickLayout.FolderPerList
            ? SyncKey.OfPlace(list.Row.Id, trackId, occurrence)
            : SyncKey.OfTrack(trackId);

    public static IEnumerable<(long TrackId, int Occurrence)> Occurrences(IReadOnlyList<long> trackIds)
    {
        var seen = new Dictionary<long, int>();
        foreach (long id in trackIds)
        {
            int before = seen.GetValueOrDefault(id);
            seen[id] = before + 1;
            yield return (id, before);
        }
    }

    /// <summary>The places of the tracks of the lists on the stick, each key once.</summary>
    private static IEnumerable<ListedTrack> PlacesOf(
        DeviceDescription device, IReadOnlyList<StickList> lists, Dictionary<long, TrackRow> tracks)
    {
        var seen = new HashSet<SyncKey>();
        foreach (var list in lists)
        {
            int number = 0;
            foreach (var (trackId, occurrence) in Occurrences(list.TrackIds))
            {
                if (tracks.TryGetValue(trackId, out var track) && seen.Add(KeyOf(device, list, trackId, occurrence)))
                    yield return new ListedTrack(KeyOf(device, list, trackId, occurrence), list, track, ++number);
            }
        }
    }

    /// <summary>The plans of tracks with their names on the stick, in order.</summary>
    private static IReadOnlyList<PlanItem> Planned(
        DeviceDescription device, List<ListedTrack> places, Dictionary<long, TagContents> contents,
        IReadOnlyDictionary<long, KnownSound> sounds)
    {
        var planned = new PlanItem[places.Count];
        bool isNumbered = device.Layout == StickLayout.FolderPerList;
        var counts = places.GroupBy(place => place.List).ToDictionary(group => group.Key, group => group.Max(place => place.Number));
        foreach (var group in places.Index().GroupBy(each => device.TargetFor(each.Item.Track.Master.Facts)))
        {
            var members = group.ToList();
            var sources = members.Select(
                each =>
                    DeliveredFiles.SourceOf(
                        each.Item.Track, contents, sounds, isNumbered ? (each.Item.Number, counts[each.Item.List]) : null));
            foreach (var ((index, place), item) in members.Zip(Planner.PlanAlone(sources, group.Key, "")))
                planned[index] = item with { RelativePath = device.Fit((isNumbered ? place.List.Folder + "/" : "") + item.RelativePath) };
        }

        return Planner.WithFreeNames(planned, _ => null);
    }

    private KnownFacts Facts(IDbConnection connection, List<long> copies, List<long> tracks)
    {
        var list = "[" + string.Join(',', copies) + "]";
        return new KnownFacts(
            CopySums.Digests(connection, list), CopySums.TagSums(connection, list),
            LibraryQueries.FieldsFromNames(connection, copies).Keys.ToHashSet(), notes.FieldsOf(tracks));
    }

    /// <summary>Whether two texts that identify tags differ at most in the person's own figures of the track.</summary>
    public static bool DiffersInNotesAlone(string tags, string others) =>
        tags[..(tags.LastIndexOf(' ') + 1)] == others[..(others.LastIndexOf(' ') + 1)];

    private static StickTrack TrackOf(ListedTrack place, PlanItem item, DeviceDescription device, TagContents contents, KnownFacts known)
    {
        var tags = new TagSet();
        foreach (var field in contents.Fields)
            tags.Set(field.Name, field.Values);
        bool isAsTagged = true;
        foreach (var field in known.Notes[place.Track.Id])
        {
            isAsTagged = isAsTagged && tags[field.Name].SequenceEqual(field.Values);
            tags.Set(field.Name, field.Values);
        }

        bool keepsSound = IsSourceAsItIs(item)
            && Path.GetExtension(item.RelativePath).Equals(Path.GetExtension(place.Track.Master.Path), StringComparison.OrdinalIgnoreCase);
        bool isCopied = device.KeepsTags && isAsTagged && keepsSound && !known.NamedByFile.Contains(place.Track.Master.Id);
        return new StickTrack(place.List, place.Track, item, StickNotes.Of(tags), isCopied) { KeepsSound = keepsSound };
    }

    /// <summary>True where nothing happens to the sound and it stays in its format.</summary>
    private static bool IsSourceAsItIs(PlanItem item) =>
        item.Route.IsCarried
            || item.Route.Sound.IsUnchanged && !item.Target.IsLossy && item.Source.Facts is { IsLossless: true } facts
                && facts.FileFormat == item.Target.Format && facts.CodecName == item.Target.Format.Name;

    private static SourceSound SoundOf(StickTrack track, KnownFacts known)
    {
        var master = track.Track.Master;
        return new SourceSound(
            known.Digests.GetValueOrDefault(master.Id), master.FileBytes, master.ModifiedAt, known.RecipeOf(track.Planned.Target));
    }

    private static string TagsOf(StickTrack track, DeviceDescription device, KnownFacts known)
    {
        var said = string.Join('\n', known.Notes[track.Track.Id].Select(field => $"{field.Name}\0{string.Join('\0', field.Values)}"));
        return $"{known.TagSums.GetValueOrDefault(track.Track.Master.Id)} {device.Artwork} {device.Id3v2Version} {device.KeepsTags} "
            + $"{HashOf(said)}";
    }

    private static string HashOf(string text) => System.Convert.ToHexStringLower(XxHash128.Hash(Encoding.UTF8.GetBytes(text)));

    private static string RelativePath(string fromFile, string toFile) =>
        Path.GetRelativePath("/" + Path.GetDirectoryName(fromFile), "/" + toFile);

    /// <param name="Number">In its list, from 1.</param>
    private sealed record ListedTrack(SyncKey Key, StickList List, TrackRow Track, int Number);

    /// <summary>What the library knows of the copies of a stick.</summary>
    private sealed record KnownFacts(
        Dictionary<long, string> Digests, Dictionary<long, string> TagSums, IReadOnlySet<long> NamedByFile, ILookup<long, TagField> Notes)
    {
        private readonly Dictionary<Target, string> _recipes = [];

        public string RecipeOf(Target target)
        {
            if (!_recipes.TryGetValue(target, out var recipe))
                _recipes[target] = recipe = JsonSerializer.Serialize(SoundChoice.Of(target), StickRunsJson.Default.SoundChoice);
            return recipe;
        }
    }
}
