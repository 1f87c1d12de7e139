using Wergamon.Core.Formats;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Planning;

/// <summary>Plans the conversion of tracks to a target. Touches nothing; files are only looked up by name.</summary>
public static class Planner
{
    /// <param name="sources">The tracks in the order wanted.</param>
    /// <param name="target">What the copies are made for.</param>
    /// <param name="folder">Where they go.</param>
    /// <param name="modifiedAt">When the file of a path was last changed, in milliseconds since 1970; null where there is none.</param>
    public static IReadOnlyList<PlanItem> Plan(
        IEnumerable<PlanSource> sources, Target target, string folder, Func<string, long?> modifiedAt)
    {
        return WithFreeNames(PlanAlone(sources, target, folder), modifiedAt);
    }

    /// <summary>The plan of each track as if there were no other files.</summary>
    public static IReadOnlyList<PlanItem> PlanAlone(IEnumerable<PlanSource> sources, Target target, string folder)
    {
        var names = TrackPath.PatternOf(target.Names);
        return [
            .. sources.AsParallel()
                .AsOrdered()
                .Select(source => PlanAlone(source, source.Exception?.ApplyTo(target) ?? target, names, folder))
        ];
    }

    /// <summary>The tracks of a plan with names that nothing else has, or as the target says for those that something has.</summary>
    /// <param name="modifiedAt">As for <see cref="Plan"/>.</param>
    public static IReadOnlyList<PlanItem> WithFreeNames(IEnumerable<PlanItem> alone, Func<string, long?> modifiedAt)
    {
        // Names that differ only in case are one name on many players and sticks.
        var promised = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        return [.. alone.Select(item => WithFreeName(item, modifiedAt, promised))];
    }

    private static PlanItem PlanAlone(PlanSource source, Target target, NamePattern names, string folder)
    {
        var route = RoutePlanner.Plan(source.Facts, source.Fidelity, target, source.Known, source.Span);
        if (target.Place == OutputLocation.BesideSource)
            folder = Path.GetDirectoryName(source.Path) ?? folder;
        return new PlanItem(
            source, target, route, EstimateSize(source, route, target), folder, PlannedPath.For(source, target, names), IsSkipped: false,
            [.. PlanNotes.On(source, route, target)])
        {
            TagsKept = target.Format.Dialect.CountHeld(ContentsFor(source, target)),
        };
    }

    private static PlanItem WithFreeName(PlanItem item, Func<string, long?> modifiedAt, HashSet<string> promised)
    {
        var (source, target, folder, path) = (item.Source, item.Target, item.Folder, item.RelativePath);
        long? existing = modifiedAt(Path.Combine(folder, path));
        var rule = Resolve(target.OnConflict, existing, source.ModifiedAt);
        // A source is never replaced by its own copy.
        if (rule == ConflictRule.Replace && Path.Combine(folder, path) == source.Path)
            rule = ConflictRule.KeepBoth;
        bool skipped = existing is not null && rule == ConflictRule.Skip;
        if (promised.Contains(Path.Combine(folder, path)) || (existing is not null && rule == ConflictRule.KeepBoth))
            path = FirstFree(
                path,
                candidate => promised.Contains(Path.Combine(folder, candidate)) || modifiedAt(Path.Combine(folder, candidate)) is not null);
        if (!skipped)
            promised.Add(Path.Combine(folder, path));
        return existing is null
            ? item with { RelativePath = path }
            : item with
            {
                RelativePath = path,
                IsSkipped = skipped,
                Notes = [.. item.Notes, new PlanNote(PlanWarning.NameExists, WordsForExisting(rule, target.OnConflict, path))]
            };
    }

    /// <summary>What the rule means for a file of that age.</summary>
    private static ConflictRule Resolve(ConflictRule rule, long? existing, long source) =>
        rule == ConflictRule.ReplaceOlder ? existing < source ? ConflictRule.Replace : ConflictRule.Skip : rule;

    /// <summary>What of the source's tags and pictures the target asks for.</summary>
    internal static TagContents ContentsFor(PlanSource source, Target target) =>
        (target.Artwork ?? ArtworkRule.Everything).ApplyTo(source.Contents);

    private static SizeEstimate EstimateSize(PlanSource source, Route route, Target target) => route.IsCarried
        ? SizeEstimate.OfMeanRate(
            source.Facts.KilobitsPerSecond, route.Sound,
            target.Format.TagBytes(ContentsFor(source, target))) with
        { Basis = SizeBasis.Bitrate }
        : OfVersion(target.Format.EstimateSize(target.Encoder, route.Sound, ContentsFor(source, target)), target);

    /// <summary>Text takes other space in version 2.4 than in 2.3, for which sizes are computed.</summary>
    private static SizeEstimate OfVersion(SizeEstimate size, Target target) =>
        target.Id3v2Version == 4 && size.Basis == SizeBasis.Exact ? size with { Basis = SizeBasis.Bitrate } : size;

    private static string FirstFree(string path, Func<string, bool> isTaken)
    {
        int number = 2;
        while (isTaken(TrackPath.Numbered(path, number)))
            number++;
        return TrackPath.Numbered(path, number);
    }

    private static string WordsForExisting(ConflictRule rule, ConflictRule asked, string path) => rule switch
    {
        ConflictRule.Skip when asked == ConflictRule.ReplaceOlder => "The file there is newer than the source: the track is skipped",
        ConflictRule.Skip => "This name is taken: the track is skipped",
        ConflictRule.Replace => "This name is taken: the existing file moves to the trash once the new one is proved",
        _ => $"This name is taken: both are kept, the new one as {path[(path.LastIndexOf('/') + 1)..]}",
    };
}
