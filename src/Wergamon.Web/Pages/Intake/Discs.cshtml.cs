using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Intake;

/// <summary>One track of the disc as the table shows it.</summary>
/// <param name="Rip">What has been read of it in the newest rip.</param>
/// <param name="CopyId">The best copy that has been made of it.</param>
public sealed record DiscLine(TrackSpan Span, DiscTitle Title, RipTrackRow? Rip, bool IsPicked, long? CopyId)
{
    public TrackReading? Reading => Rip?.Reading;
}

public sealed class DiscsModel(
    DriveBay bay, InsertedDiscs insertedDiscs, DiscStore discs, DiscRips rips, RipStore ripStore, RipProgress progress, RunStore runs, RunProgress runProgress, RunScheduler scheduler, SurroundChoices surround, FolderCatalogue catalogue, AppOptions options)
    : PageModel
{
    private const long LargestPicture = 16 << 20;

    /// <summary>The drives; the one for images only while an image is in it.</summary>
    public IReadOnlyList<IDriveTray> Trays => [.. bay.Trays.Where(tray => tray.Letter != DriveBay.ImageLetter || tray.Disc is not null)];

    public IDriveTray Tray { get; private set; } = null!;

    public InsertedDisc? Inserted { get; private set; }

    public DiscRow? Disc { get; private set; }

    public DiscAlbum Album { get; private set; } = new();

    public IReadOnlyList<DiscPicture> Pictures { get; private set; } = [];

    public RunView? Run { get; private set; }

    /// <summary>The copies that the newest rip has made.</summary>
    public IReadOnlyList<(CopySpec Spec, CopyResult Result)> Copies { get; private set; } = [];

    public ReadingNow? Now { get; private set; }

    public DiscStrip? Strip { get; private set; }

    public IReadOnlyList<DiscLine> Lines { get; private set; } = [];

    public DiscChoice Choice => rips.Choice;

    public IReadOnlyList<Target> Targets => ripStore.Targets();

    public IReadOnlyList<RackDisc> Rack => bay.Rack();

    /// <summary>Looks through the music folders.</summary>
    public IReadOnlyList<FoundImage> FindImages() => bay.Images();

    public CatalogueMood Mood => catalogue.Mood;

    public string OutputFolder => (Surround is null ? Choice.Settings.OutputFolder : Surround.OutputFolder) ?? options.RippedFolder;

    public bool IsEditing { get; private set; }

    /// <summary>What is chosen for a surround disc; null for others.</summary>
    public SurroundChoice? Surround { get; private set; }

    /// <summary>How many decibels the downmix of a title was turned down by, once it is made.</summary>
    public double? DownmixGainOf(int title) =>
        Copies.Where(copy => copy.Spec.DiscTrack == title).Select(copy => copy.Result.Proof.DownmixGainDecibels).FirstOrDefault(gain => gain is not null);

    /// <summary>True when the downmix of a title is made, whether it had to be turned down or not.</summary>
    public bool IsDownmixed(int title) => Copies.Any(copy => copy.Spec.DiscTrack == title && copy.Spec.Target.DownmixesToStereo);

    /// <summary>True while tracks are being read; their copies may take a little longer.</summary>
    public bool IsReading => Run is { Run.State: RunState.Running } && ripStore.IsBusy(Tray.Letter);

    public bool IsRunning => Run is { Run.State: RunState.Running };

    /// <summary>Why something that was asked for was not done, or what to look at.</summary>
    public string? Refusal { get; private set; }

    public string? FolderRefusal { get; private set; }

    public string Heading => Album.Title.Length > 0 ? Album.Title : Inserted is { State: LookUpState.Asking } ? "Looking up the disc" : "Unnamed disc";

    public static string Lengths(TableOfContents contents) => Words.Time(new Msf(contents.AudioEnd).Duration);

    public static string InWords(IDriveTray tray) => tray.Disc is { } disc
        ? disc.Titles.Count > 0 ? $"surround, {Words.Count(disc.Titles.Count, "title")}" : $"{Words.Count(disc.Image.Contents.AudioTracks.Count(), "track")}, {Lengths(disc.Image.Contents)}"
        : "empty";

    public IActionResult OnGet(string? drive, bool edit) => Load(drive, edit) ? Page() : NotFound();

    public IActionResult OnGetBody(string? drive) => Load(drive, false) ? Partial("_Disc", this) : NotFound();

    public IActionResult OnGetRack(string? drive) => Load(drive, false) ? Partial("_Rack", this) : NotFound();

    public IActionResult OnGetCandidates(string? drive) => Load(drive, false) && Inserted is not null ? Partial("_Candidates", this) : NotFound();

    public IActionResult OnGetStrip(string? drive) => Load(drive, true) && Inserted is not null ? Partial("_Strip", this) : NotFound();

    public IActionResult OnPostInsert(string? drive, string? disc)
    {
        Refusal = bay.Insert(drive ?? "", disc ?? "");
        return Back(drive);
    }

    public IActionResult OnPostEject(string? drive)
    {
        bay.Eject(drive ?? "");
        return Back(drive);
    }

    public IActionResult OnPostMood(string? drive, CatalogueMood mood)
    {
        catalogue.Mood = mood;
        insertedDiscs.LookUpAgain(drive ?? "");
        return Back(drive);
    }

    public IActionResult OnPostAskAgain(string? drive)
    {
        insertedDiscs.LookUpAgain(drive ?? "");
        return Back(drive);
    }

    public IActionResult OnPostCandidate(string? drive, int candidate)
    {
        insertedDiscs.Choose(drive ?? "", candidate);
        return Back(drive);
    }

    public IActionResult OnPostNames(string? drive, DiscNames names, string?[] trackTitle, string?[] trackArtist)
    {
        if (!Load(drive, false) || Disc is null)
            return NotFound();
        insertedDiscs.Rename(Tray.Letter, names.On(Album, trackTitle, trackArtist));
        return Back(drive);
    }

    /// <summary>Takes titles from a pasted list; what had been typed in the other fields is kept.</summary>
    public IActionResult OnPostList(string? drive, string? list, DiscNames names, string?[] trackTitle, string?[] trackArtist)
    {
        if (!Load(drive, false) || Disc is null)
            return NotFound();
        var titles = TitleList.Read(list ?? "");
        insertedDiscs.Rename(Tray.Letter, names.On(Album, trackTitle, trackArtist).WithTitles(titles));
        if (titles.Count != Album.Tracks.Count(track => track.Number != TrackSpan.HiddenNumber))
            Refusal = $"The list has {Words.Count(titles.Count, "title")}, the disc {Words.Count(Album.Tracks.Count(track => track.Number != TrackSpan.HiddenNumber), "track")}. Look whether each stands in its place.";
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

    public IActionResult OnPostChoice(string? drive, string[] target, bool careful, bool second, Pauses pauses, bool eject, bool byItself, string? folder)
    {
        var settings = Choice.Settings with { Targets = target, IsCareful = careful, HasSecondReading = second, Pauses = pauses, EjectWhenDone = eject };
        FolderRefusal = rips.Choose(new DiscChoice(byItself, settings), folder);
        return Back(drive);
    }

    public IActionResult OnPostRead(string? drive, int[] track)
    {
        Refusal = insertedDiscs.On(drive ?? "") is { IsSurround: true } ? rips.StartSurround(drive!, track) : rips.Start(drive ?? "", track);
        return Back(drive);
    }

    /// <summary>Keeps how the channels of one title are used: the roles come in the order of the channels.</summary>
    public IActionResult OnPostRoles(string? drive, int title, ChannelRoles[] role)
    {
        if (!Load(drive, false) || Surround is null)
            return NotFound();
        var roles = Surround.Roles.Where(pair => pair.Key != title).ToDictionary(pair => pair.Key, pair => pair.Value);
        roles[title] = role;
        FolderRefusal = rips.ChooseSurround(Tray.Letter, Surround with { Roles = roles }, Surround.OutputFolder);
        return Back(drive);
    }

    public IActionResult OnPostDownmix(string? drive, double centre, double sides, double? low, bool stereo, bool all, string? folder)
    {
        if (!Load(drive, false) || Surround is null)
            return NotFound();
        double Bounded(double down) => Math.Clamp(double.IsFinite(down) ? down : SurroundChoice.StandardDown, 0, 60);
        var choice = Surround with { CentreDown = Bounded(centre), SurroundDown = Bounded(sides), LowFrequencyDown = low is { } down ? Bounded(down) : null, MakesStereo = stereo, MakesAllChannels = all };
        FolderRefusal = rips.ChooseSurround(Tray.Letter, choice, folder);
        return Back(drive);
    }

    public IActionResult OnPostStop(string? drive)
    {
        if (Load(drive, false) && Run is not null)
            scheduler.Stop(Run.Run.Id);
        return Back(drive);
    }

    public IActionResult OnPostContinue(string? drive)
    {
        if (Load(drive, false) && Run is not null)
            scheduler.Continue(Run.Run.Id);
        return Back(drive);
    }

    /// <summary>Whether another reading's sums can be compared with those of the disc's rip.</summary>
    public string? OthersOn(DiscLine line) =>
        line.Reading is { } reading && Run is not null && ripStore.Get(Run.Run.Id)?.ReadSettings().Pauses == Pauses.WithTrackBefore ? ReadingReport.Others(reading, Inserted!.Others) : null;

    /// <summary>Back to the page; with something to say, right away, since the parts that refresh themselves would take the words out of a redirect's mouth.</summary>
    private IActionResult Back(string? drive, bool edit = false)
    {
        if (Refusal is null && FolderRefusal is null)
            return edit ? RedirectToPage(new { drive, edit }) : RedirectToPage(new { drive });
        return Load(drive, edit) ? Page() : NotFound();
    }

    private bool Load(string? drive, bool edit)
    {
        if (bay.Tray(drive ?? bay.Trays.FirstOrDefault(tray => tray.Disc is not null)?.Letter ?? "A") is not { } tray)
            return false;
        Tray = tray;
        Inserted = insertedDiscs.On(tray.Letter);
        if (Inserted is null || discs.Get(Inserted.DiscId) is not { } disc)
            return true;
        IsEditing = edit;
        (Disc, Album, Pictures) = (disc, disc.ReadAlbum(), discs.Pictures(disc.Id));
        Run = rips.RunOf(Inserted) is { } run ? runProgress.View(run) : null;
        var ripTracks = Run is null ? [] : ripStore.Tracks(Run.Run.Id);
        Now = Run is null ? null : progress.Of(Run.Run.Id);
        var spans = Inserted.Spans(Pauses.WithTrackBefore);
        Strip = new DiscStrip(spans, ripTracks, Now);
        Surround = Inserted.IsSurround ? surround.Of(disc.Id) : null;
        Copies = Run is null ? [] : [.. runs.Items(Run.Run.Id).Where(item => item.Kind == RipCopyHandler.ItemKind && item.State == ItemState.Done).Select(item => (CopySpec.Of(item), CopyResult.Of(item)!))];
        Lines =
        [
            .. spans.Select(span =>
            {
                var rip = ripTracks.FirstOrDefault(track => track.Number == span.Number);
                return new DiscLine(span, Album.Tracks.FirstOrDefault(title => title.Number == span.Number) ?? new DiscTitle(span.Number, ""), rip, Run is null ? span.Number != TrackSpan.HiddenNumber : rip is not null, Copies.Where(copy => copy.Spec.DiscTrack == span.Number).Select(copy => copy.Result.CopyId).FirstOrDefault());
            }),
        ];
        return true;
    }
}
