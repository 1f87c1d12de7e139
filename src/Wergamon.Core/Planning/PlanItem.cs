using Wergamon.Core.Formats;

namespace Wergamon.Core.Planning;

public enum PlanWarning
{
    LossyToLossy,
    LossyToLossless,
    TagsHeldBadly,
    NameExists,
    TagsNotHeld,
    TagsFromFileName,
    SourceDamaged,
    NothingGained,
    MayClip,
    Lowered,
}

/// <summary>A warning with its words for the person.</summary>
public sealed record PlanNote(PlanWarning Warning, string Text)
{
    /// <summary>True for what a person should look at before the run; the others tell what is done.</summary>
    public bool IsWarning => Warning is not (PlanWarning.TagsFromFileName or PlanWarning.Lowered);
}

/// <summary>What will happen to one track.</summary>
/// <param name="Target">The target, with the exception of the track.</param>
/// <param name="Folder">Where the copy goes; <paramref name="RelativePath"/> is below it.</param>
/// <param name="RelativePath">With '/' between its parts.</param>
/// <param name="IsSkipped">True when its name is taken and the target says to skip.</param>
public sealed record PlanItem(
    PlanSource Source, Target Target, Route Route, SizeEstimate Size, string Folder, string RelativePath, bool IsSkipped,
    IReadOnlyList<PlanNote> Notes)
{
    /// <summary>Tags and pictures that the copy will hold.</summary>
    public int TagsKept { get; init; }

    public bool HasWarning => Notes.Any(note => note.IsWarning);
}
