namespace Wergamon.Testing;

/// <summary>Folders with all that is in them.</summary>
public static class FileTree
{
    /// <summary>Copies a folder; files of the same names are replaced.</summary>
    /// <returns>The folder copied to.</returns>
    public static string Copy(string from, string to)
    {
        foreach (var file in Directory.EnumerateFiles(from, "*", SearchOption.AllDirectories))
        {
            var copy = Path.Combine(to, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
            File.Copy(file, copy, overwrite: true);
        }

        return to;
    }

    /// <summary>Copies parts of the demo music.</summary>
    /// <param name="parts">Names of folders right below that of the demo music.</param>
    /// <returns>The folder copied to.</returns>
    public static string CopyDemoMusic(string to, params IEnumerable<string> parts)
    {
        foreach (var part in parts)
            Copy(Path.Combine(WebServer.DemoMusic, part), Path.Combine(to, part));
        return to;
    }
}
