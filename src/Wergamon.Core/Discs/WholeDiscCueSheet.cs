namespace Wergamon.Core.Discs;

/// <summary>The cue sheet beside a disc that was ripped to one file.</summary>
public static class WholeDiscCueSheet
{
    /// <param name="fileName">The file that holds all sound, without its folder.</param>
    public static CueSheet For(DiscAlbum album, TableOfContents contents, string fileName)
    {
        int first = TrackSpan.Of(contents, Pauses.WithTrackBefore)[0].FirstSector;
        string? Given(string text) => text.Length == 0 ? null : text;
        return new CueSheet
        {
            CatalogueNumber = contents.CatalogueNumber,
            Title = Given(album.Title),
            Performer = Given(album.Artist),
            Remarks = [
                $"DISCID {DiscId.Checksum(contents)}", .. album.Year is { } year ? [$"DATE {year}"] : Array.Empty<string>(),
                .. album.Genre.Length > 0 ? [$"GENRE \"{album.Genre}\""] : Array.Empty<string>()
            ],
            // WAVE is used for any file of sound (common practice, no source).
            Files = [new CueFile(fileName, "WAVE")],
            Tracks =
            [
                .. contents.AudioTracks.Select(track => new CueTrack(track.Number, CueTrack.Audio)
                {
                    Title = Given(album.Tracks.FirstOrDefault(title => title.Number == track.Number)?.Title ?? ""),
                    Performer = album.Tracks.FirstOrDefault(title => title.Number == track.Number)?.Artist ?? Given(album.Artist),
                    Isrc = track.Isrc,
                    Indexes =
                    [
                        .. track.PauseStart < track.Start
                            ? [new CueIndex(0, 0, new Msf(Math.Max(0, track.PauseStart - first)))]
                            : Array.Empty<CueIndex>(),
                        new CueIndex(1, 0, new Msf(track.Start - first)),
                        .. track.MoreIndexes.Select((sector, i) => new CueIndex(i + 2, 0, new Msf(sector - first))),
                    ],
                }),
            ],
        };
    }
}
