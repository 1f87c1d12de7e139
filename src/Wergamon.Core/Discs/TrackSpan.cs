namespace Wergamon.Core.Discs;

/// <summary>What happens to the pauses between tracks.</summary>
public enum Pauses
{
    /// <summary>Each is appended to the track before it, so that the tracks in sequence are the whole disc.</summary>
    WithTrackBefore,

    LeftOut,
}

/// <summary>The stretch of a disc that becomes one track.</summary>
/// <param name="Number">0 for the hidden track before track 1.</param>
/// <param name="FirstSector">The first sector.</param>
/// <param name="EndSector">The sector after the last.</param>
public readonly record struct TrackSpan(int Number, int FirstSector, int EndSector)
{
    public const int HiddenNumber = 0;

    public int Sectors => EndSector - FirstSector;

    public long FirstFrame => (long)FirstSector * AudioDisc.FramesPerSector;

    public long Frames => (long)Sectors * AudioDisc.FramesPerSector;

    public TimeSpan Duration => new Msf(Sectors).Duration;

    /// <summary>The spans of all sound on a disc in order, the hidden track before track 1 included.</summary>
    public static IReadOnlyList<TrackSpan> Of(TableOfContents toc, Pauses pauses)
    {
        var spans = new List<TrackSpan>();
        if (toc.HiddenSectors > 0)
            spans.Add(new TrackSpan(HiddenNumber, 0, toc.HiddenSectors));
        foreach (var track in toc.AudioTracks)
        {
            int end = toc.EndOf(track);
            if (pauses == Pauses.LeftOut
                && toc.Tracks.FirstOrDefault(next => next.Number == track.Number + 1) is { IsAudio: true } following)
                end = following.PauseStart;
            spans.Add(new TrackSpan(track.Number, track.Start, end));
        }

        return spans;
    }
}
