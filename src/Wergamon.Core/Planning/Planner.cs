using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Planning;

/// <summary>Plans the conversion of tracks to a target. Touches nothing; files are only looked up by name.</summary>
public static class Planner
{
    /// <param name="sources">The tracks in the order wanted.</param>
    /// <param name="target">What the copies are made for.</param>
    /// <param name="isTaken">Whether a path below the target's folder has a file already.</param>
    public static IReadOnlyList<PlanItem> Plan(IEnumerable<PlanSource> sources, Target target, Func<string, bool> isTaken)
    {
        var promised = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var names = TrackPath.PatternOf(target.Names);
        return [.. sources.Select(source => PlanOne(source, target, names, isTaken, promised))];
    }

    private static PlanItem PlanOne(PlanSource source, Target target, NamePattern names, Func<string, bool> isTaken, HashSet<string> promised)
    {
        var route = RoutePlanner.Plan(source.Facts, source.Fidelity, target, source.Known);
        var notes = NotesOn(source, route, target).ToList();
        var path = TrackPath.For(source.Tags, target.Format.Extension, names);
        bool takenOnDisk = isTaken(path);
        bool skipped = takenOnDisk && target.IfExists == IfExists.Skip;
        if (promised.Contains(path) || (takenOnDisk && target.IfExists == IfExists.KeepBoth))
            path = FirstFree(path, candidate => promised.Contains(candidate) || isTaken(candidate));
        if (takenOnDisk)
            notes.Add(new PlanNote(PlanWarning.NameExists, WordsForExisting(target.IfExists, path)));
        if (!skipped)
            promised.Add(path);
        return new PlanItem(source, route, EstimateSize(source, route, target), path, skipped, notes);
    }

    /// <summary>What of the source's tags and pictures the target asks for.</summary>
    internal static TagContents ContentsFor(PlanSource source, Target target) => (target.Artwork ?? ArtworkRule.Everything).ApplyTo(source.Contents);

    private static SizeEstimate EstimateSize(PlanSource source, Route route, Target target) => route.IsCarried
        ? SizeEstimate.OfMeanRate(source.Facts.KilobitsPerSecond, route.Sound, target.Format.TagBytes(ContentsFor(source, target))) with { Basis = SizeBasis.Bitrate }
        : target.Format.EstimateSize(target.Encoder, route.Sound, ContentsFor(source, target));

    private static string FirstFree(string path, Func<string, bool> isTaken)
    {
        int number = 2;
        while (isTaken(TrackPath.Numbered(path, number)))
            number++;
        return TrackPath.Numbered(path, number);
    }

    private static string WordsForExisting(IfExists rule, string path) => rule switch
    {
        IfExists.Skip => "This name is taken: the track is skipped",
        IfExists.Replace => "This name is taken: the file there goes to the trash once the new one is proved",
        _ => $"This name is taken: both are kept, the new one as {path[(path.LastIndexOf('/') + 1)..]}",
    };

    private static IEnumerable<PlanNote> NotesOn(PlanSource source, Route route, Target target)
    {
        bool lossySource = source.Fidelity == Fidelity.Lossy;
        var rate = source.Facts.IsLossless ? "" : string.Create(CultureInfo.InvariantCulture, $" at {source.Facts.KilobitsPerSecond}");
        if (lossySource && route.AddedGenerations > 0)
            yield return new PlanNote(PlanWarning.LossyToLossy, $"Second lossy pass: detail lost{rate} does not come back, and more goes");
        if (lossySource && !target.IsLossy)
            yield return new PlanNote(PlanWarning.LossyToLossless, $"Larger, not better: detail lost{rate} does not come back");
        if (route.Output.Rate.Hertz > source.Facts.Format.Rate.Hertz && target.Rate is not null)
            yield return new PlanNote(PlanWarning.NothingGained, $"{route.Output.Rate} gains nothing over {source.Facts.Format.Rate}");
        else if (!target.IsLossy && target.Bits is { } bits && source.Facts is { IsLossless: true, Format.IsFloat: false } && bits > source.Facts.Format.Bits)
            yield return new PlanNote(PlanWarning.NothingGained, string.Create(CultureInfo.InvariantCulture, $"{bits} bits gain nothing over {source.Facts.Format.Bits}"));
        foreach (var note in ClippingNotes.On(source, route, target))
            yield return note;
        if (target.Format.TagAdvice is { } advice && source.Contents.Count > 0)
            yield return new PlanNote(PlanWarning.TagsHeldBadly, advice);
        var contents = ContentsFor(source, target);
        int lost = contents.Count - target.Format.Dialect.CountHeld(contents);
        if (lost > 0)
            yield return new PlanNote(PlanWarning.TagsNotHeld, string.Create(CultureInfo.InvariantCulture, $"{lost} {(lost == 1 ? "tag" : "tags")} of the source cannot be held by {target.Format.Name}"));
        if (source.TagsFromName > 0)
            yield return new PlanNote(PlanWarning.TagsFromFileName, string.Create(CultureInfo.InvariantCulture, $"{source.TagsFromName} {(source.TagsFromName == 1 ? "tag" : "tags")} from the file name"));
        if (source.Facts.Damage.Count > 0)
            yield return new PlanNote(PlanWarning.SourceDamaged, "The source is damaged: " + source.Facts.Damage[0]);
    }
}
