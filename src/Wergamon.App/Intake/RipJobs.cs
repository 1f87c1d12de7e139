using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>Creates the jobs that turn audio in the spool into copies, with the current names of the disc.</summary>
public sealed class RipJobs(RunStore runs, DiscStore discs, Spool spool)
{
    private static readonly PcmFormat DiscFormat = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>The copy of an item as it should be made now, and the job for it.</summary>
    public (CopySpec Spec, ConvertJob Job) For(RunItemRow item, RipRow rip)
    {
        var spec = CopySpec.Of(item);
        int number = spec.DiscTrack!.Value;
        var disc = discs.Get(rip.DiscId)!;
        var tags = TagsOf(disc, number);
        var pictures = spool.Lay(rip.RunId, discs.PicturesOf(disc.Id));
        var tracks = runs.Items(rip.RunId)
            .Where(RipTrackHandler.ItemKind.Is)
            .Select(RipTrackHandler.ItemKind.SpecOf)
            .OrderBy(track => track.FirstSector)
            .ToList();
        var surround = number == RipStore.WholeDisc ? null : tracks.First(track => track.Number == number).Surround;
        var sources = number == RipStore.WholeDisc ? [.. tracks.Select(track => spool.PathOf(rip.RunId, track.Number))]
            : surround is null ? new List<string> { spool.PathOf(rip.RunId, number) }
            : [.. surround.Title.Parts.Select((_, part) => spool.PathOf(rip.RunId, number, part))];
        var facts = surround?.Facts ?? FactsOf(new TrackSpan(number, 0, 1));
        var route = RoutePlanner.Plan(facts, Fidelity.Exact, spec.Target);
        var job = new ConvertJob(
            sources[0], facts.Format, route.StepsBeforeEncoding(),
            spec.Target.Encoder, "", [.. tags.Fields.Select(field => new JobField(field.Name, field.Values))], pictures)
        {
            AppendedSources = surround is null ? sources[1..] : [],
            ParallelSources = surround is null ? [] : sources[1..],
            Roles = surround?.Roles ?? [],
            Downmix = surround?.Choice.Levels,
            HasSpareCore = true,
            Artwork = spec.Target.Artwork,
            Level = spec.Target.Level,
            TagOptions = new TagWriteOptions(spec.Target.Id3v2Version),
        };
        return (spec with { RelativePath = PathFor(tags, spec, spec.Target.Format.Extension) }, job);
    }

    internal static AudioFacts FactsOf(TrackSpan span) => new(WavFormat.Instance, "disc", DiscFormat, span.Frames, IsLossless: true, 1411);

    internal static TagSet TagsOf(DiscRow disc, int number) =>
        number == RipStore.WholeDisc
            ? disc.ReadAlbum().TagsOfWhole(disc.ReadContents())
            : disc.ReadAlbum().TagsOf(number, disc.ReadContents());

    internal static string TitleOf(DiscRow disc) => disc.ReadAlbum().Title is { Length: > 0 } title ? title : $"Disc {disc.ChecksumId}";

    /// <summary>Where a copy goes below the output folder.</summary>
    /// <param name="targetFolder">As <see cref="CopySpec.TargetFolder"/>.</param>
    internal static string PathFor(TagSet tags, Target target, string targetFolder, string extension) =>
        (targetFolder.Length > 0 ? targetFolder + "/" : "") + TrackPath.For(tags, extension, TrackPath.PatternOf(target.Names));

    /// <summary>The path of a planned copy for other names.</summary>
    internal static string PathFor(TagSet tags, CopySpec spec, string extension) =>
        PathFor(tags, spec.Target, TargetFolderOf(spec), extension);

    private static string TargetFolderOf(CopySpec spec)
    {
        if (spec.TargetFolder is { } known)
            return known;
        // Earlier versions named all copies by artist, album and title.
        const int LevelsOfNames = 3;
        var parts = spec.RelativePath.Split('/');
        return parts.Length > LevelsOfNames ? parts[0] : "";
    }
}
