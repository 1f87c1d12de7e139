using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Runs;

namespace Wergamon.App.Convert;

/// <summary>Carries out the conversions of a plan.</summary>
public sealed class ConvertHandler(CopyMaker maker, AllowedPaths allowed) : IItemHandler
{
    /// <summary>Names the items, and the runs that plans become.</summary>
    public const string ItemKind = CopyItemKind.Convert;

    public string Kind => ItemKind;

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        var spec = CopySpec.Of(item);
        if (!allowed.MayRead(spec.Job!.SourcePath))
            return Task.FromResult(ItemOutcome.Failed($"{spec.Job.SourcePath} is not there, or is no longer a file in an allowed folder."));
        return maker.MakeAsync(item, spec, spec.Job, origin: null, context, cancellation);
    }

    public Task<ItemOutcome?> RecoverAsync(RunItemRow item, CancellationToken cancellation) => maker.RecoverAsync(item, CopySpec.Of(item), origin: null, cancellation);

    public ItemDescription Describe(RunItemRow item) => CopyMaker.Describe(item, CopySpec.Of(item), "Nothing was written; the original is as it was.");
}
