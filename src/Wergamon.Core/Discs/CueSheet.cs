namespace Wergamon.Core.Discs;

/// <summary>A place in one of the files of a cue sheet.</summary>
/// <param name="Number">0 for the start of the pause, 1 for the start of the track, 2 to 99 for places inside it.</param>
/// <param name="File">Which of <see cref="CueSheet.Files"/>, from 0.</param>
/// <param name="Time">From the start of that file.</param>
public readonly record struct CueIndex(int Number, int File, Msf Time);

/// <param name="Kind">BINARY, MOTOROLA, WAVE, AIFF, MP3, or whatever word the sheet has.</param>
public readonly record struct CueFile(string Name, string Kind);

/// <summary>
/// A cue sheet: which files hold a disc and where its tracks start in them (the command set that disc images share: CATALOG,
/// CDTEXTFILE, FILE, FLAGS, INDEX, ISRC, PERFORMER, POSTGAP, PREGAP, REM, SONGWRITER, TITLE, TRACK).
/// </summary>
public sealed record CueSheet
{
    public string? CatalogueNumber { get; init; }

    public string? DiscTextFile { get; init; }

    public string? Title { get; init; }

    public string? Performer { get; init; }

    public string? Songwriter { get; init; }

    /// <summary>Text of the REM lines before the first track.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    public IReadOnlyList<CueFile> Files { get; init; } = [];

    public IReadOnlyList<CueTrack> Tracks { get; init; } = [];
}

/// <summary>What could be read of a cue sheet.</summary>
/// <param name="Complaints">What could not be understood, with line numbers, for a person.</param>
public sealed record CueReading(CueSheet Sheet, IReadOnlyList<string> Complaints);
