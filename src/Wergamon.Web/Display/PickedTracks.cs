using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Display;

/// <summary>The tracks that a person picked on a page of the library, or all those shown if none is picked.</summary>
public sealed record PickedTracks
{
    /// <summary>Those that are ticked.</summary>
    [FromForm(Name = "track")]
    public long[] Ticked { get; init; } = [];

    /// <summary>Picked in a long list: all numbers in one field, separated by commas.</summary>
    [FromForm(Name = "numbers")]
    public string? Numbers { get; init; }

    /// <summary>The album that was shown.</summary>
    [FromForm(Name = "album")]
    public long? Album { get; init; }

    /// <summary>The query of the address of the list that was shown.</summary>
    [FromForm(Name = "list")]
    public string? List { get; init; }

    /// <summary>The tracks in order, and the part of the library if they are all of it.</summary>
    public (IReadOnlyList<long> Tracks, LibraryPart? Part) In(LibraryQueries library, LibraryParts parts)
    {
        var listed = NumbersIn(Numbers);
        var asked = listed.Count > 0 ? listed : Ticked;
        var chosen = library.TracksById(asked).Select(track => track.Id).ToList();
        var shown = Album is { } id
            ? LibraryPart.OfAlbum(id, [.. library.TracksOfAlbum(id).Select(track => track.Id)])
            : List is not null
            ? LibraryPart.OfView(TrackAddress.Read(List))
            : null;
        // Picking all that is shown is choosing the list.
        var all = shown is null ? [] : parts.IdsOf(shown);
        bool isAll = shown is not null && (asked.Count == 0 || (chosen.Count == all.Count && chosen.ToHashSet().SetEquals(all)));
        return isAll ? (all, shown) : (chosen, null);
    }

    /// <summary>Numbers of one field, separated by commas; anything else in it is skipped.</summary>
    public static IReadOnlyList<long> NumbersIn(string? text) =>
        [.. (text ?? "").Split(',').Select(number => long.TryParse(number, out long id) ? id : 0).Where(id => id > 0)];
}
