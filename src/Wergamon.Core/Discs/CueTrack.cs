namespace Wergamon.Core.Discs;

public sealed record CueTrack(int Number, string Mode)
{
    public const string Audio = "AUDIO";

    public string? Title { get; init; }

    public string? Performer { get; init; }

    public string? Songwriter { get; init; }

    public string? Isrc { get; init; }

    /// <summary>DCP (copying permitted), 4CH (four channels), PRE (pre-emphasis), SCMS and any others in the sheet.</summary>
    public IReadOnlyList<string> Flags { get; init; } = [];

    /// <summary>Silence before the track that is in no file.</summary>
    public Msf? Pregap { get; init; }

    /// <summary>Silence after the track that is in no file.</summary>
    public Msf? Postgap { get; init; }

    public IReadOnlyList<CueIndex> Indexes { get; init; } = [];

    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>1, or the number from REM SESSION before the track for what was added later.</summary>
    public int Session { get; init; } = 1;

    public bool IsAudio => Mode == Audio;
}
