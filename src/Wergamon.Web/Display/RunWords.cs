using Wergamon.App.Bench;
using Wergamon.App.Convert;
using Wergamon.App.Deliver;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Tags;

namespace Wergamon.Web.Display;

/// <summary>Runs in words, the same in the pill, the drawer, on pages and in messages.</summary>
internal static class RunWords
{
    /// <summary>What a run makes, in the singular.</summary>
    public static string Thing(RunRow run) => run.Kind is ConvertHandler.ItemKind or MusicHandler.ItemKind or NullTestHandler.ItemKind ? "track" : run.Kind == AudioDiscs.RunKind ? "step" : "file";

    public static string Doing(RunRow run) => run.Kind switch
    {
        RipStore.RunKind => "Ripping",
        DiscRenames.RunKind => "Writing names",
        TagRuns.RunKind => "Writing tags",
        TagRuns.UndoKind => "Undoing tags",
        MirrorFileHandler.RunKind => "Updating",
        MusicHandler.ItemKind => "Analysing",
        NullTestHandler.ItemKind => "Comparing",
        PassHandler.ItemKind => "Encoding",
        InspectHandler.ItemKind => "Checking",
        AudioDiscs.RunKind or DataDiscs.RunKind => "Burning",
        JoinedFiles.RunKind => "Joining",
        _ => "Converting",
    };

    /// <summary>"6 tracks for Pocket player"</summary>
    public static string Summary(RunRow run) => run.Kind switch
    {
        TagRuns.RunKind => $"Tags of {Words.Count(run.Results, Thing(run))}",
        TagRuns.UndoKind => $"Tags of {Words.Count(run.Results, Thing(run))}, undone",
        MusicHandler.ItemKind => $"Tempo and key of {Words.Count(run.Results, Thing(run))}",
        NullTestHandler.ItemKind => $"{run.Purpose} compared",
        InspectHandler.ItemKind => $"{Words.Count(run.Results, Thing(run))} checked",
        PassHandler.ItemKind => $"{run.Purpose} with {Words.Count(run.Results, "target")}",
        AudioDiscs.RunKind => run.OutputFolder is null ? $"Audio disc in {run.Purpose}" : "Image of an audio disc",
        JoinedFiles.RunKind => $"One file for {run.Purpose}",
        DataDiscs.RunKind => run.OutputFolder is null ? $"Data disc in {run.Purpose}" : "Image of a data disc",
        _ => $"{Words.Count(run.Results, Thing(run))} for {run.Purpose}",
    };

    public static string Outcome(RunRow run) => run.Failed == 0 ? $"{run.Done} {Did(run)}" : $"{run.Done} {Did(run)}, {run.Failed} failed";

    /// <summary>Time remaining, or why it is not known.</summary>
    public static string Remaining(RunView view) => view.Run.State == RunState.Stopped ? "stopped" : view.Remaining is { } remaining ? Words.Time(remaining) : "…";

    /// <summary>Message at the end of a run.</summary>
    /// <param name="unproved">Tracks of a disc that were read but are not proved.</param>
    public static string Ended(RunRow run, int unproved) => run switch
    {
        { Failed: 0, Kind: NullTestHandler.ItemKind or PassHandler.ItemKind or InspectHandler.ItemKind } => $"{run.Title}: {Summary(run)}",
        { Failed: > 0 } => $"{run.Title}: {Outcome(run)}",
        { Kind: RipStore.RunKind } => $"{run.Title}: {Summary(run)}, {(unproved == 0 ? "all proved" : $"{Words.Count(unproved, "track")} of the disc not proved")}",
        _ => $"{run.Title}: {Summary(run)}, all {Did(run)}",
    };

    public static string Did(RunRow run) => run.Kind switch
    {
        DiscRenames.RunKind => "renamed",
        TagRuns.RunKind => "written",
        TagRuns.UndoKind => "undone",
        MirrorFileHandler.RunKind => "updated",
        MusicHandler.ItemKind => "analysed",
        NullTestHandler.ItemKind or PassHandler.ItemKind => "compared",
        InspectHandler.ItemKind => "checked",
        AudioDiscs.RunKind or DataDiscs.RunKind => run.OutputFolder is null ? "burned" : "written",
        _ => "proved",
    };
}
