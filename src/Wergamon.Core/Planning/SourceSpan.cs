using Wergamon.Core.Audio;

namespace Wergamon.Core.Planning;

/// <summary>What of its source a track takes.</summary>
/// <param name="Part">The frames of a longer file; null for all.</param>
/// <param name="Joined">How many files one after the other; 1 for one alone.</param>
public sealed record SourceSpan(FrameRange? Part, int Joined);

/// <summary>A part of a longer file that becomes a track of its own.</summary>
/// <param name="Number">Its number among the parts, from 1; 0 for what comes before the first track of a cue sheet.</param>
/// <param name="Total">How many there are.</param>
/// <param name="Title">Null where nothing tells it.</param>
public sealed record TrackPart(FrameRange Range, int Number, int Total, string? Title)
{
    public string? Artist { get; init; }

    public string? Album { get; init; }

    public string? AlbumArtist { get; init; }
}
