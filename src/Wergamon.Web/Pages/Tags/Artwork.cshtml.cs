using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Tags;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>Pictures of the files: all kinds, from anywhere, in other shapes.</summary>
public sealed class ArtworkModel(TagSheets sheets, TagPictures pictures) : SheetPageModel(sheets)
{
    public static IReadOnlyList<int> Sizes { get; } = [300, 500, 800, 1000, 1400];

    public override string Tab => "Artwork";

    public IReadOnlyList<SheetPicture> Pictures { get; private set; } = [];

    public IReadOnlyList<FolderPicture> FolderPictures { get; private set; } = [];

    public IReadOnlyList<OtherCover> Covers { get; private set; } = [];

    public string? Words { get; private set; }

    /// <summary>Covers that the catalogue gave; null until it was asked.</summary>
    public IReadOnlyList<OtherCover>? CatalogueCovers { get; private set; }

    /// <summary>What the catalogue was asked for, or will be: artist and album of the first file.</summary>
    public string CatalogueWords { get; private set; } = "";

    /// <summary>Why the last step was refused.</summary>
    [TempData]
    public string? Refusal { get; set; }

    public void OnGet(string? words)
    {
        Words = words;
        var tags = Files.Count > 0 ? EditedOf(Files[0].CopyId) : new TagSet();
        CatalogueWords = string.Join(
            ' ',
            new[] { tags.First(FieldNames.AlbumArtist) ?? tags.First(FieldNames.Artist), tags.First(FieldNames.Album) }.OfType<string>());
        Pictures = pictures.List(Sheet.Id);
        FolderPictures = pictures.InFolders(Sheet.Id);
        Covers = string.IsNullOrWhiteSpace(words) ? [] : pictures.Find(words.Trim());
    }

    public async Task<IActionResult> OnPostAdd(IFormFile? picture, PictureKind kind = PictureKind.Front)
    {
        if (picture is not { Length: > 0 and <= TagPictures.MaxBytes })
            return Back("Choose a picture of at most 16 MB.");
        var bytes = new MemoryStream();
        await picture.CopyToAsync(bytes);
        return Use(pictures.Store(Sheet.Id, bytes.ToArray()), kind);
    }

    public async Task<IActionResult> OnPostCatalogue(string? asked, CancellationToken cancellation)
    {
        OnGet(null);
        CatalogueWords = asked?.Trim() ?? "";
        (CatalogueCovers, Refusal) = await pictures.AskCatalogueAsync(Sheet.Id, CatalogueWords, cancellation);
        return Page();
    }

    public IActionResult OnPostFromFolder(int number) => Use(pictures.StoreFromFolder(Sheet.Id, number), PictureKind.Front);

    public IActionResult OnPostOther(string hash) => Use((hash, null), PictureKind.Front);

    /// <summary>Puts a picture that some files have into all.</summary>
    public IActionResult OnPostSpread(PictureKind kind, string hash) => Use((hash, null), kind);

    public IActionResult OnPostRemove(PictureKind kind, string hash)
    {
        pictures.Remove(Sheet.Id, kind, hash);
        return Back(null);
    }

    public IActionResult OnPostKind(PictureKind kind, string hash, PictureKind newKind)
    {
        pictures.Rename(Sheet.Id, kind, hash, newKind);
        return Back(null);
    }

    public async Task<IActionResult> OnPostShape(PictureKind kind, string hash, int? maxSize, bool isSquare, bool asPng) =>
        Back(await pictures.ShapeAsync(Sheet.Id, kind, hash, maxSize is > 0 ? maxSize : null, isSquare, asPng));

    private RedirectResult Use((string? Hash, string? Refusal) stored, PictureKind kind)
    {
        if (stored.Hash is { } hash)
            pictures.Put(Sheet.Id, Files.Select(file => file.CopyId), kind, hash);
        return Back(stored.Refusal);
    }

    private RedirectResult Back(string? refusal)
    {
        Refusal = refusal;
        return Redirect($"/tags/{Sheet.Id}/artwork");
    }
}
