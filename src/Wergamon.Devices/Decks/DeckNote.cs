using Wergamon.Core.Tags;

namespace Wergamon.Devices.Decks;

/// <summary>What a person changes of a track on a deck; null leaves something as it is.</summary>
public sealed record DeckNote
{
    /// <summary>0 to 5.</summary>
    public int? Rating { get; init; }

    public string? Comment { get; init; }

    public IReadOnlyList<ChapterMark>? Marks { get; init; }

    /// <summary>In beats a minute.</summary>
    public double? Tempo { get; init; }

    /// <summary>In seconds.</summary>
    public double? FirstBeat { get; init; }
}
