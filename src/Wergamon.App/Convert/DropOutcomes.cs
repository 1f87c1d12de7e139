using System.Text;
using Microsoft.Extensions.Logging;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Removing;
using Wergamon.App.Runs;
using Wergamon.App.Storage;

namespace Wergamon.App.Convert;

/// <summary>
/// Handles the files of drop folders once their runs have ended: a converted original goes to the trash if the person wants
/// that, and a file that failed gets a note beside it.
/// </summary>
public sealed class DropOutcomes(
    DropFolderStore store, RunStore runs, Placement placement, Trash trash, Signals signals, ILogger<DropOutcomes> logger)
{
    private const string NoteEnding = ".not-converted.txt";

    /// <summary>Records for each file how its run has ended.</summary>
    internal void Settle(DropFolder folder, Dictionary<string, DropFile> known)
    {
        foreach (var group in known.Values.Where(file => file is { State: DropFile.Running, RunId: not null })
            .GroupBy(file => file.RunId!.Value))
        {
            if (runs.Get(group.Key) is { } run && run.State != RunState.Done)
                continue;
            var items = runs.Items(group.Key).Where(ConvertHandler.ItemKind.Is).ToDictionary(item => CopySpec.Of(item).Job!.SourcePath);
            store.Set(
                folder.Id,
                group.Select(file => file with { State = SettleFile(folder, file, items.GetValueOrDefault(file.Path)) }).ToList());
            signals.Send(new Signal(Signal.Runs));
        }
    }

    /// <summary>A folder that cannot be written to gets no notes; the page and the run say the same.</summary>
    public void Note(string path, string reason)
    {
        try
        {
            placement.WriteCompanion(path + NoteEnding, Encoding.UTF8.GetBytes(reason + Environment.NewLine), isNumbered: false);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning("No note could be written beside a file: {Reason}", failure.Message);
        }
    }

    private string SettleFile(DropFolder folder, DropFile file, RunItemRow? item)
    {
        if (item is not { State: ItemState.Done or ItemState.Skipped })
        {
            Note(file.Path, item?.Failure ?? "Its run is gone.");
            return DropFile.Failed;
        }

        try
        {
            placement.RemoveCompanion(file.Path + NoteEnding);
            if (folder.RemovesSources && file.MayGo && item.State == ItemState.Done && file.Fits(FileStamp.Of(file.Path)))
                trash.TakeFile(file.Path, "converted from a drop folder, and the copy proved");
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning("An original of a drop folder stays where it is: {Reason}", failure.Message);
        }

        return DropFile.Done;
    }
}
