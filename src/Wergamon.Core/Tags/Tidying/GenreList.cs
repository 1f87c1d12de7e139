namespace Wergamon.Core.Tags.Tidying;

/// <summary>A genre as the person wants it named, and other names that mean it.</summary>
public sealed record ListedGenre(string Name, IReadOnlyList<string> OtherNames);

/// <summary>The person's own genres. As text: one a line, other names behind a colon and between commas.</summary>
public sealed record GenreList(IReadOnlyList<ListedGenre> Genres)
{
    private const int MaxGenres = 500, MaxNames = 100;

    public static GenreList Parse(string text)
    {
        var genres = new Dictionary<string, ListedGenre>(StringComparer.Ordinal);
        foreach (var line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Take(MaxGenres))
        {
            var parts = line.Split(':', 2, StringSplitOptions.TrimEntries);
            var key = Spellings.KeyOf(parts[0]);
            string[] others = parts.Length > 1
                ? parts[1].Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                : [];
            if (key.Length > 0)
                genres[key] = new ListedGenre(
                    genres.GetValueOrDefault(key)?.Name ?? parts[0],
                    [
                        .. (genres.GetValueOrDefault(key)?.OtherNames ?? []).Concat(others)
                            .Distinct(StringComparer.OrdinalIgnoreCase)
                            .Take(MaxNames)
                    ]);
        }

        return new GenreList([.. genres.Values]);
    }

    public override string ToString() =>
        string.Join(
            '\n', Genres.Select(genre => genre.OtherNames.Count > 0 ? $"{genre.Name}: {string.Join(", ", genre.OtherNames)}" : genre.Name));

    /// <summary>The name that the list has for a genre in any spelling; null for one that it does not know.</summary>
    public string? NameOf(string genre)
    {
        var key = Spellings.KeyOf(genre);
        return Genres.FirstOrDefault(
            listed => Spellings.KeyOf(listed.Name) == key || listed.OtherNames.Any(other => Spellings.KeyOf(other) == key))?.Name;
    }

    /// <summary>The list with another name for one of its genres.</summary>
    public GenreList With(string name, string otherName) =>
        new(
            [
                .. Genres.Select(
                    genre => genre.Name == name && NameOf(otherName) is null
                        ? genre with { OtherNames = [.. genre.OtherNames, otherName.Replace(',', ' ')] }
                        : genre)
            ]);
}
