namespace Wergamon.App.Deliver.Sticks;

/// <summary>A playlist that was changed on the device.</summary>
/// <param name="Here">The tracks of the list now.</param>
/// <param name="There">Those on the device.</param>
/// <param name="IsConflict">True where the list was changed here, too.</param>
public sealed record StickListChange(StickLine Line, IReadOnlyList<StickEntry> Here, IReadOnlyList<StickEntry> There, bool IsConflict)
{
    public int Added => There.Count(entry => entry.TrackId is not null) - Kept;

    public int Removed => Here.Count - Kept;

    /// <summary>Entries that are no tracks of the library; they cannot be taken over.</summary>
    public int Unknown => There.Count(entry => entry.TrackId is null);

    private int Kept
    {
        get
        {
            var left = Here.GroupBy(entry => entry.TrackId!.Value).ToDictionary(group => group.Key, group => group.Count());
            return There.Count(entry => entry.TrackId is { } id && left.GetValueOrDefault(id) > 0 && left[id]-- > 0);
        }
    }
}
