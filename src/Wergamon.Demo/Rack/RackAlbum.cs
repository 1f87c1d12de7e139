using Wergamon.Demo.Music;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.Demo.Rack;

internal sealed record RackTrack(string Title, Piece Piece, string? Artist = null);

/// <summary>One disc of the rack: its contents, what the catalogue and others know of it, and its faults.</summary>
/// <param name="Key">Base name of its files.</param>
/// <param name="Label">What is written on its spine.</param>
/// <param name="Note">What is special about it.</param>
internal sealed record RackAlbum(string Key, string Label, string Note, IReadOnlyList<RackTrack> Tracks)
{
    public string Artist { get; init; } = "";

    public string Title { get; init; } = "";

    public int Year { get; init; }

    public string Genre { get; init; } = "";

    public CoverPattern? Cover { get; init; }

    /// <summary>Hidden audio before track 1.</summary>
    public Piece? Hidden { get; init; }

    /// <summary>Sectors of silence before each track but the first.</summary>
    public int PauseSectors { get; init; }

    /// <summary>True for continuous music that is cut into tracks.</summary>
    public bool IsGapless { get; init; }

    /// <summary>Titles in the lead-in, a code for each recording and a catalogue number.</summary>
    public bool HasText { get; init; }

    /// <summary>Sectors of a data session after the audio.</summary>
    public int DataSectors { get; init; }

    /// <summary>
    /// For each track, the keys of earlier discs whose audio it consists of, in sequence; empty for a disc with audio of its own.
    /// </summary>
    public IReadOnlyList<IReadOnlyList<string>> Medley { get; init; } = [];

    /// <summary>For a surround disc, per track: sample rate, and whether its channels are in two files.</summary>
    public IReadOnlyList<(int Rate, bool IsSplit)> Surround { get; init; } = [];

    public bool IsInCatalogue { get; init; }

    /// <summary>Other albums whose discs happen to have the same table of contents.</summary>
    public IReadOnlyList<CatalogueRecord> Namesakes { get; init; } = [];

    /// <summary>Number of others who have read the disc.</summary>
    public int OtherReadings { get; init; }

    public IReadOnlyList<DiscFault> Faults { get; init; } = [];
}
