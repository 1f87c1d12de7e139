using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Tidying;

namespace Wergamon.Web.Pages.Tags;

/// <param name="Key">Names file and field in a form.</param>
public sealed record TidyLine(string Key, string Name, string Label, string Old, string New);

/// <summary>Rules that tidy tags, each with a preview.</summary>
public sealed class TidyModel(TagSheets sheets, Settings settings) : SheetPageModel(sheets)
{
    private const string GenresKey = "genre-list";

    public const int LinesShown = 300;

    public static IReadOnlyList<(string Key, string Name)> Rules { get; } =
    [
        ("spaces", "Spaces"), ("capitals", "Capitals"), ("guests", "Guest artists"), ("number", "Number in order"), ("adverts", "Adverts"),
        ("spellings", "Spellings"), ("genres", "Genres"),
        ("dates", "Dates"), ("code-page", "Code page"),
    ];

    public static IReadOnlyList<string> CapitalFields { get; } = [
        FieldNames.Title, FieldNames.Album, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Genre, FieldNames.Composer
    ];

    public override string Tab => "Tidy";

    public string Rule { get; private set; } = "spaces";

    public TidyChoice Choice { get; private set; } = new();

    public IReadOnlyList<TidyLine> Changes { get; private set; } = [];

    public IReadOnlyList<SpellingGroup> Groups { get; private set; } = [];

    /// <summary>The person's own genres.</summary>
    public GenreList Genres { get; private set; } = new([]);

    /// <summary>Genres of the files that are not in the list by this name, and what they become.</summary>
    public IReadOnlyList<(string Genre, string Becomes)> Unlisted { get; private set; } = [];

    /// <summary>How much each rule without choices would change.</summary>
    public IReadOnlyDictionary<string, int> Counts { get; private set; } = new Dictionary<string, int>();

    public static string Explain(string rule) => rule switch
    {
        "capitals" => "Sets capitals by rule. Words with a digit or with capitals inside stay as they are.",
        "guests" => "Finds feat., ft. and featuring in titles and artists and names guests in one way.",
        "number" => "Numbers the files in the order of the sheet, starting again for each disc.",
        "adverts" => "Takes web addresses and shop adverts out of comments, titles and their like; other text stays.",
        "spellings" =>
            "Artists, album artists and composers that differ only in case, accents, signs and the article. Choose one spelling for each.",
        "genres" => "Your own list of genres: what it does not have by this name becomes one of them, and is known the next time.",
        "dates" => "Brings dates to one form. A date that could be read in two ways stays as it is.",
        "code-page" => "Text that was read in the wrong code page, and what it would be in the right one.",
        _ => "Trims blanks, makes one of several, and drops empty and repeated values.",
    };

    public void OnGet(string? rule) => Show(rule, new TidyChoice());

    public IActionResult OnPostShow(string? rule, TidyChoice choice)
    {
        Show(rule, choice);
        return Page();
    }

    public IActionResult OnPostTake(string? rule, TidyChoice choice, string[] take)
    {
        Show(rule, choice);
        var ticked = take.ToHashSet(StringComparer.Ordinal);
        var tags = Files.Select(file => EditedOf(file.CopyId)).ToList();
        var taken = Apply(tags).Where((change, i) => i >= LinesShown || ticked.Contains(KeyOf(change))).ToList();
        Learn();
        Sheets.SetFields(Sheet.Id, taken.Select(change => (Files[change.File].CopyId, change.Field, change.Values)));
        return Redirect($"/tags/{Sheet.Id}/review");
    }

    /// <summary>Keeps the person's list of genres.</summary>
    public IActionResult OnPostGenres(string? list)
    {
        settings.Write(GenresKey, GenreList.Parse(list ?? ""), TagPageJson.Default.GenreList);
        return Redirect($"/tags/{Sheet.Id}/tidy?rule=genres");
    }

    /// <summary>The genre that a name was made into is known by that name from now on.</summary>
    private void Learn()
    {
        var known = Unlisted.Where(each => each.Becomes is not (TidyChoice.Leave or TidyChoice.TakeOut))
            .Aggregate(Genres, (list, each) => list.With(each.Becomes, each.Genre));
        if (!known.ToString().Equals(Genres.ToString(), StringComparison.Ordinal))
            settings.Write(GenresKey, known, TagPageJson.Default.GenreList);
    }

