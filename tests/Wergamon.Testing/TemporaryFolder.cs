using System.Diagnostics;

namespace Wergamon.Testing;

/// <summary>A folder that is removed after the test.</summary>
/// <param name="parent">Parent folder; the system's temporary folder when omitted.</param>
public sealed class TemporaryFolder(string? parent = null) : IDisposable
{
    public string Path { get; } = parent is null
        ? Directory.CreateTempSubdirectory("wergamon-test-").FullName
        : Directory.CreateDirectory(System.IO.Path.Combine(parent, "wergamon-test-" + System.IO.Path.GetRandomFileName())).FullName;

    public string this[string name] => System.IO.Path.Combine(Path, name);

    public void Dispose()
    {
        // Not by .NET, which cannot handle file names that are not valid text.
        using var remove = Process.Start("rm", ["-rf", Path]);
        remove.WaitForExit();
    }
}
