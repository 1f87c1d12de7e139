using System.Globalization;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Sets;

/// <summary>Analyses the music of copies: tempo, key and what their energy is made of.</summary>
public sealed class MusicHandler(WorkerPool workers, LibraryQueries library, AllowedPaths allowed, Database database) : IItemHandler
{
    /// <summary>Names the items, and the runs that they make up.</summary>
    public const string ItemKind = "music";

    public string Kind => ItemKind;

    public async Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        var spec = MusicSpec.Of(item);
        if (library.Copy(spec.CopyId) is not { IsMissing: false } copy || !allowed.MayRead(copy.Path))
            return ItemOutcome.Skipped("This file is missing or in the trash.");
        var stamp = FileStamp.Of(new FileInfo(copy.Path));
        var reply = await workers.RunAsync(
            new MusicJob(copy.Path), WorkerPriority.AskedFor, progress => context.Report(progress.Total > 0 ? Math.Min(1, (double)progress.Done / progress.Total) : 0), cancellation).ConfigureAwait(false);
        var analysis = (reply as MusicReply)?.Analysis;
        if (analysis is null && reply.Failure is null)
            throw new OperationCanceledException(cancellation);
        if (stamp != FileStamp.Of(new FileInfo(copy.Path)))
            return ItemOutcome.Failed("The file changed while it was read. Scan its folder, then analyse it again.");
        database.Change(connection => MusicRows.Save(connection, copy.Id, analysis, reply.Failure));
        return analysis is null ? ItemOutcome.Failed(reply.Failure!) : ItemOutcome.Done(MusicResult.Of(analysis).ToJson());
    }

    public ItemDescription Describe(RunItemRow item) => new("Analysing", "Analysed")
    {
        CopyId = MusicSpec.Of(item).CopyId,
        Detail = MusicResult.Of(item) is { } found
            ? $"{(found.Tempo is { } tempo ? tempo.ToString("0.00", CultureInfo.InvariantCulture) + " BPM" : "no beat found")}, {found.Key ?? "no key found"}"
            : "",
        OnFailure = "Nothing was changed.",
    };
}
