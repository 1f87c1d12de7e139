using System.Diagnostics;

namespace Wergamon.Testing;

/// <summary>A folder that is gone when the test is over.</summary>
/// <param name="parent">Where it is made; the system's place for such folders when it is left out.</param>
public sealed class TemporaryFolder(string? parent = null) : IDisposable
{
    public string Path { get; } = parent is null
        ? Directory.CreateTempSubdirectory("wergamon-test-").FullName
        : Directory.CreateDirectory(System.IO.Path.Combine(parent, "wergamon-test-" + System.IO.Path.GetRandomFileName())).FullName;

    public string this[string name] => System.IO.Path.Combine(Path, name);

    public void Dispose()
    {
        // Not by .NET, which cannot name files whose names are no valid text.
        using var remove = Process.Start("rm", ["-rf", Path]);
        remove.WaitForExit();
    }
}
