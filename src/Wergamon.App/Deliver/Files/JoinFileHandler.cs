using Wergamon.App.Copies;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Deliver.Files;

/// <summary>A long file to be made of tracks that are ready.</summary>
/// <param name="Format">What all tracks were brought to.</param>
/// <param name="Copy">The file itself.</param>
public sealed record JoinFileSpec(
    string Title, IReadOnlyList<ListedTrack> Tracks, JoinedSettings Settings, PcmFormat Format, CopySpec Copy);

/// <summary>Joins tracks that are ready to one file: encoded and proved as any copy, with chapters, and a cue sheet beside it.</summary>
public sealed class JoinFileHandler(CopyMaker maker, RunStore runs, DeliverySpool spool, Placement placement)
    : ItemHandler<JoinFileSpec>(ItemKind)
{
    public static readonly ItemKind<JoinFileSpec, CopyResult> ItemKind = new(
        CopyItemKind.Join, () => FilesJson.Default.JoinFileSpec, () => CopiesJson.Default.CopyResult);

    /// <summary>Of the sheet beside the file.</summary>
    internal const string SheetExtension = ".cue";

    /// <summary>Of the progress that is shown; encoding takes longer.</summary>
    private const double JoiningShare = 0.1;

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, JoinFileSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var (layout, format) = (LayoutOf(item.RunId, spec), spec.Format);
        var joined = Path.Combine(spool.FolderOf(item.RunId), "joined.wav");
        await DedicatedThread.RunAsync(() => Write(layout, format, index => Open(item.RunId, index), joined, context, cancellation))
            .ConfigureAwait(false);
        var route = RoutePlanner.Plan(JoinedFiles.FactsOf(format, layout.Frames), Fidelity.Exact, spec.Copy.Target);
        var job = new ConvertJob(joined, format, route.StepsBeforeEncoding(), spec.Copy.Target.Encoder, "", FieldsOf(spec, layout), [])
        {
            TagOptions = new TagWriteOptions(spec.Copy.Target.Id3v2Version),
            Level = spec.Copy.Target.Level,
        };
        return WithSheet(
            await maker.MakeAsync(item, spec.Copy, job, origin: null, context, cancellation).ConfigureAwait(false), spec, layout);
    }

    protected override async Task<ItemOutcome?> RecoverAsync(RunItemRow item, JoinFileSpec spec, CancellationToken cancellation)
    {
        return await maker.RecoverAsync(item, spec.Copy, origin: null).ConfigureAwait(false) is { } outcome
            ? WithSheet(outcome, spec, LayoutOf(item.RunId, spec))
            : null;
    }

    protected override ItemDescription Describe(RunItemRow item, JoinFileSpec spec) =>
        CopyMaker.Describe(item, spec.Copy, "Nothing was written; the originals are unchanged.");

    private WavReader Open(long runId, int index) => new(PlainFile.OpenRead(spool.PathOf(runId, index)));

    private JoinLayout LayoutOf(long runId, JoinFileSpec spec)
    {
        var ready = runs.Items(runId).Where(PrepareTrackHandler.ItemKind.Is).OrderBy(other => other.Position);
        return JoinLayout.Of(
            [.. ready.Select(other => PrepareTrackHandler.ItemKind.ResultOf(other)!.Frames)], spec.Settings.RulesAt(spec.Format.Rate));
    }

    /// <returns>The frames that were written.</returns>
    private static long Write(
        JoinLayout layout, PcmFormat format, Func<int, IPcmReader> open, string path, ItemContext context, CancellationToken cancellation)
    {
        using var writer = new WavWriter(PlainFile.Open(path, FileMode.Create, FileAccess.ReadWrite), format, layout.Frames);
        var block = new SampleBuffer(format);
        long done = 0;
        foreach (var piece in layout.Pieces)
        {
            using var reader = JoinLayout.Open(piece, format, open);
            while (reader.Read(block) is > 0 and var frames)
            {
                cancellation.ThrowIfCancellationRequested();
                writer.Write(block);
                done += frames;
                context.Report(JoiningShare * done / layout.Frames, "Joining");
            }
        }

        writer.Complete();
        return done;
    }

    private static List<JobField> FieldsOf(JoinFileSpec spec, JoinLayout layout)
    {
        var fields = new List<JobField>
        {
            new(FieldNames.Title, [spec.Title]),
            new(
                FieldNames.Chapters,
                [
                    .. layout.Starts.Zip(spec.Tracks)
                        .Select(
                            pair =>
                                new ChapterMark(
                                    TimeSpan.FromMilliseconds(Math.Round(spec.Format.Duration(pair.First).TotalMilliseconds)),
                                    WordsOf(pair.Second)).ToString())
                ]),
        };
        if (spec.Settings.Artist.Length > 0)
            fields.Add(new(FieldNames.Artist, [spec.Settings.Artist]));
        return fields;
    }

    private static string WordsOf(ListedTrack track) => track.Artist.Length > 0 ? $"{track.Artist} - {track.Title}" : track.Title;

    /// <summary>A cue sheet has 99 tracks at most (IEC 60908); chapters have no such limit.</summary>
    private ItemOutcome WithSheet(ItemOutcome outcome, JoinFileSpec spec, JoinLayout layout)
    {
        if (CopyResult.Of(outcome) is not { } made || spec.Tracks.Count > AudioDisc.MaxTracks)
            return outcome;
        var sheet = new CueSheet
        {
            Title = spec.Title,
            Performer = spec.Settings.Artist.Length > 0 ? spec.Settings.Artist : null,
            // WAVE is used for any file of sound (common practice, no source).
            Files = [new CueFile(Path.GetFileName(made.Path), "WAVE")],
            Tracks =
            [
                .. spec.Tracks.Select((track, i) => new CueTrack(i + 1, CueTrack.Audio)
                {
                    Title = track.Title,
                    Performer = track.Artist.Length > 0 ? track.Artist : null,
                    Indexes = [new CueIndex(1, 0, new Msf((int)(layout.Starts[i] * AudioDisc.SectorsPerSecond / spec.Format.Rate.Hertz)))],
                }),
            ],
        };
        placement.WriteCompanion(Path.ChangeExtension(made.Path, SheetExtension), CueSheetWriter.WriteBytes(sheet));
        return outcome;
    }
}
