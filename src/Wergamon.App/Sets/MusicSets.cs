using System.Globalization;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
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

/// <summary>Sets: tracks put in order, what leads from one to the next, and what fits.</summary>
public sealed class MusicSets(Database database, SetStore store, RunStore runs, Settings settings, Lazy<RunScheduler> scheduler)
{
    private const int MaxProposals = 12, MaxCompared = 2000;
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
        var (scale, notation) = (Scale(), Notation);
        var lines = new List<SetLine>();
        var start = TimeSpan.Zero;
        foreach (var (item, track) in store.Lines(id))
        {
            Complete(track, scale, notation);
            lines.Add(new SetLine(item, track, start, lines.Count == 0 ? null : Transition.Between(lines[^1].Track.Figures, track.Figures)));
            start += track.Length + TimeSpan.FromMilliseconds(set.GapMs - Math.Min(set.CrossfadeMs, track.LengthMs));
        }

        return new SetView(set, lines, store.LastChange(id));
    }

    /// <summary>Appends tracks; those that are in the set already are left out.</summary>
    /// <returns>How many were added, and how many were in it already.</returns>
    public (int Added, int Known) Add(long id, IReadOnlyCollection<long> trackIds, long? before = null)
    {
        int added = 0, known = 0;
        store.Change(id, trackIds.Count == 1 ? "one track added" : $"{trackIds.Count:N0} tracks added", items =>
        {
            var there = items.Select(item => item.TrackId).ToHashSet();
            var tracks = store.Tracks("l.track_id IN (SELECT value FROM json_each(@list))", new { list = "[" + string.Join(',', trackIds) + "]" }).Select(track => track.TrackId).ToHashSet();
            var fresh = trackIds.Where(track => tracks.Contains(track) && there.Add(track)).Select(track => new SetItem(0, track)).ToList();
            (added, known) = (fresh.Count, trackIds.Count - fresh.Count);
            int place = before is { } item ? items.TakeWhile(each => each.Id != item).Count() : items.Count;
            return [.. items.Take(place), .. fresh, .. items.Skip(place)];
        });
        return (added, known);
    }

    public void Remove(long id, IReadOnlySet<long> picked) =>
        store.Change(id, Counted(picked, "removed"), items => [.. items.Where(item => !picked.Contains(item.Id))]);

    public void Move(long id, IReadOnlySet<long> picked, long? before) => Arrange(id, Counted(picked, "moved"), order => Ordering.Move(order, picked, before));

    public void Shift(long id, IReadOnlySet<long> picked, int by) => Arrange(id, Counted(picked, "moved"), order => Ordering.Shift(order, picked, by));

    public void Reverse(long id, IReadOnlySet<long> picked) => Arrange(id, "order reversed", order => Ordering.Reverse(order, picked));

    public void Shuffle(long id, IReadOnlySet<long> picked)
    {
        var artists = store.Lines(id).ToDictionary(line => line.ItemId, line => line.Track.Artist);
        Arrange(id, "shuffled", order => Ordering.Shuffle(order, picked, item => artists.GetValueOrDefault(item, ""), Random.Shared.Next));
    }

    public void Sort(long id, IReadOnlySet<long> picked, SetSort by, bool isDescending)
    {
        var (scale, notation) = (Scale(), Notation);
        var lines = store.Lines(id).ToDictionary(line => line.ItemId, line => line.Track);
        foreach (var track in lines.Values)
            Complete(track, scale, notation);
        Arrange(id, $"sorted by {by.ToString().ToLowerInvariant()}", order =>
            Ordering.Sort(order, picked, item => lines.GetValueOrDefault(item) is { } track ? KeyOf(track, by) : null, StringComparer.Ordinal, isDescending));
    }

    public bool Undo(long id) => store.Undo(id);

    /// <summary>Tracks of the library that fit after a place of a set, the best first; those in the set already are left out.</summary>
    public IReadOnlyList<SetTrack> NextAfter(SetView view, SetLine place)
    {
        var figures = place.Track.Figures;
        var there = view.Lines.Select(line => line.Track.TrackId).ToHashSet();
        var (scale, notation) = (Scale(), Notation);
        if (figures.Tempo is not { } tempo)
            return [];
        double low = tempo * (1 - NextTrack.TempoRange / 100), high = tempo * (1 + NextTrack.TempoRange / 100);
        var near = store.Tracks("NOT l.is_missing AND COALESCE(o.tempo, m.tempo, l.tempo) BETWEEN @low AND @high ORDER BY ABS(COALESCE(o.tempo, m.tempo, l.tempo) - @tempo) LIMIT @MaxCompared", new { low, high, tempo, MaxCompared });
        foreach (var track in near)
            Complete(track, scale, notation);
        return [.. near.Where(track => !there.Contains(track.TrackId)).Select(track => (track, Cost: NextTrack.Cost(figures, track.Figures))).Where(each => each.Cost is not null)
            .OrderBy(each => each.Cost).ThenBy(each => each.track.TrackId).Take(MaxProposals).Select(each => each.track)];
    }

    /// <summary>Starts a run that analyses what of a set has not been; null when there is nothing.</summary>
    public long? Analyse(long id)
    {
        if (store.Get(id) is not { } set)
            return null;
        var left = store.Lines(id).Select(line => line.Track).Where(track => track is { IsAnalysed: false, IsMissing: false }).DistinctBy(track => track.TrackId).ToList();
        if (left.Count == 0)
            return null;
        long run = database.Change(connection =>
        {
            long runId = runs.Insert(connection, new NewRun(MusicHandler.ItemKind, set.Title, "tempo and key", null));
            for (int i = 0; i < left.Count; i++)
            {
                var track = left[i];
                RunStore.InsertItem(connection, runId, i, new NewItem(MusicHandler.ItemKind, Lane.Worker, track.Title, track.LengthMs, new MusicSpec(track.CopyId, track.Path).ToJson()) { CopyIds = [track.CopyId] });
            }

            return runId;
        });
        scheduler.Value.Wake();
        return run;
    }

    /// <summary>The scale is made anew when tracks have been analysed or have gone, not after each change of a set.</summary>
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

    /// <summary>Adds what does not stand in the track's own rows.</summary>
    private static void Complete(SetTrack track, EnergyScale scale, KeyNotation notation)
    {
        track.Notation = notation;
        track.MeasuredEnergy = track is { Loudness: { } loudness, Onsets: { } onsets, Brightness: { } brightness } ? scale.Of(new EnergyFacts(loudness, onsets, brightness)) : null;
    }

    private void Arrange(long id, string title, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => store.Change(id, title, items =>
    {
        var byId = items.ToDictionary(item => item.Id);
        return [.. arrange([.. items.Select(item => item.Id)]).Select(item => byId[item])];
    });

    private static string Counted(IReadOnlySet<long> picked, string done) => picked.Count == 1 ? $"one track {done}" : $"{picked.Count:N0} tracks {done}";

    /// <summary>A text whose order is that of the column; null for a track that has nothing there.</summary>
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

    /// <param name="Count">Tracks that the scale was made of.</param>
    private sealed record CountedScale(int Count, EnergyScale Scale);
}
