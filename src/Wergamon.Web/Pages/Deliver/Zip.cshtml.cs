using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Planning;
using Wergamon.Web.Endpoints;
using Wergamon.Web.Pages.Deliver.Typed;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>Files made by a target, to be downloaded as a zip.</summary>
public sealed class ZipModel(DeliveryPageParts parts, ZippedFiles zips, TargetChoices targets)
    : DeliveryPageModel(parts)
{
    public ZipView View { get; private set; } = null!;

    public IReadOnlyList<Target> Targets => targets.All();

    /// <summary>Size of the current download in bytes; 0 for none.</summary>
    public long Made => zips.Made(Row.Id).Sum(file => file.Bytes);

    public override DeliveryRow Row => View.Row;

    protected override RunRow? Latest => View.Run;

    public IActionResult OnPostSettings(long id, TypedFiles typed, long? at)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Zip } row)
            return NotFound();
        SetTitle(row, typed.Title);
        zips.SetSettings(id, typed.Over(ZipSettings.Of(row)));
        Refusal = typed.Problem;
        return Shown(id, at);
    }

    public IActionResult OnPostMake(long id) => Reload(id, zips.Start(id).Problem);

    public async Task<IActionResult> OnGetFileAsync(long id)
    {
        if (zips.Made(id) is not { Count: > 0 } files)
            return NotFound();
        await ZipDownload.SendAsync(HttpContext, Store.Get(id)!.Title, files.Select(file => new ZipFile(file.Name, file.Open)));
        return new EmptyResult();
    }

    protected override bool LoadView(long id, long? at)
    {
        if (zips.View(id) is not { } view)
            return false;
        View = view;
        return true;
    }
}
