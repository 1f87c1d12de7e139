namespace Wergamon.App.Runs;

/// <summary>Carries out the items of one kind: reads their documents and leaves the rest to the derived class.</summary>
public abstract class ItemHandler<TSpec>(ItemKind<TSpec> kind) : IItemHandler where TSpec : class
{
    public string Kind => kind.Name;

    /// <summary>The kind of its items.</summary>
    protected ItemKind<TSpec> Items => kind;

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation) =>
        ExecuteAsync(item, kind.SpecOf(item), context, cancellation);

    public Task<ItemOutcome?> RecoverAsync(RunItemRow item, CancellationToken cancellation) =>
        RecoverAsync(item, kind.SpecOf(item), cancellation);

    public bool HasResult(RunItemRow item) => HasResult(item, kind.SpecOf(item));

    public ItemDescription Describe(RunItemRow item) => Describe(item, kind.SpecOf(item));

    /// <inheritdoc cref="IItemHandler.ExecuteAsync"/>
    protected abstract Task<ItemOutcome> ExecuteAsync(RunItemRow item, TSpec spec, ItemContext context, CancellationToken cancellation);

    /// <inheritdoc cref="IItemHandler.RecoverAsync"/>
    protected virtual Task<ItemOutcome?> RecoverAsync(RunItemRow item, TSpec spec, CancellationToken cancellation) =>
        Task.FromResult<ItemOutcome?>(null);

    /// <inheritdoc cref="IItemHandler.HasResult"/>
    protected virtual bool HasResult(RunItemRow item, TSpec spec) => true;

    /// <inheritdoc cref="IItemHandler.Describe"/>
    protected abstract ItemDescription Describe(RunItemRow item, TSpec spec);
}
