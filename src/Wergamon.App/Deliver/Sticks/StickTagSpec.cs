using Wergamon.Core.Jobs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file of a stick that gets other tags.</summary>
/// <param name="Job">How they are made, and where the file with them goes.</param>
public sealed record StickTagSpec(long StickId, string Place, string Key, ConvertJob Job);
