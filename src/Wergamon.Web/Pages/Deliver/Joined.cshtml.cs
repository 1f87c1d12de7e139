using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Planning;
using Wergamon.Web.Pages.Deliver.Typed;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>Tracks that are joined to one file: where each starts, and what is made.</summary>
public sealed class JoinedModel(
    DeliveryPageParts parts, JoinedFiles files, TargetChoices targets, AllowedPaths allowed, AppOptions options)
    : DeliveryPageModel(parts)
{
    public JoinedView View { get; private set; } = null!;

    public IReadOnlyList<Target> Targets => targets.All();

    public string OutputFolder => View.Settings.Folder ?? options.Folders.Delivered;

    public override DeliveryRow Row => View.Row;

    protected override RunRow? Latest => View.Run;

    public IActionResult OnPostSettings(long id, TypedJoined typed, long? at)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Joined } row)
            return NotFound();
        SetTitle(row, typed.Title);
        var check = string.IsNullOrWhiteSpace(typed.Folder) ? default : allowed.CheckOutputFolder(typed.Folder);
        files.SetSettings(id, typed.Over(JoinedSettings.Of(row), check.Path));
        Refusal = check.Refusal ?? (ModelState.IsValid ? null : "What is no number was left as it was.");
        return Shown(id, at);
    }

    public IActionResult OnPostMake(long id) => Reload(id, files.Start(id).Problem);

    protected override bool LoadView(long id, long? at)
    {
        if (files.View(id) is not { } view)
            return false;
        View = view;
        return true;
    }
}
