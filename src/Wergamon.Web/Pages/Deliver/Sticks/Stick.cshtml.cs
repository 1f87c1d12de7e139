using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Sticks;

namespace Wergamon.Web.Pages.Deliver.Sticks;

/// <summary>A stick: what it should hold, and what has to be done for that.</summary>
public sealed class StickModel(
    DeliveryPageParts parts, StickViews views, StickReading reading, StickStore files, DeviceChoices devices, ITrackLists lists,
    MusicFolders folders)
    : DeliveryPageModel(parts)
{
    /// <summary>Files on one page.</summary>
    public const int PageSize = 200;

    private StickChanges? _changes;

    public StickView View { get; private set; } = null!;

    public IReadOnlyList<DeviceDescription> Devices => devices.All();

    /// <summary>Sets that are not on the stick yet.</summary>
    public IReadOnlyList<(long Id, string Title)> OtherSets =>
        [.. lists.All().Where(set => View.Lists.All(list => list.Row.ListId != set.Id))];

    public IReadOnlyList<MusicFolder> MusicFolders => folders.List();

    public override DeliveryRow Row => View.Row;

    protected override RunRow? Latest => View.Run;

    /// <summary>What was changed on the device; a stick is not read while it is being written.</summary>
    public StickChanges Changes => _changes ??= IsRunning ? new StickChanges([], [], [], []) : reading.Read(View);

    /// <summary>Which files are listed: one of <see cref="StickLabels.Groups"/>; null for what will change.</summary>
    [FromQuery]
    public string? Show { get; set; }

    /// <summary>How many files come before the first that is listed.</summary>
    [FromQuery]
    public int From { get; set; }

    /// <summary>The files that are listed, all of them.</summary>
    public IReadOnlyList<StickLine> Chosen =>
        StickLabels.Group(Show) is { } group
            ? [.. View.Lines.Where(line => group.States.Contains(line.Step.State))]
            : View.ToDo.Count > 0
            ? View.ToDo
            : View.Lines;

    public IActionResult OnPostSettings(long id, string? title, string? device, [FromServices] MusicSticks sticks)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Stick } row)
            return NotFound();
        SetTitle(row, title);
        if (device is not null)
            sticks.SetDevice(id, device);
        return Shown(id, null);
    }

    public IActionResult OnPostPlace(long id, string? place, [FromServices] MusicSticks sticks) => Reload(id, sticks.SetPlace(id, place));

    public IActionResult OnPostAddSet(long id, long set, [FromServices] StickLists stickLists)
    {
        stickLists.AddSet(id, set);
        return Reload(id, null);
    }

    /// <summary>Sent by the page when the comparison has found something to save; looking at the page writes nothing.</summary>
    public IActionResult OnPostReconcile(long id)
    {
        views.Reconcile(id);
        return new NoContentResult();
    }

    public IActionResult OnPostUpdate(long id, [FromServices] MusicSticks sticks) => Reload(id, sticks.Update(id).Problem);

    /// <summary>Applies the choices; their names are keys of files.</summary>
    public IActionResult OnPostApply(long id)
    {
        reading.Apply(id, [.. Request.Form.SelectMany(field => field.Value).Select(StickDecision.Read).OfType<StickDecision>()]);
        return Reload(id, null);
    }

    /// <summary>Imports music that somebody added to the stick into a music folder.</summary>
    public IActionResult OnPostImport(long id, long folder, string[] path, [FromServices] StickImports imports) =>
        Reload(id, imports.Start(id, folder, path).Problem);

    public IActionResult OnPostClearExclusions(long id)
    {
        files.ClearExclusions(id);
        return Reload(id, null);
    }

    protected override void Arrange(long id, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => files.ArrangeLists(id, arrange);

    protected override bool LoadView(long id, long? at)
    {
        if (views.View(id) is not { } view)
            return false;
        View = view;
        From = Math.Max(0, From);
        return true;
    }
}
