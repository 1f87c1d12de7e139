using System.Globalization;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>New values of a field of one of several files.</summary>
/// <param name="File">Its place in the list.</param>
public sealed record TidyChange(int File, string Field, IReadOnlyList<string> Values);

/// <summary>Rules that tidy tags. Each gives only what would change; nothing is changed here.</summary>
public static class TidyRules
{
    /// <summary>Fields whose text can be any length and has lines.</summary>
    private static readonly HashSet<string> LongTexts = new(StringComparer.OrdinalIgnoreCase) { FieldNames.Lyrics, FieldNames.Comment };

    private static readonly string[] NameFields =
        [
            FieldNames.Title, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Album, FieldNames.Genre, FieldNames.Composer,
            FieldNames.Conductor, FieldNames.Remixer, FieldNames.Subtitle, FieldNames.Publisher
        ];

    /// <summary>Trims all fields, makes one blank of several, and drops empty and repeated values.</summary>
    public static IEnumerable<TidyChange> TidySpaces(IReadOnlyList<TagSet> files) =>
        ForEach(
            files, field => true,
            (_, values) => [.. values.Select(Spaces.Tidy).Where(value => value.Length > 0).Distinct(StringComparer.Ordinal)]);

    /// <summary>Sets capitals in the fields given.</summary>
    public static IEnumerable<TidyChange> SetCapitals(
        IReadOnlyList<TagSet> files, IReadOnlyCollection<string> fields, CapitalStyle style, IReadOnlyList<string> exceptions) =>
        ForEach(
            files, field => fields.Contains(field, StringComparer.OrdinalIgnoreCase),
            (_, values) => [.. values.Select(value => Capitals.Apply(value, style, exceptions))]);

    /// <summary>Names guest artists in one way.</summary>
    public static IEnumerable<TidyChange> NameGuests(IReadOnlyList<TagSet> files, GuestLocation place)
    {
        for (int i = 0; i < files.Count; i++)
        {
            var (title, artists) = GuestArtists.Apply(files[i].First(FieldNames.Title), files[i][FieldNames.Artist], place);
            if (title is not null && title != files[i].First(FieldNames.Title))
                yield return new TidyChange(i, FieldNames.Title, [title, .. files[i][FieldNames.Title].Skip(1)]);
            if (!artists.SequenceEqual(files[i][FieldNames.Artist]))
                yield return new TidyChange(i, FieldNames.Artist, artists);
        }
    }

    /// <summary>Numbers files in their order, from 1 for each disc where files name discs.</summary>
    /// <param name="withTotals">True to write how many there are, too.</param>
    public static IEnumerable<TidyChange> NumberInOrder(IReadOnlyList<TagSet> files, int first, bool withTotals)
    {
        var discs = files.Select(tags => tags.Number(FieldNames.Disc) ?? 0).ToList();
        var next = new Dictionary<int, int>();
        var totals = discs.CountBy(disc => disc).ToDictionary(pair => pair.Key, pair => pair.Value);
        int lastDisc = discs.Count == 0 ? 0 : discs.Max();
        for (int i = 0; i < files.Count; i++)
        {
            int number = next.GetValueOrDefault(discs[i], first);
            next[discs[i]] = number + 1;
            foreach (var (field, value) in new[]
            {
                (FieldNames.Track, number), (FieldNames.TrackTotal, withTotals ? totals[discs[i]] + first - 1 : 0),
                (FieldNames.DiscTotal, withTotals && lastDisc > 1 ? lastDisc : 0)
            })
            {
                var text = value.ToString(CultureInfo.InvariantCulture);
                if (value > 0 && !files[i][field].SequenceEqual([text]))
                    yield return new TidyChange(i, field, [text]);
            }
        }
    }

    /// <summary>Takes adverts and web addresses out of comments, titles and their like.</summary>
    public static IEnumerable<TidyChange> RemoveAdverts(IReadOnlyList<TagSet> files) =>
        ForEach(
            files, field => Adverts.LookedAt.Contains(field, StringComparer.OrdinalIgnoreCase),
            (_, values) => [.. values.Select(Adverts.Remove).Where(value => value.Length > 0)]);

    /// <summary>Spells a name as chosen, wherever it names an artist.</summary>
    /// <param name="chosen">The spelling for each group, by any of its spellings' <see cref="Spellings.KeyOf"/>; empty takes the name
    /// out.</param>
    public static IEnumerable<TidyChange> Respell(
        IReadOnlyList<TagSet> files, IReadOnlyCollection<string> fields, IReadOnlyDictionary<string, string> chosen) =>
        ForEach(
            files, field => fields.Contains(field, StringComparer.OrdinalIgnoreCase),
            (_, values) =>
                [
                    .. values.Select(value => chosen.GetValueOrDefault(Spellings.KeyOf(value), value))
                        .Where(value => value.Length > 0)
                        .Distinct(StringComparer.Ordinal)
                ]);

    /// <summary>Brings dates to one form.</summary>
    public static IEnumerable<TidyChange> TidyDates(IReadOnlyList<TagSet> files, bool yearOnly) =>
        ForEach(
            files, field => field is FieldNames.Year or FieldNames.OriginalYear,
            (_, values) => [.. values.Select(value => Dates.Tidy(value, yearOnly) ?? value).Distinct(StringComparer.Ordinal)]);

    /// <summary>Repairs text that was decoded in the wrong code page.</summary>
    public static IEnumerable<TidyChange> RepairText(IReadOnlyList<TagSet> files) =>
        ForEach(
            files, field => LongTexts.Contains(field) || NameFields.Contains(field),
            (_, values) => [.. values.Select(value => CodePages.Repair(value) ?? value)]);

    private static IEnumerable<TidyChange> ForEach(
        IReadOnlyList<TagSet> files, Predicate<string> isMeant, Func<string, IReadOnlyList<string>, List<string>> tidy)
    {
        for (int i = 0; i < files.Count; i++)
        {
            foreach (var field in files[i].Fields.Where(field => isMeant(field.Name)))
            {
                var tidied = tidy(field.Name, field.Values);
                if (!tidied.SequenceEqual(field.Values))
                    yield return new TidyChange(i, field.Name, tidied);
            }
        }
    }
}
