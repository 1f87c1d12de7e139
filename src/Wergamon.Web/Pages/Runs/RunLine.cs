using Wergamon.App.Runs;

namespace Wergamon.Web.Pages.Runs;

/// <summary>One item as the page shows it.</summary>
public sealed record RunLine(RunItemRow Item, ItemDescription Description, ItemProgress? Progress)
{
    public string StateWord => Item.State switch
    {
        ItemState.Done => Description.Outcome,
        ItemState.Failed => "Failed",
        ItemState.Skipped => "Skipped",
        ItemState.Waiting => "Waiting",
        _ => "Starting",
    };

    /// <summary>What was proved, or why it failed.</summary>
    public string Detail => Item.State switch
    {
        ItemState.Done => Description.Detail,
        ItemState.Failed => $"{Item.Failure} {Description.OnFailure}",
        ItemState.Skipped => Item.Failure ?? "",
        _ => "",
    };
}
