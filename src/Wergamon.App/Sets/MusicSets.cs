using System.Globalization;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Music;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;

namespace Wergamon.App.Sets;

/// <summary>What a set is sorted by.</summary>
public enum SetSort
{
    Title,
    Artist,
    Album,
    Tempo,
    Key,
    Energy,
    Rating,
    Length,
}

/// <summary>Sets: tracks in order, transitions and suggestions.</summary>
public sealed class MusicSets(Database database, SetStore store, TrackList list, RunStore runs, Settings settings, TimeProvider time)
{
    /// <summary>The runs that analyse tempo and key.</summary>
    public static readonly RunKind AnalysisKind = new("music", Station.Sets, "Analysing", "analysed")
    {
        Noun = "track",
        SaysSummary = run => $"Tempo and key of {run.CountResults("track")}"
    };

    private const int MaxProposals = 12, MaxCompared = 1000;
    private const string NotationKey = "key-notation";

    private CountedScale? _scale;

    /// <summary>How the person has keys in tags.</summary>
    public KeyNotation Notation
    {
        get => settings.Read(NotationKey, SetsJson.Default.KeyNotation) ?? KeyNotation.Usual;
        set => settings.Write(NotationKey, value, SetsJson.Default.KeyNotation);
    }

    public SetView? View(long id)
    {
        if (store.Get(id) is not { } set)
            return null;
        var lines = new List<SetLine>();
        var start = TimeSpan.Zero;
        foreach (var (item, track) in set.Rule is { } rule ? Matching(rule) : Lines(id))
        {
            lines.Add(
                new SetLine(item, track, start, lines.Count == 0 ? null : Transition.Between(lines[^1].Track.Figures, track.Figures)));
            start += track.Length + TimeSpan.FromMilliseconds(set.GapMs - Math.Min(set.CrossfadeMs, track.LengthMs));
        }

        return new SetView(set, lines, store.LastChange(id));
    }

    /// <summary>All sets by folder and title, with their courses.</summary>
    public IReadOnlyList<SetOverview> Overview()
    {
        var (rows, scale, notation) = (store.Courses(), Scale(), Notation);
        return [.. store.List().Select(set => new SetOverview(
            set, [.. rows[set.Id].Select(PointOf)], rows[set.Id].Count(row => row is { IsAnalysed: false, IsMissing: false }),
            rows[set.Id].Count(row => row.IsMissing)))];

        CoursePoint PointOf(CourseRow row)
        {
            var key = row.MusicalKey is not { } text ? null : MusicalKey.TryParse(text, out var known) ? known : notation.Read(text);
            int? energy = row.Energy ?? (row is { Loudness: { } loudness, Onsets: { } onsets, Brightness: { } brightness }
                ? scale.Of(new EnergyFacts(loudness, onsets, brightness))
                : null);
            return new CoursePoint(TimeSpan.FromMilliseconds(row.LengthMs), new TrackFigures(row.Tempo, key, energy));
        }
    }

    /// <summary>How many tracks a set has now, and how long it plays; null for one that does not exist.</summary>
    public (int Tracks, TimeSpan Length)? SizeOf(long id) => View(id) is { } view ? (view.Lines.Count, view.Duration) : null;

    /// <summary>A track as sets know it; null when it is not in the library.</summary>
    public SetTrack? Track(long trackId) => Tracks("l.track_id = @trackId", new { trackId }).FirstOrDefault();

    public MusicDetail? Detail(long trackId)
    {
        using var connection = database.Open();
        return MusicRows.Detail(connection, trackId);
    }

    /// <summary>Makes a manual set of the current tracks of a set by rule; null for a set that does not exist.</summary>
    public long? MakeFixed(long id)
    {
        if (View(id) is not { Set.Rule: not null } view)
            return null;
        var day = time.GetLocalNow().ToString("d MMMM yyyy", CultureInfo.InvariantCulture);
        long made = store.CreateNumbered($"{view.Set.Title}, {day}", view.Set.Folder);
        Add(made, [.. view.Lines.Select(line => line.Track.TrackId)]);
        return made;
    }

