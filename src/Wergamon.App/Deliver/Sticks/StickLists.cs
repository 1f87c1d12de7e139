using Wergamon.App.Tracks;
using Wergamon.Core.Naming;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>What sticks follow: sets and parts of the library.</summary>
public sealed class StickLists(StickStore files, LibraryParts parts, ITrackLists lists, DeliveryStore deliveries)
{
    /// <summary>Adds a set, which the stick follows from now on.</summary>
    public void AddSet(long id, long listId)
    {
        if (lists.Get(listId) is { } list)
            files.AddList(id, list.Title, listId, null);
    }

    /// <summary>Adds a part of the library, which the stick follows from now on.</summary>
    /// <param name="title">Null to go by the album.</param>
    public void AddPart(long id, string? title, LibraryPart part)
    {
        var tracks = parts.TracksOf(part);
        if (tracks.Count > 0)
            files.AddList(id, deliveries.TitleFor(title, [.. tracks.Select(track => track.Id)]), null, part);
    }

    /// <summary>The lists of a stick with their tracks as they are now.</summary>
    public List<StickList> Resolve(long id)
    {
        var folders = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { StickPlanner.PlaylistFolder };
        var resolved = new List<StickList>();
        foreach (var row in files.Lists(id))
        {
            var list = row.ReadPart() is { } part ? new StickList(row, row.Title, parts.IdsOf(part), true)
                : row.ListId is { } set && lists.Get(set) is { } listing ? new StickList(row, listing.Title, listing.TrackIds, true)
                : new StickList(row, row.Title, [], false);
            var folder = SafeFileName.From(list.Title);
            for (int number = 2; !folders.Add(folder); number++)
                folder = SafeFileName.From(FormattableString.Invariant($"{list.Title} ({number})"));
            resolved.Add(list with { Folder = folder });
        }

        return resolved;
    }
}
