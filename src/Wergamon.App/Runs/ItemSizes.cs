namespace Wergamon.App.Runs;

/// <summary>Sizes of the files that an item read and made; null if there are none.</summary>
public readonly record struct ItemSizes(long? Before, long? After);
