using System.Text;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;

namespace Wergamon.App.Deliver.Discs;

/// <summary>The playlist in the root of a data disc.</summary>
internal static class DataDiscPlaylist
{
    /// <summary>The playlist of a disc, with the paths of the files on it.</summary>
    public static IsoSource For(string title, IEnumerable<(string Path, ListedTrack Track)> tracks)
    {
        var bytes = Encoding.UTF8.GetBytes(
            PlaylistFormat.M3u8.Write(
                new Playlist(
                    title,
                    [
                        .. tracks.Select(
                            track =>
                                new PlaylistEntry(
                                    track.Path, track.Track.Title, track.Track.Artist, TimeSpan.FromSeconds(track.Track.Seconds)))
                    ])));
        return new IsoSource(
            SafeFileName.From(title, PlaylistFormat.M3u8.Extension), bytes.Length, () => new MemoryStream(bytes, writable: false));
    }
}
