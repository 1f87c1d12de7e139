using Wergamon.App.Files;
using Wergamon.Core.Formats;
using Wergamon.Core.Tags;

namespace Wergamon.App.Library.Scan;

/// <summary>All that was found out about one file: either its facts or why it cannot be read.</summary>
internal sealed record ScannedFile(string Path, FileStamp Stamp)
{
    public AudioFacts? Facts { get; init; }

    public TagSet Tags { get; init; } = new();

    /// <summary>The pictures with the SHA-256 of each, in the order of the tags.</summary>
    public IReadOnlyList<(Picture Picture, string Hash)> Pictures { get; init; } = [];

    /// <summary>Names of the fields that the file's name gave, for lack of tags.</summary>
    public IReadOnlyList<string> FieldsFromName { get; init; } = [];

    /// <summary>A picture in the folder, for a file without one of its own.</summary>
    public string? FolderCoverPath { get; init; }

    public string? Unreadable { get; init; }

    /// <summary>Damage of header and tags, while the facts are still to come.</summary>
    public IReadOnlyList<string> Damage { get; init; } = [];

    /// <summary>True while only a decoder can tell the facts.</summary>
    public bool NeedsDecoder => Facts is null && Unreadable is null;
}
