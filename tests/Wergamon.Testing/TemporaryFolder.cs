namespace Wergamon.Testing;

/// <summary>A folder that is gone when the test is over.</summary>
public sealed class TemporaryFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("wergamon-test-").FullName;

    public string this[string name] => System.IO.Path.Combine(Path, name);

    public void Dispose()
    {
        if (Directory.Exists(Path))
            Directory.Delete(Path, recursive: true);
    }
}
