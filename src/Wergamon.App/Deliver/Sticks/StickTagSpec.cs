using System.Text.Json;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file of a stick that gets other tags.</summary>
/// <param name="Job">How they are made, and where the file with them goes.</param>
public sealed record StickTagSpec(long StickId, string Place, string Key, ConvertJob Job);
