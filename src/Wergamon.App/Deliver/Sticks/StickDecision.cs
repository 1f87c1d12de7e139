using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>What the person says of one change.</summary>
/// <param name="Key">Of the file.</param>
/// <param name="What">A field of its tags, or one of the constants.</param>
/// <param name="TakesThere">True for what the device says, false for what the library says.</param>
public sealed record StickDecision(SyncKey Key, string What, bool TakesThere)
{
    /// <summary>The file as a whole.</summary>
    public const string File = "file";

    /// <summary>The order of a playlist.</summary>
    public const string Order = "order";

    /// <summary>That a file was deleted.</summary>
    public const string Deletion = "deletion";

    private const char Separator = ':';

    /// <summary>As forms send it.</summary>
    public override string ToString() => $"{(TakesThere ? "there" : "here")}{Separator}{Key}{Separator}{What}";

    /// <summary>Null for anything else.</summary>
    public static StickDecision? Read(string? text) =>
        text?.Split(Separator) is ["there" or "here", var file, { Length: > 0 } what] parts && SyncKey.TryParse(file) is { } key
            ? new StickDecision(key, what, parts[0] == "there")
            : null;
}