    private List<(string Genre, string Becomes)> UnlistedIn(List<TagSet> tags)
    {
        var names = Genres.Genres.Select(genre => genre.Name).ToHashSet(StringComparer.Ordinal);
        var choices = Choice.Genre.Zip(Choice.Becomes).DistinctBy(each => each.First).ToDictionary(each => each.First, each => each.Second);
        return
        [
            .. tags.SelectMany(each => each[FieldNames.Genre])
                .Distinct(StringComparer.Ordinal)
                .Where(genre => !names.Contains(genre))
                .Order(StringComparer.OrdinalIgnoreCase)
                .Select(
                    genre =>
                        (genre,
                            choices.TryGetValue(genre, out var chosen)
                                    && (names.Contains(chosen) || chosen is TidyChoice.Leave or TidyChoice.TakeOut)
                                ? chosen
                                : Genres.NameOf(genre) ?? TidyChoice.Leave)),
        ];
    }

    private void Show(string? rule, TidyChoice choice)
    {
        Rule = Rules.Any(each => each.Key == rule) ? rule! : "spaces";
        Choice = choice;
        var tags = Files.Select(file => EditedOf(file.CopyId)).ToList();
        Genres = settings.Read(GenresKey, TagPageJson.Default.GenreList) ?? Genres;
        Unlisted = Rule == "genres" && Genres.Genres.Count > 0 ? UnlistedIn(tags) : [];
        Groups = Rule switch
        {
            "spellings" => Spellings.Groups(tags.SelectMany(each => ArtistFields.SelectMany(field => each[field]))),
            "genres" when Genres.Genres.Count == 0 => Spellings.Groups(tags.SelectMany(each => each[FieldNames.Genre])),
            _ => [],
        };
        // The most frequent spelling is proposed.
        if (Groups.Count > 0 && choice.Spelling.Length == 0)
            Choice = choice with { Spelling = [.. Groups.Select(group => group.Names[0].Name)] };
        Changes = [
            .. Apply(tags)
                .Select(
                    change =>
                        new TidyLine(
                            KeyOf(change), Path.GetFileName(Files[change.File].Path), SheetColumn.LabelOf(change.Field),
                            FieldText.Join(tags[change.File][change.Field]), FieldText.Join(change.Values)))
        ];
        Counts = new Dictionary<string, int>
        {
            ["spaces"] = TidyRules.TidySpaces(tags).Count(),
            ["adverts"] = TidyRules.RemoveAdverts(tags).Count(),
            ["code-page"] = TidyRules.RepairText(tags).Count(),
            ["dates"] = TidyRules.TidyDates(tags, yearOnly: false).Count(),
        };
    }

    private static readonly string[] ArtistFields = [FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Composer, FieldNames.Remixer];

    private IEnumerable<TidyChange> Apply(List<TagSet> tags) => Rule switch
    {
        "capitals" =>
            TidyRules.SetCapitals(
                tags, Choice.Fields, Choice.Style,
                [.. Choice.Exceptions.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)]),
        "guests" => TidyRules.NameGuests(tags, Choice.Place),
        "number" => TidyRules.NumberInOrder(tags, Math.Clamp(Choice.First, 0, 999), Choice.WithTotals),
        "adverts" => TidyRules.RemoveAdverts(tags),
        "spellings" => TidyRules.Respell(tags, ArtistFields, Chosen()),
        "genres" => TidyRules.Respell(
            tags, [FieldNames.Genre], Genres.Genres.Count == 0 ? Chosen() : Unlisted.Where(each => each.Becomes != TidyChoice.Leave)
            .DistinctBy(each => Spellings.KeyOf(each.Genre))
                .ToDictionary(each => Spellings.KeyOf(each.Genre), each => each.Becomes == TidyChoice.TakeOut ? "" : each.Becomes)),
        "dates" => TidyRules.TidyDates(tags, Choice.YearOnly),
        "code-page" => TidyRules.RepairText(tags),
        _ => TidyRules.TidySpaces(tags),
    };

    private Dictionary<string, string> Chosen() =>
        Choice.Spelling.Where(name => name.Length > 0).DistinctBy(Spellings.KeyOf).ToDictionary(Spellings.KeyOf);

    private string KeyOf(TidyChange change) => $"{Files[change.File].CopyId} {change.Field}";
}
