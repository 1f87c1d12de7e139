using Wergamon.App.Tracks;

namespace Wergamon.App.Sets;

/// <summary>Sets as other stations read them.</summary>
public sealed class SetListings(SetStore store, MusicSets sets) : ITrackLists
{
    public IReadOnlyList<(long Id, string Title)> All() => [.. store.List().Select(set => (set.Id, set.Title))];

    public TrackListing? Get(long id) =>
        sets.View(id) is { } view
            ? new TrackListing(id, view.Set.Title, [.. view.Lines.Where(line => !line.Track.IsGone).Select(line => line.Track.TrackId)])
            : null;

    public bool SetTracks(long id, IReadOnlyList<long> trackIds, string words)
    {
        if (store.Get(id) is not { Rule: null })
            return false;
        store.Change(id, words, items =>
        {
            var places = items.Where(item => item.TrackId is not null)
                .GroupBy(item => item.TrackId!.Value)
                .ToDictionary(group => group.Key, group => new Queue<SetItem>(group));
            var gone = items.Where(item => item.TrackId is null);
            // An existing place keeps its number, which undo and other windows rely on.
            return [
                .. trackIds.Select(
                    track => places.TryGetValue(track, out var left) && left.TryDequeue(out var item) ? item : new SetItem(0, track)),
                .. gone
            ];
        });
        return true;
    }
}
