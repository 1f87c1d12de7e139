namespace Wergamon.App.Tags;

/// <summary>A file whose tags are written.</summary>
/// <param name="Path">Where it is now.</param>
/// <param name="OldPath">Its path before the item that writes.</param>
internal sealed record EditedFile(string Path, string OldPath)
{
    public bool IsRenamed => Path != OldPath;
}
