using System.Diagnostics;
using System.Security.Cryptography;
using System.Text;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>
/// Somebody who takes files and folders away at random, puts a link that leads out, or a pipe, in their place for a moment, and puts them
/// back. What the links lead to belongs to a stranger.
/// </summary>
internal sealed class Exchanger : IDisposable
{
    /// <summary>In every file of the stranger.</summary>
    public const string Secret = "SECRET-OF-SOMEBODY-ELSE";

    public static readonly EnumerationOptions WithoutLinks = new()
    {
        RecurseSubdirectories = true,
        AttributesToSkip = FileAttributes.ReparsePoint
    };

    private readonly TemporaryFolder _outside = new();
    private readonly TemporaryFolder _inside;
    private readonly string[] _folders;
    private readonly Random _random;
    private readonly string _before;

    /// <param name="folders">Names of the folders in <paramref name="inside"/> that are exchanged, with all that is in them.</param>
    public Exchanger(TemporaryFolder inside, string[] folders, int seed)
    {
        (_inside, _folders, _random) = (inside, folders, new Random(seed));
        Directory.CreateDirectory(_outside["Night"]);
        foreach (var path in (string[])["secret.wav", "Night/001 secret.wav", "Night/002 secret.mp3"])
        {
            PoisonFile.Write(
                _outside[path], ("TIT2", PoisonFile.Text("Stranger")), ("TPE1", [3, .. Encoding.UTF8.GetBytes(Secret)]),
                ("TALB", PoisonFile.Text("Elsewhere")));
        }
        File.WriteAllText(_outside["Night.m3u8"], $"#EXTM3U\n#EXTINF:1,{Secret}\nsecret.wav\n");
        _before = Snapshot();
    }

    public void AssertUntouched() => Assert.Equal(_before, Snapshot());

    public void Exchange(CancellationToken end)
    {
        while (!end.IsCancellationRequested)
        {
            foreach (var path in Choose())
                Exchange(path);
            Thread.Sleep(_random.Next(10));
        }
    }

    public void Dispose() => _outside.Dispose();

    private void Exchange(string path)
    {
        var kept = _inside[$"kept-{_random.Next()}"];
        try
        {
            bool isFolder = Directory.Exists(path);
            Move(path, kept);
            if (isFolder)
                Directory.CreateSymbolicLink(path, _random.Next(2) == 0 ? _outside.Path : _outside["Night"]);
            else if (_random.Next(3) == 0)
                MakePipe(path);
            else
                File.CreateSymbolicLink(path, _outside[_random.Next(2) == 0 ? "secret.wav" : "Night.m3u8"]);
            Thread.Sleep(_random.Next(30));
            if (new FileInfo(path).LinkTarget is not null || File.Exists(path))
                File.Delete(path);
            Move(kept, path);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // A run was quicker. Put the file back if its name is still free; otherwise keep it aside.
            if (Path.Exists(kept) && !Path.Exists(path))
                Try(() => Move(kept, path));
        }
    }

    private List<string> Choose()
    {
        var candidates = new List<string>();
        foreach (var folder in _folders)
        {
            candidates.Add(_inside[folder]);
            Try(() => candidates.AddRange(Directory.EnumerateFileSystemEntries(_inside[folder], "*", WithoutLinks)));
        }

        return [.. candidates.OrderBy(_ => _random.Next()).Take(3)];
    }

    private static void Move(string from, string to)
    {
        if (Directory.Exists(from))
            Directory.Move(from, to);
        else
            File.Move(from, to);
    }

    private static void MakePipe(string path)
    {
        using var process = Process.Start("mkfifo", [path]);
        process.WaitForExit();
    }

    private static void Try(Action step)
    {
        try
        {
            step();
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Changed meanwhile.
        }
    }

    private string Snapshot() => string.Join(
        '\n',
        Directory.EnumerateFileSystemEntries(_outside.Path, "*", SearchOption.AllDirectories)
            .Order(StringComparer.Ordinal)
            .Select(Describe));

    private static string Describe(string path) => Directory.Exists(path)
        ? path
        : $"{path} {System.Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(path)))} {File.GetLastWriteTimeUtc(path):O}";
}
