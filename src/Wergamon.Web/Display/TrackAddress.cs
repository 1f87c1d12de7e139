using Microsoft.AspNetCore.Http.Extensions;
using Microsoft.AspNetCore.WebUtilities;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Display;

/// <summary>A list of tracks in the address of a page, so that it can be bookmarked and shared.</summary>
public static class TrackAddress
{
    /// <summary>What <see cref="Write"/> has written.</summary>
    public static TrackView Read(string address) => Read(new QueryCollection(QueryHelpers.ParseQuery(address)));

    public static TrackView Read(IQueryCollection query) => new(
        query["words"].ToString().Trim(),
        [.. query["show"].Select(MarkOf).OfType<TrackFilter>().Distinct().Order()],
        query["format"].ToString() is { Length: > 0 } format ? format : null,
        query["folder"].ToString() is { Length: > 0 } folder ? folder : null,
        Enum.TryParse<TrackSort>(query["sort"], ignoreCase: true, out var sort) && Enum.IsDefined(sort) ? sort : TrackSort.Artist,
        query["down"] == "1");

    /// <summary>What follows the question mark; empty for the plain list of all tracks.</summary>
    public static string Write(TrackView view)
    {
        var query = new QueryBuilder();
        if (view.Words.Length > 0)
            query.Add("words", view.Words);
        foreach (var mark in view.Marks)
            query.Add("show", NameOf(mark));
        if (view.Format is { } format)
            query.Add("format", format);
        if (view.Folder is { } folder)
            query.Add("folder", folder);
        if (view.Sort != TrackSort.Artist)
            query.Add("sort", view.Sort.ToString().ToLowerInvariant());
        if (view.IsDescending)
            query.Add("down", "1");
        return query.ToString();
    }

    /// <summary>The same list with one filter added or removed.</summary>
    public static TrackView Toggle(TrackView view, TrackFilter mark) =>
        view with
        {
            Marks = view.Marks.Contains(mark) ? [.. view.Marks.Where(other => other != mark)] : [.. view.Marks.Append(mark).Order()]
        };

    /// <summary>The same list sorted by a column; reversed if it is already sorted by it. Dates start with the newest.</summary>
    public static TrackView SortBy(TrackView view, TrackSort sort) =>
        view with { Sort = sort, IsDescending = view.Sort == sort ? !view.IsDescending : sort == TrackSort.Added };

    /// <summary>"no-artwork".</summary>
    public static string NameOf(TrackFilter mark) => InWords(mark).Replace(' ', '-');

    public static string InWords(TrackFilter mark) => mark switch
    {
        TrackFilter.NoArtwork => "no artwork",
        TrackFilter.Untagged => "no title or artist",
        TrackFilter.LossyOnly => "lossy only",
        TrackFilter.SeveralCopies => "several copies",
        TrackFilter.MixedRates => "mixed rates in album",
        TrackFilter.NotForDisc => "needs conversion for audio CD",
        TrackFilter.Damaged => "damaged",
        TrackFilter.NotAsItSays => "suspect",
        _ => "missing",
    };

    private static TrackFilter? MarkOf(string? name)
    {
        foreach (var mark in Enum.GetValues<TrackFilter>())
        {
            if (NameOf(mark) == name)
                return mark;
        }

        return null;
    }
}
