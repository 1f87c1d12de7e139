using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>A picture that a copy holds.</summary>
public sealed record CopyPicture
{
    public PictureKind Kind { get; init; }

    public string Description { get; init; } = "";

    public string Hash { get; init; } = "";

    public string MimeType { get; init; } = "";

    /// <summary>In pixels; null if the picture does not say.</summary>
    public int? Width { get; init; }

    public int? Height { get; init; }

    public long Bytes { get; init; }
}
