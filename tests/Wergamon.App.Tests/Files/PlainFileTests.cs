using System.Diagnostics;
using System.Text;
using Wergamon.FileSystem;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>
/// The one way to files: no link, pipe or device in the way of a path leads anywhere, neither by openat2 nor by parts of the path.
/// </summary>
[Collection(nameof(PlainFileTests))]
[CollectionDefinition(nameof(PlainFileTests), DisableParallelization = true)]
public sealed class PlainFileTests : IDisposable
{
    private static readonly TimeSpan Limit = TimeSpan.FromMinutes(1);

    private readonly TemporaryFolder _folder = new();

    public PlainFileTests()
    {
        Directory.CreateDirectory(_folder["outside/inner"]);
        File.WriteAllText(_folder["outside/secret.txt"], "secret");
        File.WriteAllText(_folder["outside/inner/secret.txt"], "secret");
        Directory.CreateDirectory(_folder["base"]);
        File.WriteAllText(_folder["base/own.txt"], "own");
    }

    public void Dispose()
    {
        Libc.UseWalk(false);
        _folder.Dispose();
    }

    /// <summary>What can lie at base/trap, or on the way to it.</summary>
    private static readonly (string Name, Action<TemporaryFolder> Lay, string Path)[] Traps =
    [
        ("link to a file", folder => File.CreateSymbolicLink(folder["base/trap"], folder["outside/secret.txt"]), "base/trap"),
        ("relative link to a file", folder => File.CreateSymbolicLink(folder["base/trap"], "../outside/secret.txt"), "base/trap"),
        ("link to a folder on the way", folder => Directory.CreateSymbolicLink(folder["base/way"], folder["outside"]),
            "base/way/secret.txt"),
        ("link further up", folder => Directory.CreateSymbolicLink(folder["base/way"], folder["outside"]), "base/way/inner/secret.txt"),
        ("link to a link",
            folder =>
            {
                File.CreateSymbolicLink(folder["base/first"], folder["outside/secret.txt"]);
                File.CreateSymbolicLink(folder["base/trap"], folder["base/first"]);
            },
            "base/trap"),
        ("link to itself", folder => File.CreateSymbolicLink(folder["base/trap"], folder["base/trap"]), "base/trap"),
        ("link to nothing", folder => File.CreateSymbolicLink(folder["base/trap"], folder["outside/new.txt"]), "base/trap"),
        ("link to the root", folder => Directory.CreateSymbolicLink(folder["base/way"], "/"), "base/way/etc/hostname"),
        ("link inside the base", folder => File.CreateSymbolicLink(folder["base/trap"], folder["base/own.txt"]), "base/trap"),
        ("pipe", folder => Run("mkfifo", folder["base/trap"]), "base/trap"),
        ("link to a device", folder => File.CreateSymbolicLink(folder["base/trap"], "/dev/zero"), "base/trap"),
        ("link to a process", folder => File.CreateSymbolicLink(folder["base/trap"], "/proc/self/environ"), "base/trap"),
        ("folder", folder => Directory.CreateDirectory(folder["base/trap"]), "base/trap"),
    ];

    /// <summary>Everything that is done with a path. None may read, change, make or remove anything behind a trap.</summary>
    private static readonly (string Name, Action<string> Do)[] Uses =
    [
        ("read", path => PlainFile.OpenRead(path).Dispose()),
        ("read whole", path => PlainFile.ReadAll(path, 100)),
        ("write in place", path => PlainFile.Open(path, FileMode.Open, FileAccess.ReadWrite).Dispose()),
        ("write over", path => PlainFile.Write(path, "changed"u8)),
        ("make", path => PlainFile.Open(path, FileMode.CreateNew, FileAccess.Write).Dispose()),
        ("make or open", path => PlainFile.Open(path, FileMode.OpenOrCreate, FileAccess.Write, isExclusive: true).Dispose()),
        ("read past the cache", path => PlainFile.OpenHandle(path, FileMode.Open, FileAccess.Read, isUncached: true).Dispose()),
        ("set the time", path => PlainFile.SetModified(path, DateTime.UnixEpoch)),
        ("move there",
            path =>
            {
                var from = Path.Combine(Path.GetTempPath(), Guid.NewGuid().ToString("N")); File.WriteAllText(from, "moved");
                try { PlainFile.Move(from, path); } finally { File.Delete(from); }
            }),
        ("make a folder below", path => PlainFolder.Create(Path.Combine(path, "a/b"))),
        ("list", path => PlainFolder.Files(path, isDeep: true).ToList()),
        ("remove an empty folder", path => PlainFolder.Remove(path + "/inner")),
        ("remove with all in it", path => PlainFolder.RemoveTree(path + "/inner")),
    ];

