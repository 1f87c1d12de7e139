using Wergamon.Core.Discs.Burning;

namespace Wergamon.Devices.Burners;

/// <summary>What is in a burner.</summary>
/// <param name="Label">What is written on it.</param>
/// <param name="Blank">Its room.</param>
public sealed record BurnerDisc(string Label, DiscBlank Blank)
{
    public bool IsRewritable { get; init; }

    /// <summary>Its key on the shelf of written discs; null while it is blank.</summary>
    public string? WrittenKey { get; init; }

    /// <summary>Why it is of no use any more; null for a good one.</summary>
    public string? Spoiled { get; init; }

    /// <summary>True where the disc was left open: it takes no more, and players wait for it to be closed.</summary>
    public bool IsOpen { get; init; }

    public bool CanBeWritten => WrittenKey is null && Spoiled is null || IsRewritable;
}
