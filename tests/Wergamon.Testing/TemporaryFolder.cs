using System.Diagnostics;

namespace Wergamon.Testing;

/// <summary>A folder that is gone when the test is over.</summary>
public sealed class TemporaryFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("wergamon-test-").FullName;

    public string this[string name] => System.IO.Path.Combine(Path, name);

    public void Dispose()
    {
        // Not by .NET, which cannot name files whose names are no valid text.
        using var remove = Process.Start("rm", ["-rf", Path]);
        remove.WaitForExit();
    }
}