    /// <summary>Appends tracks; those already in the set are left out unless they are wanted again.</summary>
    /// <returns>How many were added, and which were already in it.</returns>
    public (int Added, IReadOnlyList<long> Known) Add(
        long id, IReadOnlyCollection<long> trackIds, long? before = null, bool isAgain = false)
    {
        int added = 0;
        IReadOnlyList<long> known = [];
        store.Change(id, trackIds.Count == 1 ? "one track added" : $"{trackIds.Count:N0} tracks added", items =>
        {
            var there = items.Select(item => item.TrackId).OfType<long>().ToHashSet();
            var asked = store.Existing(trackIds);
            var fresh = asked.Where(track => isAgain || !there.Contains(track)).Select(track => new SetItem(0, track)).ToList();
            (added, known) = (fresh.Count, isAgain ? [] : [.. asked.Where(there.Contains)]);
            int place = before is { } item ? items.TakeWhile(each => each.Id != item).Count() : items.Count;
            return [.. items.Take(place), .. fresh, .. items.Skip(place)];
        });
        return (added, known);
    }

    public void Remove(long id, IReadOnlySet<long> picked) =>
        store.Change(id, Counted(picked, "removed"), items => [.. items.Where(item => !picked.Contains(item.Id))]);

    public void Move(long id, IReadOnlySet<long> picked, long? before) =>
        Arrange(id, Counted(picked, "moved"), order => Ordering.Move(order, picked, before));

    public void Shift(long id, IReadOnlySet<long> picked, int by) =>
        Arrange(id, Counted(picked, "moved"), order => Ordering.Shift(order, picked, by));

    public void Reverse(long id, IReadOnlySet<long> picked) => Arrange(id, "order reversed", order => Ordering.Reverse(order, picked));

    public void Shuffle(long id, IReadOnlySet<long> picked)
    {
        var artists = store.Artists(id);
        Arrange(id, "shuffled", order => Ordering.Shuffle(order, picked, item => artists.GetValueOrDefault(item, ""), Random.Shared.Next));
    }

    public void Sort(long id, IReadOnlySet<long> picked, SetSort by, bool isDescending)
    {
        var keys = Lines(id).ToDictionary(line => line.ItemId, line => KeyOf(line.Track, by));
        Arrange(id, $"sorted by {by.ToString().ToLowerInvariant()}", order =>
            Ordering.Sort(order, picked, item => keys.GetValueOrDefault(item), StringComparer.Ordinal, isDescending));
    }

    public bool Undo(long id) => store.Undo(id);

    /// <summary>Tracks of the library that fit after a place of a set, the best first; those already in the set are left out.</summary>
    public IReadOnlyList<SetTrack> NextAfter(SetView view, SetLine place)
    {
        var figures = place.Track.Figures;
        var there = view.Lines.Select(line => line.Track.TrackId).ToHashSet();
        if (figures.Tempo is not { } tempo)
            return [];
        double low = tempo * (1 - NextTrack.TempoRange / 100), high = tempo * (1 + NextTrack.TempoRange / 100);
        var near = Tracks(
            "l.tempo BETWEEN @low AND @high AND NOT l.is_missing ORDER BY ABS(l.tempo - @tempo) LIMIT @MaxCompared",
            new { low, high, tempo, MaxCompared });
        return [
            .. near.Where(track => !there.Contains(track.TrackId))
                .Select(track => (track, Cost: NextTrack.Cost(figures, track.Figures)))
                .Where(each => each.Cost is not null)
            .OrderBy(each => each.Cost).ThenBy(each => each.track.TrackId).Take(MaxProposals).Select(each => each.track)];
    }

    /// <summary>Starts a run that analyses the tracks of a set that have not been; null when there are none.</summary>
    public long? Analyse(long id) => View(id) is { } view ? Analyse(view.Set.Title, view.Lines.Select(line => line.Track)) : null;

    /// <summary>The same for a single track.</summary>
    public long? AnalyseTrack(long trackId) => Track(trackId) is { } track ? Analyse(track.Title, [track]) : null;

    private long? Analyse(string title, IEnumerable<SetTrack> tracks)
    {
        var left = tracks.Where(track => track is { Measured.IsAnalysed: false, IsMissing: false })
            .DistinctBy(track => track.TrackId).ToList();
        if (left.Count == 0)
            return null;
        return database.Change(connection =>
        {
            long runId = runs.Insert(connection, new NewRun(AnalysisKind, title, "tempo and key", null));
            for (int i = 0; i < left.Count; i++)
            {
                var track = left[i];
                RunStore.InsertItem(
                    connection, runId, i,
                    MusicHandler.ItemKind.New(
                        Lane.Worker, track.Title, track.LengthMs,
                        new MusicSpec(track.CopyId, track.Path)) with
                    { CopyIds = [track.CopyId] });
            }

            return runId;
        });
    }

