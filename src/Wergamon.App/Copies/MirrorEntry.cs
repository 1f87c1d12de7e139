using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.App.Copies;

/// <summary>A file of a mirror as it is kept in the database and in runs.</summary>
/// <param name="Path">In full.</param>
/// <param name="Digest">Of the samples of the source; null while they have not been analysed.</param>
/// <param name="SourceBytes">Size of the source's file.</param>
/// <param name="SourceModifiedAt">When it was last written, in milliseconds since 1970.</param>
/// <param name="Recipe">All that the target says of the sound.</param>
/// <param name="Tags">Identifies the tags and pictures, and how they are written.</param>
public sealed record MirrorEntry(
    long TrackId, string Path, string? Digest, long SourceBytes, long SourceModifiedAt, string Recipe, string Tags)
{
    /// <summary>A file that is there under the name that it was given is as it was made: changes by others are not looked for.</summary>
    internal WrittenFile ToWritten() =>
        new(SyncKey.OfTrack(TrackId), Path, new SourceSound(Digest, SourceBytes, SourceModifiedAt, Recipe), Tags, default, 0);

    internal static MirrorEntry From(WantedFile file) => From(file.Key, file.Path, file.Sound!, file.Tags);

    internal static MirrorEntry From(WrittenFile file) => From(file.Key, file.Path, file.Sound!, file.Tags);

    private static MirrorEntry From(SyncKey key, string path, SourceSound sound, string tags) =>
        new(key.TrackId!.Value, path, sound.Digest, sound.Bytes, sound.ModifiedAt, sound.Recipe, tags);
}
