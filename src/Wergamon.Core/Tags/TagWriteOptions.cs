namespace Wergamon.Core.Tags;

/// <summary>How tags are written.</summary>
/// <param name="Id3v2Version">3 or 4; null for the version that the file has, 3 where it has none.</param>
public sealed record TagWriteOptions(int? Id3v2Version = null)
{
    public static TagWriteOptions Usual { get; } = new();
}
