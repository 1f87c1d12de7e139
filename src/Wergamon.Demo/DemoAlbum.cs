using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Demo.Music;

namespace Wergamon.Demo;

/// <summary>One track of the demo: its piece and what its tags say beyond the album's.</summary>
internal sealed record DemoTrack(string Title, Piece Piece, string? Artist = null, int Channels = 2)
{
    /// <summary>A field that is untidy in this file, and its value.</summary>
    public (string Field, string Value)? Untidy { get; init; }
}

/// <summary>One album of the demo and its form in the music folder.</summary>
internal sealed record DemoAlbum(
    string Artist, string Title, int Year, string Genre, EncoderSettings Encoder, CoverPattern Cover, IReadOnlyList<DemoTrack> Tracks)
{
    public int Bits { get; init; } = 16;

    public SampleRate Rate { get; init; } = SampleRate.AudioDisc;

    /// <summary>False leaves all facts to the names of folder and files, and the cover to a file beside them.</summary>
    public bool IsTagged { get; init; } = true;

    /// <summary>The lossy format that the sound of its files went through before; null for none.</summary>
    public EncoderSettings? Ancestor { get; init; }

    public bool IsCompilation => Tracks.Any(track => track.Artist is not null);

    public string FolderName => IsTagged ? Path.Combine(Artist, Title) : $"{Artist} - {Title} ({Year})";

    public string Extension => Encoder.Format.Extension;
}

/// <summary>Another file of a track of an album, as they accumulate over the years.</summary>
/// <param name="Path">Below the music folder.</param>
/// <param name="Single">The title of a single that it is on, in another mix; null where it is on the album too.</param>
internal sealed record DemoDuplicate(
    string Path, DemoAlbum Album, int Index, EncoderSettings Encoder, bool IsTagged = true, string? Single = null)
{
    private const double SingleLoudness = 1.7;

    public DemoTrack Track =>
        Single is null
            ? Album.Tracks[Index]
            : Album.Tracks[Index] with { Piece = Album.Tracks[Index].Piece with { Loudness = SingleLoudness } };
}
