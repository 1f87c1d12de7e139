using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Demo.Music;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.Demo.Rack;

internal sealed record RackTrack(string Title, Piece Piece, string? Artist = null);

/// <summary>One disc of the rack: what is on it, what is known of it elsewhere, and what is wrong with it.</summary>
/// <param name="Key">Names its files.</param>
/// <param name="Label">What is written on its spine.</param>
/// <param name="Note">What is special about it.</param>
internal sealed record RackAlbum(string Key, string Label, string Note, IReadOnlyList<RackTrack> Tracks)
{
    public string Artist { get; init; } = "";

    public string Title { get; init; } = "";

    public int Year { get; init; }

    public string Genre { get; init; } = "";

    public CoverPattern? Cover { get; init; }

    /// <summary>Sound before track 1 that no player shows.</summary>
    public Piece? Hidden { get; init; }

    /// <summary>Sectors of silence before each track but the first.</summary>
    public int PauseSectors { get; init; }

    /// <summary>True for one piece of music that is cut into tracks where it goes on.</summary>
    public bool IsGapless { get; init; }

    /// <summary>Titles in the lead-in, a code for each recording and a catalogue number.</summary>
    public bool HasText { get; init; }

    /// <summary>Sectors of a data session behind the sound.</summary>
    public int DataSectors { get; init; }

    /// <summary>For each track the keys of discs before it whose whole sound it is made of, one after another; empty for a disc with sound of its own.</summary>
    public IReadOnlyList<IReadOnlyList<string>> Medley { get; init; } = [];

    /// <summary>For a surround disc, one for each track: sample rate, and whether its channels lie in two files.</summary>
    public IReadOnlyList<(int Rate, bool IsSplit)> Surround { get; init; } = [];

    public bool IsInCatalogue { get; init; }

    /// <summary>Other albums whose discs happen to have the same table of contents.</summary>
    public IReadOnlyList<CatalogueRecord> Namesakes { get; init; } = [];

    /// <summary>How many others have read the disc; 0 when nobody has.</summary>
    public int OtherReadings { get; init; }

    public IReadOnlyList<DiscFault> Faults { get; init; } = [];
}
