using System.Data;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>Turns the lines of a plan into the items of its run.</summary>
internal static class PlanItems
{
    public static void Insert(IDbConnection connection, long runId, PlanView plan)
    {
        int position = 0;
        var fromNames = LibraryQueries.FieldsFromNames(
            connection, plan.Running.Where(line => line.Track is not null).Select(line => line.Track!.Master.Id));
        var copies = new List<(CopyRow Original, long ItemId)>();
        foreach (var line in plan.Running)
        {
            var spec = line.Track is { } track
                ? SpecOf(line, track, fromNames.GetValueOrDefault(track.Master.Id) ?? [])
                : SpecOf(line, line.File!);
            long duration = (long)line.Planned!.Source.Facts.Duration.TotalMilliseconds;
            long id = RunStore.InsertItem(
                connection, runId, position++,
                ConvertHandler.ItemKind.New(Lane.Worker, line.Title, duration, spec) with
                {
                    CopyIds = spec.SourceCopyId is { } copy ? [copy] : []
                });
            // Sources of parts and joins are kept: the copy of a part does not hold everything.
            if (line is { Track: not null, IsCutOrJoined: false })
                copies.Add((line.Track.Master, id));
        }

        if (plan.Target.Sources == SourceDisposition.TrashAfterProof)
            InsertTrashing(connection, runId, position, copies);
    }

    /// <summary>One step for each original, however many copies are made of it.</summary>
    private static void InsertTrashing(IDbConnection connection, long runId, int position, List<(CopyRow Original, long ItemId)> copies)
    {
        foreach (var original in copies.GroupBy(copy => copy.Original.Id))
        {
            var (id, path) = (original.Key, original.First().Original.Path);
            long item = RunStore.InsertItem(
                connection, runId, position++,
                TrashOriginalHandler.ItemKind.New(
                    Lane.Files, System.IO.Path.GetFileName(path), 0, new TrashOriginalSpec(id, path)) with
                { IsResult = false });
            foreach (var (_, copy) in original)
                RunStore.InsertWait(connection, item, copy, WaitReason.Success);
        }
    }

    public static CopySpec SpecOf(PlanLine line, TrackRow track, IReadOnlyList<JobField> fromName) =>
        WithLine(TrackSources.CopyOf(track, line.Planned!, fromName), line);

    private static CopySpec SpecOf(PlanLine line, PlanFile file) =>
        WithLine(
            TrackSources.CopyOf(
                line.Planned!, file.Path, [.. file.Fields.Where(field => file.FromName.Contains(field.Name))], file.FolderCoverPath),
            line);

    /// <summary>What the person has chosen for one line: parts, joined files, a stream.</summary>
    private static CopySpec WithLine(CopySpec copy, PlanLine line) => copy with
    {
        Album = copy.Target.Level is { AlbumAsOne: true } ? line.AlbumKey : null,
        BytesBefore = line.FileBytes,
        IsNewTrack = line.IsCutOrJoined,
        Job = copy.Job! with
        {
            ExtraFields = [.. copy.Job.ExtraFields, .. line.OwnFields],
            AppendedSources = [.. line.Appended.Select(each => each.FilePath)],
            Part = RangeOf(line),
            Sound = line.Stream,
        },
    };

    /// <summary>The last part of a lossy file extends to its end, which its header only estimates.</summary>
    private static FrameRange? RangeOf(PlanLine line) =>
        line.Part is { } part
            ? part.Number == part.Total && !line.Facts.IsLossless
            ? part.Range with { Count = FrameRange.ToEnd }
            : part.Range
            : null;
}
