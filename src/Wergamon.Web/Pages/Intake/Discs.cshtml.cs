using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Devices.Catalogue;

namespace Wergamon.Web.Pages.Intake;

/// <summary>The drives, the disc in one of them, and its rip.</summary>
public sealed class DiscsModel(
    DiscViews views, DriveBay bay, InsertedDiscs insertedDiscs, DiscRips rips, RunScheduler scheduler, FolderCatalogue catalogue)
    : DiscPageModel(views)
{
    public IActionResult OnGet(string? drive, bool edit) => Load(drive, edit) ? Page() : NotFound();

    public IActionResult OnGetBody(string? drive) => Load(drive, false) ? Partial("_Disc", View) : NotFound();

    public IActionResult OnGetRack(string? drive) => Load(drive, false) ? Partial("_Rack", View) : NotFound();

    public IActionResult OnGetCandidates(string? drive) =>
        Load(drive, false) && View.Inserted is not null ? Partial("_Candidates", View) : NotFound();

    public IActionResult OnGetStrip(string? drive) => Load(drive, true) && View.Inserted is not null ? Partial("_Strip", View) : NotFound();

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

    public IActionResult OnPostChoice(
        string? drive, string[] target, bool careful, bool second, Pauses pauses, bool eject, bool byItself, string? folder, string? names)
    {
        var settings = rips.Choice.Settings with
        {
            Targets = target,
            IsCareful = careful,
            HasSecondReading = second,
            Pauses = pauses,
            EjectWhenDone = eject
        };
        FolderRefusal = rips.Choose(new DiscChoice(byItself, settings), folder, names);
        TypedNames = FolderRefusal is null ? null : names;
        return Back(drive);
    }

    public IActionResult OnPostRead(string? drive, int[] track)
    {
        Refusal = insertedDiscs.On(drive ?? "") is { IsSurround: true }
            ? rips.StartSurround(drive!, track)
            : rips.Start(drive ?? "", track);
        return Back(drive);
    }

    public IActionResult OnPostStop(string? drive)
    {
        if (Load(drive, false) && View.Rip is { } rip)
            scheduler.Stop(rip.Run.Run.Id);
        return Back(drive);
    }

    public IActionResult OnPostContinue(string? drive)
    {
        if (Load(drive, false) && View.Rip is { } rip)
            scheduler.Continue(rip.Run.Run.Id);
        return Back(drive);
    }
}