    /// <summary>The tracks that fit a rule, in its order; the number of a track serves as its place.</summary>
    private List<(long ItemId, SetTrack Track)> Matching(SetRule rule)
    {
        var conditions = new List<string> { "NOT l.is_missing" };
        string? found = null;
        if (rule.Words.Length > 0)
        {
            found = "["
                + string.Join(
                    ',', list.Ids(new TrackView(rule.Words, [], null, null, TrackSort.Title, IsDescending: false), 0, int.MaxValue))
                + "]";
            conditions.Add("l.track_id IN (SELECT value FROM json_each(@found))");
        }

        if (rule.LeastRating is not null)
            conditions.Add("CAST(l.rating AS REAL) >= @LeastRating");
        if (rule.LeastTempo is not null || rule.MostTempo is not null)
            conditions.Add("l.tempo BETWEEN @low AND @high");
        long? since = rule.AddedSince(time.GetLocalNow())?.ToUnixTimeMilliseconds();
        if (since is not null)
            conditions.Add("l.added_at >= @since");
        var tracks = Tracks(
            string.Join(" AND ", conditions),
            new { found, rule.LeastRating, low = rule.LeastTempo ?? 0, high = rule.MostTempo ?? double.MaxValue, since });
        var byId = tracks.Where(track => rule.Fits(track.Figures)).ToDictionary(track => track.TrackId);
        var order = Ordering.Sort(
            [.. byId.Keys.Order()], new HashSet<long>(), id => KeyOf(byId[id], rule.Sort), StringComparer.Ordinal, rule.IsDescending);
        return [.. order.Select(id => (id, byId[id]))];
    }

    /// <summary>The scale is rebuilt when tracks were analysed or removed, not after each change of a set.</summary>
    private EnergyScale Scale()
    {
        int count = database.Read("music count", MusicRows.Count);
        if (_scale is not { } known || known.Count != count)
        {
            using var connection = database.Open();
            _scale = known = new CountedScale(count, MusicRows.Scale(connection));
        }

        return known.Scale;
    }

    private List<(long ItemId, SetTrack Track)> Lines(long id)
    {
        var complete = Completion();
        return [.. store.Lines(id).Select(line => (line.ItemId, complete(line.Track)))];
    }

    /// <param name="condition">As <see cref="SetStore.Tracks"/> takes it.</param>
    private List<SetTrack> Tracks(string condition, object parameters) =>
        [.. store.Tracks(condition, parameters).Select(Completion())];

    /// <summary>Adds to a track what is not in its own rows.</summary>
    private Func<SetTrack, SetTrack> Completion()
    {
        var (scale, notation) = (Scale(), Notation);
        return track => track with
        {
            Notation = notation,
            Measured = track.Measured is { Loudness: { } loudness, Onsets: { } onsets, Brightness: { } brightness }
                ? track.Measured with { Energy = scale.Of(new EnergyFacts(loudness, onsets, brightness)) }
                : track.Measured,
        };
    }

    private void Arrange(long id, string title, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => store.Change(id, title, items =>
    {
        var byId = items.ToDictionary(item => item.Id);
        return [.. arrange([.. items.Select(item => item.Id)]).Select(item => byId[item])];
    });

    private static string Counted(IReadOnlySet<long> picked, string done) =>
        picked.Count == 1 ? $"one track {done}" : $"{picked.Count:N0} tracks {done}";

    /// <summary>A text that sorts like the column; null for a track without a value.</summary>
    private static string? KeyOf(SetTrack track, SetSort by) => by switch
    {
        SetSort.Artist => FoldedText.SortKey(track.Artist),
        SetSort.Album => $"{FoldedText.SortKey(track.Album)}\n{track.Disc:00000}\n{track.Number:00000}",
        SetSort.Tempo => track.Tempo?.ToString("00000.000", CultureInfo.InvariantCulture),
        SetSort.Key => track.Key is { } key ? $"{key.Root:00}{(key.IsMinor ? 1 : 0)}" : null,
        SetSort.Energy => track.Energy?.ToString(CultureInfo.InvariantCulture),
        SetSort.Rating => track.Rating,
        SetSort.Length => track.LengthMs.ToString("0000000000", CultureInfo.InvariantCulture),
        _ => FoldedText.SortKey(track.Title),
    };

    /// <param name="Count">Copies that had been analysed.</param>
    private sealed record CountedScale(int Count, EnergyScale Scale);
}
