using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;
using Wergamon.Web.Pages.Deliver.Typed;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>A disc of files: what they will be, how they are named, and how much room they take.</summary>
public sealed class DataModel(
    DeliveryPageParts parts, DataDiscViews views, DataDiscs discs, TargetChoices targets, AllowedPaths allowed, AppOptions options)
    : DeliveryPageModel(parts)
{
    public DataDiscView View { get; private set; } = null!;

    public IReadOnlyList<Target> Targets => targets.All();

    public string UsualImageFolder => options.Folders.Delivered;

    public override DeliveryRow Row => View.Row;

    public override string? StopQuestion => QuestionBeforeSpoiling(View.Burner);

    protected override RunRow? Latest => View.Run;

    public IActionResult OnPostSettings(long id, TypedFiles typed, long? at)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Data } row)
            return NotFound();
        SetTitle(row, typed.Title);
        discs.SetSettings(id, typed.Over(DataDiscSettings.Of(row)));
        Refusal = ModelState.IsValid ? typed.Problem : "What is no number was left as it was.";
        return Shown(id, at);
    }

    public IActionResult OnPostBurn(long id) => Reload(id, discs.Burn(id).Problem);

    public IActionResult OnPostImage(long id, string? folder)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Data } row)
            return NotFound();
        var check = allowed.CheckOutputFolder(folder);
        if (check.Path is null)
            return Reload(id, check.Refusal);
        discs.SetSettings(id, DataDiscSettings.Of(row) with { ImageFolder = check.Path });
        return Reload(id, discs.WriteImage(id).Problem);
    }

    protected override bool LoadView(long id, long? at)
    {
        if (views.View(id) is not { } view)
            return false;
        View = view;
        return true;
    }
}
