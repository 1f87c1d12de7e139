using System.Diagnostics;
using System.Globalization;

namespace Wergamon.Testing;

/// <summary>A file system of a few megabytes in memory. Only root may mount one.</summary>
public sealed class SmallDisk : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    /// <param name="bytes">Its size.</param>
    public SmallDisk(long bytes) =>
        Run("mount", "-t", "tmpfs", "-o", "size=" + bytes.ToString(CultureInfo.InvariantCulture), "tmpfs", Path);

    public static bool CanBeMade => Environment.IsPrivilegedProcess;

    public string Path => _folder.Path;

    private string Filler => System.IO.Path.Combine(Path, "filler");

    /// <summary>Fills the remaining space.</summary>
    public void Fill()
    {
        using var file = new FileStream(Filler, FileMode.Append, FileAccess.Write, FileShare.None, bufferSize: 0);
        var block = new byte[4096];
        try
        {
            while (true)
                file.Write(block);
        }
        catch (IOException)
        {
            // Full.
        }
    }

    /// <summary>Gives back what <see cref="Fill"/> took.</summary>
    public void Free() => File.Delete(Filler);

    public void Dispose()
    {
        Run("umount", "-l", Path);
        _folder.Dispose();
    }

    private static void Run(string program, params string[] arguments)
    {
        using var process = Process.Start(program, arguments);
        process.WaitForExit();
        if (process.ExitCode != 0)
            throw new InvalidOperationException($"{program} {string.Join(' ', arguments)} ended with {process.ExitCode}.");
    }
}
