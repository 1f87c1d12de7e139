using Wergamon.App.Library;
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

/// <summary>Makes the jobs that turn audio in the spool into copies, with the names that the disc has at that moment.</summary>
public sealed class RipJobs(RunStore runs, DiscStore discs, Spool spool)
{
    private static readonly PcmFormat DiscFormat = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>The item's copy as it is to be made now, and the job for it.</summary>
    public (CopySpec Spec, ConvertJob Job) For(RunItemRow item, RipRow rip)
    {
        var spec = CopySpec.Of(item);
        int number = spec.DiscTrack!.Value;
        var disc = discs.Get(rip.DiscId)!;
        var tags = TagsOf(disc, number);
        var pictures = spool.Lay(rip.RunId, discs.PicturesOf(disc.Id));
        var tracks = runs.Items(rip.RunId).Where(other => other.Kind == RipTrackHandler.ItemKind).Select(RipTrackSpec.Of).OrderBy(track => track.FirstSector).ToList();
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
        };
        return (spec with { RelativePath = PathUnder(spec.RelativePath, tags, spec.Target.Format.Extension) }, job);
    }

    internal static AudioFacts FactsOf(TrackSpan span) => new(WavFormat.Instance, "disc", DiscFormat, span.Frames, IsLossless: true, 1411);

    internal static TagSet TagsOf(DiscRow disc, int number) =>
        number == RipStore.WholeDisc ? disc.ReadAlbum().TagsOfWhole(disc.ReadContents()) : disc.ReadAlbum().TagsOf(number, disc.ReadContents());

    internal static string TitleOf(DiscRow disc) => disc.ReadAlbum().Title is { Length: > 0 } title ? title : $"Disc {disc.ChecksumId}";

    internal static string PathFor(TagSet tags, Target target, bool hasTargetFolder) =>
        (hasTargetFolder ? SafeFileName.From(target.Name) + "/" : "") + TrackPath.For(tags, target.Format.Extension);

    /// <summary>The path for other names; the target's folder, if any, stays in front.</summary>
    internal static string PathUnder(string relativePath, TagSet tags, string extension)
    {
        var named = TrackPath.For(tags, extension);
        var parts = relativePath.Split('/');
        return parts.Length > named.Split('/').Length ? parts[0] + "/" + named : named;
    }
}
