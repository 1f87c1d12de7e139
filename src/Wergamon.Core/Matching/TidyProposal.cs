using Wergamon.Core.Audio;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Matching;

/// <summary>Why files are listed as duplicates.</summary>
public enum DuplicateKind
{
    /// <summary>Every sample is equal.</summary>
    SameSound,

    /// <summary>One track in several lossy copies.</summary>
    SeveralLossy,

    /// <summary>Same artist, title and length, but not known to have the same sound.</summary>
    SameName,
}

/// <summary>What is proposed for a file, and why.</summary>
public sealed record TidyAdvice(long CopyId, bool Goes, string Reason);

/// <summary>
/// What to keep of a group of duplicates: for every track one imported file, and one for each target that copies were made
/// for here. An imported file is never removed in favour of one that was made from it.
/// </summary>
public static class TidyProposal
{
    /// <param name="kind">Why the files are duplicates.</param>
    /// <param name="files">At least two.</param>
    /// <param name="hasLosslessCopy">Whether the track of several lossy copies has a lossless one too.</param>
    /// <returns>In the order of the files.</returns>
    public static IReadOnlyList<TidyAdvice> For(DuplicateKind kind, IReadOnlyList<DuplicateFile> files, bool hasLosslessCopy = false)
    {
        if (kind == DuplicateKind.SameName)
            return [.. files.Select(file => new TidyAdvice(file.CopyId, false, "stays unless you decide otherwise"))];
        var best = files.GroupBy(file => (file.TrackId, file.MadeFor))
            .ToDictionary(group => group.Key, group => kind == DuplicateKind.SameSound ? BestOfSame(group) : BestOfLossy(group));
        return [.. files.Select(file => Advise(kind, file, best[(file.TrackId, file.MadeFor)], files, hasLosslessCopy))];
    }

    private static TidyAdvice Advise(
        DuplicateKind kind, DuplicateFile file, DuplicateFile best, IReadOnlyList<DuplicateFile> files, bool hasLosslessCopy)
    {
        if (file != best)
        {
            return new TidyAdvice(file.CopyId, true, kind == DuplicateKind.SameSound
                ? $"goes: the same samples as {best.Label}, {WhyLess(file, best)}"
                : $"goes: {WhyLessLossy(file, best)}{(hasLosslessCopy ? "; can be made again from the lossless copy" : "")}");
        }

        if (file.MadeFor is { } target)
            return new TidyAdvice(file.CopyId, false, $"stays: made here for {target}");
        bool isOnly = files.Count(other => other.TrackId == file.TrackId && other.MadeFor is null) == 1;
        return new TidyAdvice(
            file.CopyId, false,
            isOnly
                ? "stays: the only file of its track"
                : "stays: " + (kind == DuplicateKind.SameSound ? WhyBest(file) : WhyBestLossy(file)));
    }

    private static DuplicateFile BestOfSame(IEnumerable<DuplicateFile> files) => files
        .OrderBy(file => file.IsDamaged)
        .ThenByDescending(file => file.HoldsTagsWell)
        .ThenByDescending(file => file.TagCount)
        .ThenByDescending(file => file.PictureCount)
        .ThenBy(file => file.Bytes)
        .ThenBy(file => file.CopyId)
        .First();

    private static DuplicateFile BestOfLossy(IEnumerable<DuplicateFile> files) => files
        .OrderBy(file => file.IsDamaged)
        .ThenBy(file => file.Generation)
        .ThenByDescending(file => file.KilobitsPerSecond)
        .ThenByDescending(file => file.TagCount + file.PictureCount)
        .ThenBy(file => file.CopyId)
        .First();

    private static string WhyBest(DuplicateFile file) => !file.HoldsTagsWell ? "one has to"
        : file.TagCount == 0 ? "it can hold tags"
        : $"it holds {Plural.Count(file.TagCount, "tag")}{(file.PictureCount > 0 ? " and artwork" : "")}";

    private static string WhyBestLossy(DuplicateFile file) =>
        file.Generation > 1 ? "least lost of these" : $"least lost, {file.KilobitsPerSecond} kbit/s";

    private static string WhyLess(DuplicateFile file, DuplicateFile best) => file.IsDamaged && !best.IsDamaged ? "and damaged"
        : best.HoldsTagsWell && !file.HoldsTagsWell ? "in a container that holds tags badly"
        : file.TagCount < best.TagCount ? "with fewer tags"
        : file.PictureCount < best.PictureCount ? "without its artwork"
        : file.Bytes > best.Bytes ? "in a larger file"
        : "and nothing more";

    private static string WhyLessLossy(DuplicateFile file, DuplicateFile best) => file.IsDamaged && !best.IsDamaged ? "damaged"
        : file.Generation > best.Generation ? $"{file.Generation} lossy encodings instead of {best.Generation}"
        : file.KilobitsPerSecond < best.KilobitsPerSecond ? $"{file.KilobitsPerSecond} kbit/s beside {best.KilobitsPerSecond}"
        : $"no better than {best.Label}";
}
