using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>
/// Writes, moves and removes files of a stick. Each step is recorded before it is taken, so that an interruption at any moment leaves
/// only known files. Files that somebody else has written are never touched.
/// </summary>
public sealed class StickFileHandler(StickStore store, Placement placement, StickGuard gate, StickSpeeds speeds, TimeProvider time)
    : ItemHandler<StickFileSpec>(ItemKind), IDisposable
{
    public static readonly ItemKind<StickFileSpec, StickFileResult> ItemKind = new(
        "stick-file", () => StickRunsJson.Default.StickFileSpec, () => StickRunsJson.Default.StickFileResult);

    /// <summary>Of the progress; reading is the faster part.</summary>
    private const double WritingShare = 0.7;

    private readonly SemaphoreSlim _reading = new(1);

    public void Dispose() => _reading.Dispose();

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, StickFileSpec spec, ItemContext context, CancellationToken cancellation) => DedicatedThread.RunAsync(() =>
    {
        return StickGuard.Run(
            spec.Place, spec.Mark, spec.SourcePath is { } source && PlainFile.Exists(source) ? PlainFile.Length(source) : 0,
            () => spec.Action switch
        {
            StickAction.Write => Write(item, spec, context, cancellation),
            StickAction.Move => Move(spec),
            _ => Remove(spec),
        });
    });

    protected override ItemDescription Describe(RunItemRow item, StickFileSpec spec)
    {
        var result = ItemKind.ResultOf(item);
        var (doing, outcome) = spec.Action switch
        {
            StickAction.Write => ("Copying", "Read back"),
            StickAction.Move => ("Moving", "Moved"),
            _ => ("Removing", "Removed"),
        };
        return new ItemDescription(doing, outcome)
        {
            Path = result?.Path ?? spec.To ?? spec.From,
            Detail = spec is { Action: StickAction.Move, From: { } from } ? $"was {from}" : "",
            BytesAfter = spec.Action == StickAction.Write ? result?.Bytes : null,
            OnFailure = "The files on the stick are unchanged.",
        };
    }

    private ItemOutcome Write(RunItemRow item, StickFileSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var (known, sound) = (Known(spec), StickStore.ReadSound(spec.Sound));
        if (known is not null && (known.File.Path, known.File.Sound, known.File.Tags) == (spec.To!, sound, spec.Tags)
            && StampAt(spec, spec.To!) == known.File.Stamp)
            return Done(spec, spec.To!, known.File.Stamp.Bytes);
        var there = known is null ? null : StampAt(spec, known.File.Path);
        if (there is not null && there != known!.File.Stamp)
            return ItemOutcome.Failed($"{known.File.Path} was changed on the stick in the meantime and was left there.");
        var replaced = there is null ? null : known;
        var wanted = Path.Combine(spec.Place, spec.To!);
        var file = placement.Begin(wanted, item.Id, spec.Place);
        try
        {
            using (var source = spec.Text is { } text
                ? new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text))
                : (Stream)PlainFile.Open(spec.SourcePath!, FileMode.Open, FileAccess.Read, bufferSize: 0))
                Copy(spec.StickId, source, file.TemporaryPath, context, cancellation);
            SetLastingTime(file.TemporaryPath);
            var stamp = StampAt(spec, Path.GetFileName(file.TemporaryPath))!.Value;
            store.Prepare(
                spec.StickId,
                new StickFile(
                    new WrittenFile(spec.Key, spec.To!, sound, spec.Tags, stamp, 0), spec.Notes, HeldBy(file.TemporaryPath, spec)));
            if (replaced?.File.Path == spec.To)
            {
                placement.Replace(file, wanted);
            }
            else if (!IsPublishedAs(file, wanted))
            {
                // The next comparison finds another name.
                placement.Discard(file);
                return ItemOutcome.Failed(
                    $"A file named {spec.To} appeared on the stick in the meantime and was left untouched. Update the stick again.");
            }

            bool leavesStray = replaced is not null && replaced.File.Path != spec.To;
            if (leavesStray)
                store.NoteStray(spec.StickId, replaced!.File.Path, replaced.File.Stamp);
            store.Commit(spec.StickId, spec.Key);
            placement.Settle(file);
            if (leavesStray)
            {
                Placement.Remove(Path.Combine(spec.Place, replaced!.File.Path));
                store.ForgetStray(spec.StickId, replaced.File.Path);
            }

            return Done(spec, spec.To!, stamp.Bytes);
        }
        catch
        {
            placement.Discard(file);
            throw;
        }
    }

    /// <summary>Copies and reads back. While that is read, the next file may be copied, but no further one.</summary>
    private void Copy(long stickId, Stream source, string path, ItemContext context, CancellationToken cancellation)
    {
        long begun = time.GetTimestamp();
        var hash = ProvedCopy.Write(source, path, share => context.Report(WritingShare * share), cancellation);
        var writing = time.GetElapsedTime(begun);
        _reading.Wait(cancellation);
        try
        {
            context.ReleaseLane();
            begun = time.GetTimestamp();
            ProvedCopy.Prove(path, hash, share => context.Report(WritingShare + (1 - WritingShare) * share, "Reading back"), cancellation);
            speeds.Note(stickId, source.Length, writing + time.GetElapsedTime(begun));
        }
        finally
        {
            _reading.Release();
        }
    }

    private ItemOutcome Move(StickFileSpec spec)
    {
        if (Known(spec) is not { } known)
            return ItemOutcome.Failed($"{spec.From} is no longer known on this stick. Update it again.");
        if (known.File.Path == spec.To)
            return Done(spec, spec.To!, known.File.Stamp.Bytes);
        if (StampAt(spec, known.File.Path) != known.File.Stamp)
            return ItemOutcome.Failed($"{known.File.Path} was changed or removed on the stick in the meantime. Update it again.");
        var path = placement.Move(
            Path.Combine(spec.Place, known.File.Path), Path.Combine(spec.Place, spec.To!),
            recordPlace: to =>
                store.Prepare(spec.StickId, known with { File = known.File with { Path = Path.GetRelativePath(spec.Place, to) } }));
        store.Commit(spec.StickId, spec.Key);
        Placement.RemoveEmptyFoldersAbove(Path.Combine(spec.Place, known.File.Path), spec.Place);
        return Done(spec, Path.GetRelativePath(spec.Place, path), known.File.Stamp.Bytes);
    }

    private ItemOutcome Remove(StickFileSpec spec)
    {
        if (Known(spec) is not { } known)
            return ItemKind.Done(new StickFileResult(null, 0));
        var there = StampAt(spec, known.File.Path);
        if (there is not null && there != known.File.Stamp)
            return ItemOutcome.Failed($"{known.File.Path} was changed on the stick in the meantime and was left there.");
        Placement.Remove(Path.Combine(spec.Place, known.File.Path));
        store.Forget(spec.StickId, spec.Key);
        Placement.RemoveEmptyFoldersAbove(Path.Combine(spec.Place, known.File.Path), spec.Place);
        return ItemKind.Done(new StickFileResult(null, 0));
    }

    /// <summary>Gives a file its name; false if that is taken.</summary>
    private bool IsPublishedAs(NewFile file, string wanted)
    {
        if (PlainFile.Exists(wanted))
            return false;
        var path = placement.Publish(file, wanted);
        if (path == wanted)
            return true;
        // The name was taken just now, and the file got another one.
        Placement.Remove(path);
        return false;
    }

    private StickFile? Known(StickFileSpec spec) => store.File(spec.StickId, spec.Key, path => StampAt(spec, path));

    private SyncStamp? StampAt(StickFileSpec spec, string path) => gate.StampAt(spec.StickId, spec.Place, path);

    private static ItemOutcome Done(StickFileSpec spec, string path, long bytes)
    {
        if (spec is { IsSourceTemporary: true, SourcePath: { } source })
            Placement.Remove(source);
        return ItemKind.Done(new StickFileResult(path, bytes));
    }

    /// <summary>Gives a file a time that every file system can store.</summary>
    private static void SetLastingTime(string path)
    {
        long time = StickClock.Lasting(new DateTimeOffset(PlainFile.ModifiedUtc(path)).ToUnixTimeMilliseconds());
        PlainFile.SetModified(path, DateTimeOffset.FromUnixTimeMilliseconds(time).UtcDateTime);
    }

    private static StickNotes HeldBy(string path, StickFileSpec spec)
    {
        if (spec.Text is not null)
            return StickNotes.None;
        try
        {
            using var stream = PlainFile.OpenRead(path);
            return StickNotes.Of(FileReading.ReadTags(stream).Tags);
        }
        catch (UnreadableAudioException)
        {
            return StickNotes.None;
        }
    }
}
