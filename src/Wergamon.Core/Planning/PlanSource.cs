using Wergamon.Core.Formats;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Planning;

/// <summary>One track to be planned: its master copy and what is known of it.</summary>
/// <param name="Id">The track's number in the library; 0 for a file that is not in it.</param>
/// <param name="FileBytes">Size of the source file now.</param>
/// <param name="Tags">The text fields that its name is made of.</param>
/// <param name="Contents">What the copy's tags should hold, whether or not its format can.</param>
/// <param name="TagsFromName">Number of fields taken from the file's name for lack of tags.</param>
public sealed record PlanSource(
    long Id, AudioFacts Facts, Fidelity Fidelity, long FileBytes, TagSet Tags, TagContents Contents, int TagsFromName)
{
    /// <summary>Null before its analysis.</summary>
    public KnownSound? Known { get; init; }

    /// <summary>The source file.</summary>
    public string Path { get; init; } = "";

    /// <summary>The folder below which its place counts for <see cref="OutputLocation.SourceTree"/>; null for its own.</summary>
    public string? Root { get; init; }

    /// <summary>Milliseconds since 1970.</summary>
    public long ModifiedAt { get; init; }

    /// <summary>Lossy encodings that it has been through.</summary>
    public int Generation { get; init; }

    public TrackException? Exception { get; init; }

    /// <summary>Null for the source as it is.</summary>
    public SourceSpan? Span { get; init; }
}
