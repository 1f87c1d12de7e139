using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Web.Display;
using Wergamon.Web.Pages.Deliver.Typed;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>An audio disc: its tracks against the blank, how it is made, the burner, and what becomes of it.</summary>
public sealed class DiscModel(DeliveryPageParts parts, AudioDiscs discs, AllowedPaths allowed, AppOptions options)
    : DeliveryPageModel(parts)
{
    public AudioDiscView View { get; private set; } = null!;

    /// <summary>The chosen track; null for none.</summary>
    public AudioDiscLine? Place { get; private set; }

    public string UsualImageFolder => options.Folders.Delivered;

    /// <summary>The strip, filled up to what has been written and read back.</summary>
    public DiscStrip Strip
    {
        get
        {
            int leadOut = View.Layout.LeadOut;
            return new DiscStrip(
                View.Layout.Tracks, View.Blank.Sectors,
                (int)(leadOut * ShareOf(BurnDiscHandler.ItemKind.Name, BurnImageHandler.ItemKind.Name)),
                (int)(leadOut * ShareOf(BurnCheckHandler.ItemKind.Name)));
        }
    }

    public override DeliveryRow Row => View.Row;

    public override string? StopQuestion => View.Settings.IsTrial ? null : QuestionBeforeSpoiling(View.Burner);

    protected override RunRow? Latest => View.Run;

    public IActionResult OnPostSettings(long id, TypedDisc typed, long? at)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Audio } row)
            return NotFound();
        SetTitle(row, typed.Title);
        discs.SetSettings(id, typed.Over(AudioDiscSettings.Of(row)));
        Refusal = ModelState.IsValid ? typed.Problem : "What is no number was left as it was.";
        return Shown(id, at);
    }

    public IActionResult OnPostTrack(long id, long at, TypedDiscTrack typed)
    {
        if (!Store.Items(id).Any(item => item.Id == at))
            return NotFound();
        Refusal = ModelState.IsValid ? typed.Problem : "A pause is a number of seconds.";
        if (Refusal is null)
            Store.SetItemSettings(at, typed.ToSettings().ToJson());
        return Shown(id, at);
    }

    public IActionResult OnPostBurn(long id) => Reload(id, discs.Burn(id).Problem);

    public IActionResult OnPostImage(long id, string? folder)
    {
        if (Store.Get(id) is not { Kind: DeliveryKind.Audio } row)
            return NotFound();
        var check = allowed.CheckOutputFolder(folder);
        if (check.Path is null)
            return Reload(id, check.Refusal);
        discs.SetSettings(id, AudioDiscSettings.Of(row) with { ImageFolder = check.Path });
        return Reload(id, discs.WriteImage(id).Problem);
    }

    public IActionResult OnPostLeaveOut(long id)
    {
        discs.LeaveOut(id);
        return Reload(id, null);
    }

    public IActionResult OnPostSplit(long id) => Reload(id, discs.Split(id).Count == 0 ? "One of the tracks is longer than a disc." : null);

    protected override bool LoadView(long id, long? at)
    {
        if (discs.View(id) is not { } view)
            return false;
        View = view;
        Place = view.Lines.FirstOrDefault(line => line.Item.Id == at);
        return true;
    }
}
