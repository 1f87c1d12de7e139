using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Names;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>The copies that a rip makes, as items of its run: they wait for their track, and get their job when it has been read.</summary>
public sealed class RipItems(Spool spool, DiscStore discs)
{
    private static readonly PcmFormat DiscFormat = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>Puts down a copy that waits for the reading.</summary>
    /// <param name="number">The track, or <see cref="RipStore.WholeDisc"/>.</param>
    /// <param name="facts">Of a surround title; null for sound as every disc has it.</param>
    public static void Insert(IDbConnection connection, long runId, int position, TrackSpan span, int number, Target target, DiscRow disc, bool severalTargets, AudioFacts? facts = null)
    {
        facts ??= FactsOf(span);
        var route = RoutePlanner.Plan(facts, Fidelity.Exact, target);
        var tags = TagsOf(disc, number);
        connection.Execute(
            """
            INSERT INTO run_item (run_id, position, disc_track, target, title, relative_path, if_taken, steps, fidelity, generation, bytes_before, duration_ms, job, state)
            VALUES (@runId, @position, @number, @target, @title, @path, @ifTaken, @steps, @fidelity, @generation, @bytes, @duration, '', 'reading')
            """,
            new
            {
                runId,
                position,
                number,
                target = JsonSerializer.Serialize(target, WorkerJson.Default.Target),
                title = tags.First(FieldNames.Title),
                path = PathFor(tags, target, severalTargets),
                ifTaken = target.IfTaken.ToString(),
                steps = string.Join(", ", route.Steps.Select(step => step.Label)),
                fidelity = (int)route.ResultFidelity,
                generation = route.AddedGenerations,
                bytes = facts.FrameCount * facts.Format.BytesPerFrame,
                duration = (long)span.Duration.TotalMilliseconds,
            });
    }

    /// <summary>Gives the items of a track their jobs, with the names that the disc has now.</summary>
    public void Release(IDbConnection connection, long runId, int number, DiscRow disc)
    {
        var items = connection.Query<(long Id, string Target, string Path)>(
            "SELECT id, target, relative_path FROM run_item WHERE run_id = @runId AND disc_track = @number AND state IN ('reading', 'waiting')", new { runId, number }).AsList();
        if (items.Count == 0)
            return;
        var title = SurroundOf(connection, runId, number);
        var tags = TagsOf(disc, number);
        var pictures = spool.Lay(runId, discs.PicturesOf(disc.Id));
        var sources = number == RipStore.WholeDisc
            ? connection.Query<int>("SELECT number FROM rip_track WHERE run_id = @runId ORDER BY first_sector", new { runId }).Select(track => spool.PathOf(runId, track)).ToList()
            : title is null ? [spool.PathOf(runId, number)] : [.. title.Title.Parts.Select((_, part) => spool.PathOf(runId, number, part))];
        foreach (var (id, saved, path) in items)
        {
            var target = JsonSerializer.Deserialize(saved, WorkerJson.Default.Target)!;
            var facts = title?.Facts ?? FactsOf(new TrackSpan(number, 0, 1));
            var route = RoutePlanner.Plan(facts, Fidelity.Exact, target);
            var job = new ConvertJob(
                sources[0], facts.Format, [.. route.Steps.Where(step => step.Kind != StepKind.Encode).Select(step => new JobStep(step.Kind, step.Output))],
                target.Kind, "", target.Mp3, target.FlacLevel, [.. tags.Fields.Select(field => new JobField(field.Name, field.Values))], pictures)
            {
                SourcesBehind = title is null ? sources[1..] : [],
                SourcesBeside = title is null ? [] : sources[1..],
                Roles = title?.Roles ?? [],
                Fold = title?.Choice.Levels,
            };
            bool severalTargets = path.Split('/').Length > TrackPath.For(tags, target.Extension).Split('/').Length;
            connection.Execute(
                "UPDATE run_item SET job = @job, title = @title, relative_path = @path, state = 'waiting' WHERE id = @id AND state IN ('reading', 'waiting')",
                new { id, job = JsonSerializer.Serialize(job, WorkerJson.Default.ConvertJob), title = tags.First(FieldNames.Title), path = PathFor(tags, target, severalTargets) });
        }
    }

    private static SurroundSource? SurroundOf(IDbConnection connection, long runId, int number) =>
        connection.QueryFirstOrDefault<string>("SELECT surround FROM rip_track WHERE run_id = @runId AND number = @number", new { runId, number }) is { } surround
            ? JsonSerializer.Deserialize(surround, IntakeJson.Default.SurroundSource)
            : null;

    private static AudioFacts FactsOf(TrackSpan span) => new(FileKind.Wav, "disc", DiscFormat, span.Frames, IsLossless: true, 1411);

    private static TagSet TagsOf(DiscRow disc, int number) =>
        number == RipStore.WholeDisc ? disc.ReadAlbum().TagsOfWhole(disc.ReadContents()) : disc.ReadAlbum().TagsOf(number, disc.ReadContents());

    private static string PathFor(TagSet tags, Target target, bool severalTargets) =>
        (severalTargets ? SafeFileName.From(target.Name) + "/" : "") + TrackPath.For(tags, target.Extension);
}
