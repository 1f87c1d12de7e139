namespace Wergamon.App.Files;

/// <summary>The files of a folder of the person and of the folders in it.</summary>
internal static class FolderTree
{
    /// <summary>Links are skipped, files and folders alike, so that nothing outside is met and nothing twice; so is what is hidden or cannot be opened.</summary>
    public static IEnumerable<FileInfo> FilesBelow(string path) => new DirectoryInfo(path).EnumerateFiles(
        "*", new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true, AttributesToSkip = FileAttributes.Hidden | FileAttributes.ReparsePoint });
}
