using Dapper;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Files;
using Wergamon.App.Storage;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>Files are moved completely or not at all, on one file system and between two.</summary>
public sealed class PlacementTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();

    /// <summary>A second file system on every Linux machine: memory.</summary>
    private readonly string _elsewhere = Directory.CreateDirectory($"/dev/shm/wergamon-test-{Guid.NewGuid():N}").FullName;

    private readonly Database _database;
    private readonly Placement _placement;

    public PlacementTests()
    {
        var options = new AppOptions { DataFolder = _folder["data"], AllowedBases = [], WorkerPath = "" };
        _database = new Database(options, new DatabaseBackups(options, TimeProvider.System), new Signals(), TimeProvider.System);
        _placement = new Placement(_database, NullLogger<Placement>.Instance);
    }

    private string Source => _folder["track.flac"];

    public void Dispose()
    {
        Directory.Delete(_elsewhere, recursive: true);
        _folder.Dispose();
    }

    /// <summary>A sheet, report or note takes the place of an earlier one of ours, and of nothing else.</summary>
    [Fact]
    public void A_companion_replaces_only_what_was_written_here()
    {
        var sheet = _folder["Night.cue"];
        Assert.Equal(sheet, _placement.WriteCompanion(sheet, "one"u8));
        Assert.Equal(sheet, _placement.WriteCompanion(sheet, "two"u8));
        Assert.Equal("two", File.ReadAllText(sheet));
        File.WriteAllText(sheet, "changed by the person");
        Assert.Equal(_folder["Night (2).cue"], _placement.WriteCompanion(sheet, "three"u8));
        Assert.Equal(_folder["Night (2).cue"], _placement.WriteCompanion(sheet, "four"u8));
        Assert.Equal("changed by the person", File.ReadAllText(sheet));
        Assert.Equal(sheet, _placement.WriteCompanion(sheet, "five"u8, isNumbered: false));
        Assert.Equal("changed by the person", File.ReadAllText(sheet));
        _placement.RemoveCompanion(sheet);
        Assert.True(File.Exists(sheet));
        _placement.RemoveCompanion(_folder["Night (2).cue"]);
        Assert.False(File.Exists(_folder["Night (2).cue"]));
        Assert.Equal(0, JournalLines());
    }

    /// <summary>A file and its companion share one free name.</summary>
    [Fact]
    public void File_name_is_free_for_its_companion_too()
    {
        File.WriteAllText(_folder["Night.cue"], "somebody else's");
        var file = _placement.Begin(_folder["Night.bin"]);
        File.WriteAllText(file.TemporaryPath, "image");
        Assert.Equal(_folder["Night (2).bin"], _placement.Publish(file, _folder["Night.bin"], companion: ".cue"));
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_moved_file_arrives_complete_under_the_first_free_name(bool isElsewhere)
    {
        Assert.False(FileNumber.IsSameDevice(_folder.Path, _elsewhere));
        var target = Path.Combine(isElsewhere ? _elsewhere : _folder.Path, "Album", "01.flac");
        Directory.CreateDirectory(Path.GetDirectoryName(target)!);
        File.WriteAllText(target, "somebody else's");
        var bytes = WriteSource();
        var written = new DateTime(2020, 2, 3, 4, 5, 6, DateTimeKind.Utc);
        File.SetLastWriteTimeUtc(Source, written);

        var place = _placement.Move(Source, target);
        Assert.Equal(Path.Combine(Path.GetDirectoryName(target)!, "01 (2).flac"), place);
        Assert.Equal(bytes, File.ReadAllBytes(place));
        Assert.Equal(written, File.GetLastWriteTimeUtc(place));
        Assert.False(File.Exists(Source));
        Assert.Equal("somebody else's", File.ReadAllText(target));
        Assert.Equal(2, Directory.GetFiles(Path.GetDirectoryName(target)!, "*", new EnumerationOptions { AttributesToSkip = 0 }).Length);
        Assert.Equal(0, JournalLines());
    }

    [Fact]
    public void A_move_that_fails_leaves_the_file_where_it_was()
    {
        var bytes = WriteSource();
        File.WriteAllText(Path.Combine(_elsewhere, "in-the-way"), "");
        Assert.ThrowsAny<IOException>(() => _placement.Move(Source, Path.Combine(_elsewhere, "in-the-way", "01.flac")));
        Assert.Equal(bytes, File.ReadAllBytes(Source));
    }

    /// <summary>What a kill leaves at each step of a move between two file systems.</summary>
    [Theory]
    [InlineData("half copied")]
    [InlineData("copied, not named")]
    [InlineData("named, not removed")]
    [InlineData("named, and the source was changed since")]
    public void A_move_that_was_cut_off_is_finished_or_undone(string moment)
    {
        var bytes = WriteSource();
        var (temporary, final) = (Path.Combine(_elsewhere, Placement.TemporaryPrefix + "x.part"), Path.Combine(_elsewhere, "01.flac"));
        _database.Change(connection => connection.Execute(
            "INSERT INTO file_change (kind, source_path, temporary_path, final_path) VALUES ('move', @Source, @temporary, @final)",
            new { Source, temporary, final }));
        if (moment.StartsWith("named", StringComparison.Ordinal))
            File.WriteAllBytes(final, bytes);
        else
            File.WriteAllBytes(temporary, moment == "half copied" ? bytes[..1000] : bytes);
        if (moment.EndsWith("since", StringComparison.Ordinal))
            File.AppendAllText(Source, "more");

        _placement.FinishMoves();
        Assert.False(File.Exists(temporary));
        Assert.Equal(0, JournalLines());
        Assert.Equal(moment != "named, not removed", File.Exists(Source));
        Assert.Equal(moment.StartsWith("named", StringComparison.Ordinal), File.Exists(final));
        // In any case, one complete file is there.
        Assert.Contains(new[] { Source, final }.Where(File.Exists), path => File.ReadAllBytes(path).AsSpan().StartsWith(bytes));
    }

    [Fact]
    public void Abandoned_temporary_files_are_removed()
    {
        var file = _placement.Begin(_folder["new.mp3"], itemId: 7);
        File.WriteAllText(file.TemporaryPath, "half a file");
        // Clearing up may run beside new work, and leaves that alone.
        _placement.ClearUp();
        Assert.True(File.Exists(file.TemporaryPath));
        new Placement(_database, NullLogger<Placement>.Instance).ClearUp();
        Assert.False(File.Exists(file.TemporaryPath));
        Assert.Equal(0, JournalLines());
    }

    private byte[] WriteSource()
    {
        var bytes = new byte[3_000_000];
        new Random(1).NextBytes(bytes);
        File.WriteAllBytes(Source, bytes);
        return bytes;
    }

    private int JournalLines()
    {
        using var connection = _database.Open();
        return connection.ExecuteScalar<int>("SELECT COUNT(*) FROM file_change");
    }
}
