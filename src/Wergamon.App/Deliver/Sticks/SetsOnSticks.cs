using Wergamon.App.Tracks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A set on a stick that follows it, as the stick was last written.</summary>
/// <param name="Written">Tracks of the set that are on the stick.</param>
/// <param name="NotWritten">Those that are not, without those that are to stay off.</param>
/// <param name="Left">Tracks on the stick that have left the set since.</param>
public sealed record SetOnStick(long SetId, long StickId, string Stick, int Written, int NotWritten, int Left)
{
    /// <summary>What has come and gone since the stick was written.</summary>
    public int Changed => NotWritten + Left;
}

/// <summary>Says where sets are, without a look at the sticks themselves: they can be away.</summary>
public sealed class SetsOnSticks(StickStore files, ITrackLists lists)
{
    /// <summary>Some of the sets, by their numbers; one that no stick follows is left out.</summary>
    public ILookup<long, SetOnStick> Find(IReadOnlySet<long> sets)
    {
        var found = new List<SetOnStick>();
        foreach (var stick in files.SetLists().Where(list => sets.Contains(list.SetId)).GroupBy(list => list.StickId))
        {
            var (keys, skipped) = (files.Keys(stick.Key), files.Skipped(stick.Key));
            foreach (var (_, title, listId, setId) in stick)
            {
                if (lists.Get(setId) is not { } set)
                    continue;
                var wanted = StickPlanner.Occurrences([.. set.TrackIds.Where(id => !skipped.Contains(id))])
                    .Select(
                        place => (Place: SyncKey.OfPlace(listId, place.TrackId, place.Occurrence), Once: SyncKey.OfTrack(place.TrackId)))
                    .ToList();
                int written = wanted.Count(key => keys.Contains(key.Place) || keys.Contains(key.Once));
                var places = wanted.Select(key => key.Place).ToHashSet();
                found.Add(new SetOnStick(
                    setId, stick.Key, title, written, wanted.Count - written,
                    keys.Count(key => key.ListId == listId && !key.IsPlaylist && !places.Contains(key))));
            }
        }

        return found.ToLookup(each => each.SetId);
    }
}
