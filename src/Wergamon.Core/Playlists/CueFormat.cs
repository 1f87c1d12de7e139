using Wergamon.Core.Discs;

namespace Wergamon.Core.Playlists;

/// <summary>
/// A cue sheet with one file a track (the commands that <see cref="CueSheet"/> names). It numbers up to 99 tracks; the gap of a set is the
/// pregap of its tracks.
/// </summary>
internal sealed class CueFormat : PlaylistFormat
{
    /// <summary>What cue sheets call a file that is none of the kinds that they name. <em>Common practice, no source.</em></summary>
    private const string OtherKind = "WAVE";

    public override string Name => "CUE";

    public override string Extension => ".cue";

    public override string MimeType => "application/x-cue";

    public override int MaxTracks => 99;

    public override string Write(Playlist playlist)
    {
        Msf? gap = playlist.Gap > TimeSpan.Zero ? new Msf((int)Math.Round(playlist.Gap.TotalSeconds * AudioDisc.SectorsPerSecond)) : null;
        return CueSheetWriter.Write(new CueSheet
        {
            Title = playlist.Title,
            Files = [.. playlist.Entries.Select(entry => new CueFile(entry.Path, KindOf(entry.Path)))],
            Tracks =
            [
                .. playlist.Entries.Select((entry, i) => new CueTrack(i + 1, CueTrack.Audio)
                {
                    Title = entry.Title,
                    Performer = entry.Artist,
                    Pregap = i > 0 ? gap : null,
                    Indexes = [new CueIndex(1, i, new Msf(0))],
                }),
            ],
        });
    }

    /// <summary>
    /// Tracks that share a file are recognised by their names and lengths; only one that has a file for itself means that file.
    /// </summary>
    public override Playlist? Read(string text)
    {
        var sheet = CueSheetReader.Read(text.TrimStart('\uFEFF')).Sheet;
        if (sheet.Files.Count == 0 || sheet.Tracks.Count == 0)
            return null;
        var starts = sheet.Tracks.Select(
            track => track.Indexes.Where(index => index.Number == 1).Select(index => (CueIndex?)index).FirstOrDefault()).ToList();
        var entries = new List<PlaylistEntry>();
        for (int i = 0; i < sheet.Tracks.Count; i++)
        {
            if (starts[i] is not { } start || !sheet.Tracks[i].IsAudio)
                continue;
            bool isAlone = starts.Count(other => other?.File == start.File) == 1;
            TimeSpan? duration = i + 1 < starts.Count && starts[i + 1] is { } next && next.File == start.File && next.Time > start.Time
                ? (next.Time - start.Time).Duration
                : null;
            entries.Add(
                new PlaylistEntry(
                    isAlone ? PathOf(sheet.Files[start.File].Name) : "", sheet.Tracks[i].Title ?? "",
                    sheet.Tracks[i].Performer ?? sheet.Performer ?? "", duration));
        }

        var gaps = sheet.Tracks.Skip(1).Select(track => track.Pregap).Distinct().ToList();
        return entries.Count == 0
            ? null
            : new Playlist(sheet.Title ?? "", entries) { Gap = gaps is [{ } gap] ? gap.Duration : TimeSpan.Zero };
    }

    private static string KindOf(string path) => Path.GetExtension(path).ToLowerInvariant() switch
    {
        ".mp3" => "MP3",
        ".aif" or ".aiff" or ".aifc" => "AIFF",
        _ => OtherKind,
    };
}