    public static TheoryData<string, bool> Cases()
    {
        var cases = new TheoryData<string, bool>();
        foreach (var (name, _, _) in Traps)
        {
            cases.Add(name, false);
            cases.Add(name, true);
        }

        return cases;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public async Task Nothing_behind_a_trap_is_reached(string trap, bool byWalk)
    {
        Libc.UseWalk(byWalk);
        var (_, lay, relative) = Traps.Single(each => each.Name == trap);
        lay(_folder);
        var path = _folder[relative];
        var before = Snapshot();
        Assert.False(PlainFile.Exists(path));
        Assert.Equal(0, PlainFile.Length(path));
        foreach (var (name, use) in Uses)
        {
            bool isOfFolders = trap == "folder"
                && name is "list" or "make a folder below" or "remove an empty folder" or "remove with all in it";
            var attempt = Task.Run(() => Record.Exception(() => use(path)));
            var failure = await attempt.WaitAsync(Limit);
            Assert.True(
                isOfFolders || failure is IOException or UnauthorizedAccessException || name.StartsWith("remove", StringComparison.Ordinal),
                $"{name}: {failure?.GetType().Name ?? "done"}");
            if (trap == "folder" && Directory.Exists(Path.Combine(path, "a")))
                Directory.Delete(Path.Combine(path, "a"), recursive: true);
            Assert.Equal((name, before), (name, Snapshot()));
        }

        // A trap itself can go away, and only it does.
        if (relative == "base/trap" && trap != "folder")
        {
            PlainFile.Delete(path);
            Assert.False(PlainFile.IsTaken(path));
            Assert.Equal("secret", File.ReadAllText(_folder["outside/secret.txt"]));
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Files_are_made_moved_listed_and_removed(bool byWalk)
    {
        Libc.UseWalk(byWalk);
        var at = _folder["base/Álbum/Disc 1"];
        PlainFolder.Create(at);
        PlainFolder.Create(at);
        var file = Path.Combine(at, "01 Адит 灯.flac");
        PlainFile.Write(file, "one"u8);
        Assert.Equal("one"u8.ToArray(), PlainFile.ReadAll(file, 3));
        Assert.Throws<IOException>(() => PlainFile.ReadAll(file, 2));
        Assert.Throws<IOException>(() => PlainFile.Open(file, FileMode.CreateNew, FileAccess.Write));
        var time = new DateTime(2021, 6, 24, 22, 0, 0, DateTimeKind.Utc);
        PlainFile.SetModified(file, time);
        Assert.Equal((3, time), (PlainFile.Length(file), PlainFile.ModifiedUtc(file)));
        var moved = Path.Combine(at, "02.flac");
        PlainFile.Write(moved, "two"u8);
        Assert.Throws<IOException>(() => PlainFile.Move(file, moved));
        PlainFile.Move(file, moved, overwrite: true);
        Assert.Equal("one", File.ReadAllText(moved));
        File.CreateSymbolicLink(Path.Combine(at, "link.flac"), moved);
        Directory.CreateSymbolicLink(Path.Combine(at, "up"), "..");
        PlainFile.Write(Path.Combine(at, ".hidden"), ""u8);
        Assert.Equal([moved], PlainFolder.Files(_folder["base"], "*.FLAC", isDeep: true));
        Assert.Equal([_folder["base/Álbum"]], PlainFolder.Folders(_folder["base"]));
        Assert.Equal(4, PlainFolder.Entries(at).Count);
        using (PlainFile.Open(moved, FileMode.Open, FileAccess.Read, isExclusive: true))
            Assert.Throws<IOException>(() => PlainFile.Open(moved, FileMode.Open, FileAccess.Read, isExclusive: true));
        Assert.Throws<IOException>(() => PlainFolder.Remove(at));
        Directory.CreateSymbolicLink(Path.Combine(at, "out"), _folder["outside"]);
        PlainFolder.RemoveTree(_folder["base/Álbum"]);
        Assert.False(Directory.Exists(_folder["base/Álbum"]));
        Assert.Equal("secret", File.ReadAllText(_folder["outside/secret.txt"]));
        Assert.Throws<FileNotFoundException>(() => PlainFile.OpenRead(file));
        PlainFile.Delete(file);
        foreach (var bad in (string[])["", "relative", _folder["base/../outside/secret.txt"], _folder["base/a\0b"]])
        {
            Assert.False(PlainFile.Exists(bad));
            Assert.ThrowsAny<IOException>(() => PlainFile.OpenRead(bad));
        }
    }

    private string Snapshot() => string.Join(
        '\n',
        Directory.EnumerateFileSystemEntries(
            _folder.Path, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = FileAttributes.ReparsePoint })
            .Order(StringComparer.Ordinal)
            .Select(path => Directory.Exists(path) ? path : $"{path} {TextOf(path)} {File.GetLastWriteTimeUtc(path).Ticks}"));

    private static string TextOf(string path) =>
        new FileInfo(path) is { Attributes: var kind, Length: > 0 } && (kind & FileAttributes.Normal) != 0 ? File.ReadAllText(path) : "";

    private static void Run(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { StandardErrorEncoding = Encoding.UTF8, RedirectStandardError = true })!;
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
    }
}
