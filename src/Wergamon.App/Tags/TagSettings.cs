namespace Wergamon.App.Tags;

/// <summary>How tags are written; the person's choice for all files.</summary>
/// <param name="Id3v2Version">3 or 4; null for the version that each file has.</param>
/// <param name="KeepsTime">True if files keep their time of modification.</param>
public sealed record TagSettings(int? Id3v2Version = null, bool KeepsTime = false)
{
    public const string Key = "tags";
}
