using Wergamon.Core.Formats;
using Wergamon.Core.Tags;

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
public sealed record PlanNote(PlanWarning Warning, string Text);

/// <summary>One track to be planned: its master copy and what is known of it.</summary>
/// <param name="Id">The track's number in the library.</param>
/// <param name="FileBytes">Size of the source file now.</param>
/// <param name="Tags">The text fields that its name is made of.</param>
/// <param name="Contents">What the copy's tags will hold, as far as its format can.</param>
/// <param name="TagsFromName">Number of fields taken from the file's name for lack of tags.</param>
public sealed record PlanSource(long Id, AudioFacts Facts, Fidelity Fidelity, long FileBytes, TagSet Tags, TagContents Contents, int TagsFromName)
{
    /// <summary>Null before its analysis.</summary>
    public KnownSound? Known { get; init; }
}

/// <summary>What will happen to one track.</summary>
/// <param name="RelativePath">Below the target's folder, with '/' between its parts.</param>
/// <param name="IsSkipped">True when its name is taken and the target says to skip.</param>
public sealed record PlanItem(PlanSource Source, Route Route, SizeEstimate Size, string RelativePath, bool IsSkipped, IReadOnlyList<PlanNote> Notes)
{
    public int TagsKept(Target target) => target.Format.Dialect.CountHeld(Planner.ContentsFor(Source, target));
}
