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
public sealed record PlanNote(PlanWarning Warning, string Text)
{
    /// <summary>True for what a person should look at before the run; the others tell what is done.</summary>
    public bool IsWarning => Warning is not (PlanWarning.TagsFromFileName or PlanWarning.Lowered);
}

/// <summary>One track to be planned: its master copy and what is known of it.</summary>
/// <param name="Id">The track's number in the library; 0 for a file that is not in it.</param>
/// <param name="FileBytes">Size of the source file now.</param>
/// <param name="Tags">The text fields that its name is made of.</param>
/// <param name="Contents">What the copy's tags will hold, as far as its format can.</param>
/// <param name="TagsFromName">Number of fields taken from the file's name for lack of tags.</param>
public sealed record PlanSource(
    long Id, AudioFacts Facts, Fidelity Fidelity, long FileBytes, TagSet Tags, TagContents Contents, int TagsFromName)
{
    /// <summary>Null before its analysis.</summary>
    public KnownSound? Known { get; init; }

    /// <summary>The source file.</summary>
    public string Path { get; init; } = "";

    /// <summary>The folder below which its place counts for <see cref="OutputPlace.SourceTree"/>; null for its own.</summary>
    public string? Root { get; init; }

    /// <summary>Milliseconds since 1970.</summary>
    public long ModifiedAt { get; init; }

    /// <summary>Lossy encodings that it has been through.</summary>
    public int Generation { get; init; }

    public TrackException? Exception { get; init; }

    /// <summary>Null for the source as it is.</summary>
    public SourceSpan? Span { get; init; }
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
