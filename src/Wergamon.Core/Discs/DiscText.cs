namespace Wergamon.Core.Discs;

/// <summary>Disc text in one language.</summary>
/// <param name="Album">Of the disc as a whole.</param>
/// <param name="Tracks">By track number.</param>
public sealed record DiscText(DiscTextEntry Album, IReadOnlyDictionary<int, DiscTextEntry> Tracks)
{
    public static DiscText None { get; } = new(new DiscTextEntry(), new Dictionary<int, DiscTextEntry>());

    /// <summary>The disc's number in the publisher's list.</summary>
    public string? DiscIdentification { get; init; }

    public bool IsEmpty => Album == new DiscTextEntry() && Tracks.Values.All(entry => entry == new DiscTextEntry());
}

/// <summary>What could be read of disc text.</summary>
/// <param name="BrokenPacks">Packs whose checksum is wrong; they were skipped.</param>
public sealed record DiscTextReading(DiscText Text, int BrokenPacks);
