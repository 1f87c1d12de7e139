using Wergamon.Core.Planning;

namespace Wergamon.Core.Sync;

/// <summary>A track of a mirror: as it should be there, or as it was when its file was made.</summary>
/// <param name="Path">Of its file, in full.</param>
/// <param name="Digest">Of the samples of the source; null while they have not been analysed.</param>
/// <param name="SourceBytes">Size of the source's file.</param>
/// <param name="SourceModifiedAt">When it was last written, in milliseconds since 1970.</param>
/// <param name="Recipe">All that the target says of the sound.</param>
/// <param name="Tags">Identifies the tags and pictures, and how they are written.</param>
public sealed record MirrorEntry(
    long TrackId, string Path, string? Digest, long SourceBytes, long SourceModifiedAt, string Recipe, string Tags)
{
    /// <summary>As <see cref="SourceSound.IsSoundOf"/>.</summary>
    public bool? HasSoundOf(MirrorEntry made) => Sound.IsSoundOf(made.Sound);

    private SourceSound Sound => new(Digest, SourceBytes, SourceModifiedAt, Recipe);
}

/// <summary>What a track of a mirror needs.</summary>
/// <param name="Wanted">Null for one that is gone, or whose source is missing.</param>
/// <param name="Made">Null for a new one.</param>
public sealed record MirrorStep(MirrorState State, MirrorEntry? Wanted, MirrorEntry? Made)
{
    public long TrackId => (Wanted ?? Made)!.TrackId;

    /// <summary>True when a file has to be converted.</summary>
    public bool Converts => State is MirrorState.New or MirrorState.Lost or MirrorState.Sound;

    /// <summary>True when a file gets another name without being converted.</summary>
    public bool Moves => State is MirrorState.Tags or MirrorState.Moved && Wanted!.Path != Made!.Path;

    public bool IsToDo => Converts || State is MirrorState.Tags or MirrorState.Moved or MirrorState.Gone;
}

/// <summary>Compares a mirror with the part of the library that it shows.</summary>
public static class MirrorComparison
{
    /// <param name="wanted">Tracks with a source that is there, in order.</param>
    /// <param name="made">What was made, by track.</param>
    /// <param name="missing">Tracks whose source is missing now.</param>
    /// <param name="isThere">Whether a path has a file.</param>
    /// <returns>Tracks in the order wanted, then those without a source, then those that are gone.</returns>
    public static IReadOnlyList<MirrorStep> Compare(
        IReadOnlyList<MirrorEntry> wanted, IReadOnlyDictionary<long, MirrorEntry> made, IReadOnlySet<long> missing,
        Func<string, bool> isThere)
    {
        var asked = wanted.Select(entry => entry.TrackId).ToHashSet();
        return
        [
            .. wanted.Select(
                entry => made.TryGetValue(entry.TrackId, out var known)
                    ? new MirrorStep(StateOf(entry, known, isThere), entry, known)
                    : new MirrorStep(MirrorState.New, entry, null)),
            .. made.Values.Where(entry => !asked.Contains(entry.TrackId))
                .OrderBy(entry => !missing.Contains(entry.TrackId))
                .ThenBy(entry => entry.Path, StringComparer.Ordinal)
                .Select(
                    entry => new MirrorStep(missing.Contains(entry.TrackId) ? MirrorState.SourceMissing : MirrorState.Gone, null, entry)),
        ];
    }

    private static MirrorState StateOf(MirrorEntry wanted, MirrorEntry made, Func<string, bool> isThere) =>
        !isThere(made.Path) ? MirrorState.Lost : wanted.HasSoundOf(made) switch
        {
            null => MirrorState.NotAnalysed,
            false => MirrorState.Sound,
            _ when wanted.Tags != made.Tags => MirrorState.Tags,
            _ when wanted.Path != made.Path => MirrorState.Moved,
            _ => MirrorState.UpToDate,
        };
}
