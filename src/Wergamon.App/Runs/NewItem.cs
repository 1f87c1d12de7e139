namespace Wergamon.App.Runs;

/// <summary>An item to be made.</summary>
/// <param name="Weight">Its share of the run's work, in milliseconds of playing time.</param>
/// <param name="Spec">What its handler needs, as JSON.</param>
public sealed record NewItem(string Kind, string Lane, string Title, long Weight, string Spec)
{
    /// <summary>False for an intermediate step.</summary>
    public bool IsResult { get; init; } = true;

    /// <summary>Copies that it reads or changes.</summary>
    public IReadOnlyList<long> CopyIds { get; init; } = [];
}
