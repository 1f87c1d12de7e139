using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Intake;
using Wergamon.Core.Discs;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Intake;

/// <summary>Names of the disc in a drive, and its artwork.</summary>
public sealed class NamesModel(DiscViews views, InsertedDiscs insertedDiscs) : DiscPageModel(views)
{
    private const long LargestPicture = 16 << 20;

    public IActionResult OnGet(string? drive) => RedirectToPage("/Intake/Discs", new { drive });

    public IActionResult OnPostCandidate(string? drive, int candidate)
    {
        insertedDiscs.Choose(drive ?? "", candidate);
        return Back(drive);
    }

    public IActionResult OnPostNames(string? drive, DiscNames names, string?[] trackTitle, string?[] trackArtist)
    {
        if (!Load(drive, false) || View.Disc is null)
            return NotFound();
        insertedDiscs.Rename(View.Tray.Letter, names.On(View.Album, trackTitle, trackArtist));
        return Back(drive);
    }

    /// <summary>Takes titles from a pasted list; the other fields are kept.</summary>
    public IActionResult OnPostList(string? drive, string? list, DiscNames names, string?[] trackTitle, string?[] trackArtist)
    {
        if (!Load(drive, false) || View.Disc is null)
            return NotFound();
        var titles = TitleList.Read(list ?? "");
        insertedDiscs.Rename(View.Tray.Letter, names.On(View.Album, trackTitle, trackArtist).WithTitles(titles));
        if (titles.Count != View.Album.Tracks.Count(track => track.Number != TrackSpan.HiddenNumber))
            Refusal = $"The list has {Plural.Count(titles.Count, "title")}, the disc "
                + $"{Plural.Count(View.Album.Tracks.Count(track => track.Number != TrackSpan.HiddenNumber), "track")}. Check that each "
                + "title is in its place.";
        return Back(drive, edit: true);
    }

    public async Task<IActionResult> OnPostPicture(string? drive, IFormFile? picture, PictureKind kind = PictureKind.Front)
    {
        if (picture is not { Length: > 0 and <= LargestPicture })
        {
            Refusal = "Choose a picture of at most 16 MB.";
            return Back(drive);
        }

        using var bytes = new MemoryStream();
        await picture.CopyToAsync(bytes);
        Refusal = insertedDiscs.SetPicture(drive ?? "", kind, bytes.ToArray());
        return Back(drive);
    }

    public IActionResult OnPostDropPicture(string? drive, PictureKind kind)
    {
        insertedDiscs.RemovePicture(drive ?? "", kind);
        return Back(drive);
    }
}
