namespace Wergamon.FileSystem;

/// <summary>What the file system tells of a file.</summary>
/// <param name="Length">In bytes.</param>
/// <param name="Number">Inode, on the device.</param>
/// <param name="Mode">Permission bits.</param>
public readonly record struct FileLook(
    FileKind Kind, long Length, DateTime ModifiedUtc, ulong Number, (uint Major, uint Minor) Device, int Mode)
{
    public bool IsRegular => Kind == FileKind.Regular;

    public bool IsFolder => Kind == FileKind.Folder;
}
