using System.Collections.Concurrent;
using Wergamon.App.Storage;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>How fast sticks can be written, reading back included.</summary>
public sealed class StickSpeeds(Settings settings)
{
    /// <summary>Less shows nothing: it fits into the cache of the stick.</summary>
    private const long LeastBytes = 8 << 20;

    private readonly ConcurrentDictionary<long, (long Bytes, double Seconds)> _written = new();

    /// <summary>Bytes a second; null for a stick to which little was written yet.</summary>
    public double? Of(long stickId) => settings.Read(KeyOf(stickId), StickRunsJson.Default.NullableDouble);

    internal void Note(long stickId, long bytes, TimeSpan took) =>
        _written.AddOrUpdate(
            stickId, (bytes, took.TotalSeconds), (_, before) => (before.Bytes + bytes, before.Seconds + took.TotalSeconds));

    /// <summary>Remembers the speed of the run that ends.</summary>
    internal void Keep(long stickId)
    {
        if (_written.TryRemove(stickId, out var written) && written is { Bytes: >= LeastBytes, Seconds: > 0 })
            settings.Write(KeyOf(stickId), written.Bytes / written.Seconds, StickRunsJson.Default.NullableDouble);
    }

    private static string KeyOf(long stickId) => FormattableString.Invariant($"stick speed {stickId}");
}
