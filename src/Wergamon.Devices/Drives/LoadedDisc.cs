using Wergamon.Core.Discs;

namespace Wergamon.Devices.Drives;

/// <summary>A disc as it lies in a drive.</summary>
/// <param name="Key">Names it on the rack.</param>
public sealed record LoadedDisc(string Key, string Label, DiscImage Image) : IDisposable
{
    /// <summary>What the disc says of itself in its lead-in; empty on most.</summary>
    public DiscText Text { get; init; } = new(new DiscTextEntry(), new Dictionary<int, DiscTextEntry>());

    public IReadOnlyList<DiscFault> Faults { get; init; } = [];

    public void Dispose() => Image.Dispose();
}
