using Wergamon.App.Files;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;

namespace Wergamon.App.Bench;

/// <summary>A file that is compared, as it was when the comparison was requested.</summary>
/// <param name="CopyId">The copy in the library; null for a file of the Bench.</param>
/// <param name="Format">"FLAC 16/44.1"</param>
public sealed record ComparedSound(long? CopyId, string Path, string Title, string Artist, string Format, Fidelity Fidelity, long LengthMs)
{
    /// <summary>Tells whether the file has changed since.</summary>
    public string Stamp { get; init; } = "";

    public bool IsUnchanged => Stamp == StampOf(Path);

    internal static ComparedSound Of(CopyRow copy, TrackRow track) =>
        new(
            copy.Id, copy.Path, track.Title, track.Artist, copy.Facts.ShortLabel, copy.Fidelity,
            (long)copy.Facts.Duration.TotalMilliseconds)
        { Stamp = StampOf(copy.Path) };

    internal static string StampOf(string path) => FileStamp.Of(path).SizeAndTime.ToString();
}
