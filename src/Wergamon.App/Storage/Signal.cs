namespace Wergamon.App.Storage;

/// <summary>An event for open pages.</summary>
/// <param name="Kind">One of the constants.</param>
/// <param name="RunId">The run that ended.</param>
public sealed record Signal(string Kind, long? RunId = null)
{
    /// <summary>A run made progress.</summary>
    public const string Runs = "runs";

    /// <summary>A run ended.</summary>
    public const string Ended = "ended";

    /// <summary>A run ended a moment before the page was made, which shows it already: only the message appears.</summary>
    public const string EndedBefore = "ended-before";

    /// <summary>Music was added or changed.</summary>
    public const string Library = "library";

    /// <summary>A drive, or the disc in it.</summary>
    public const string Disc = "disc";

    /// <summary>The database can no longer be written, or can again.</summary>
    public const string Storage = "storage";
}
