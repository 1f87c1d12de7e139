namespace Wergamon.App.Deliver.Sticks;

/// <summary>What a look at a stick has found that is not kept yet.</summary>
/// <param name="Moved">Its settings, when it is at another place now.</param>
/// <param name="Titles">Of lists that are called something else now, by their ID.</param>
/// <param name="TookPlace">Keys of changes that were cut off after they had taken place.</param>
/// <param name="Imported">Files that came into the library from the stick and count as written from here.</param>
/// <param name="Analysed">Files whose sound has been analysed since they were written.</param>
internal sealed record StickFindings(
    StickSettings? Moved, IReadOnlyList<(long ListId, string Title)> Titles, IReadOnlyList<string> TookPlace,
    IReadOnlyList<StickFile> Imported, IReadOnlyList<StickFile> Analysed)
{
    public bool IsAnything => Moved is not null || Titles.Count + TookPlace.Count + Imported.Count + Analysed.Count > 0;
}
