using System.Data;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

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
            // What is cut or joined stays: the copy of a part is not all there was.
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

    public static CopySpec SpecOf(PlanLine line, TrackRow track, IReadOnlyList<JobField> fromName)
    {
        var master = track.Master;
        return Common(line, new ConvertJob(
            master.Path, line.Planned!.Source.Facts.Format, line.Planned.Route.StepsBeforeEncoding(), line.Planned.Target.Encoder, "",
            fromName, CoverOf(master.FolderCoverPath))) with
        {
            TrackId = track.Id,
            SourceCopyId = master.Id,
            Generation = master.Generation + line.Planned.Route.AddedGenerations,
        };
    }

    private static CopySpec SpecOf(PlanLine line, PlanFile file)
    {
        var fromName = file.Fields.Where(field => file.FromName.Contains(field.Name)).ToList();
        return Common(line, new ConvertJob(
            file.Path, line.Planned!.Source.Facts.Format, line.Planned.Route.StepsBeforeEncoding(), line.Planned.Target.Encoder, "",
            fromName, CoverOf(file.FolderCoverPath))) with
        {
            Generation = line.Planned.Route.AddedGenerations,
        };
    }

    private static CopySpec Common(PlanLine line, ConvertJob job)
    {
        var item = line.Planned!;
        return new CopySpec
        {
            Target = item.Target,
            OutputFolder = item.Folder,
            RelativePath = item.RelativePath,
            OnConflict = item.Target.OnConflict,
            Steps = item.Route.InWords,
            Fidelity = item.Route.ResultFidelity,
            Album = item.Target.Level is { AlbumAsOne: true } ? line.AlbumKey : null,
            BytesBefore = line.FileBytes,
            IsNewTrack = line.IsCutOrJoined,
            Job = job with
            {
                ExtraFields = [.. job.ExtraFields, .. line.OwnFields],
                AppendedSources = [.. line.Appended.Select(each => each.FilePath)],
                Part = RangeOf(line),
                Sound = line.Stream,
                Artwork = item.Target.Artwork,
                TagOptions = new TagWriteOptions(item.Target.Id3v2Version),
                Level = item.Target.Level
            },
        };
    }

    /// <summary>The last part of a lossy file goes to its end, whose place its header only estimates.</summary>
    private static FrameRange? RangeOf(PlanLine line) =>
        line.Part is { } part
            ? part.Number == part.Total && !line.Facts.IsLossless
            ? part.Range with { Count = FrameRange.ToEnd }
            : part.Range
            : null;

    private static JobPicture[] CoverOf(string? path) => path is null ? [] : [new JobPicture(PictureKind.Front, path)];
}
