using Dapper;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Copies;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Storage;

/// <summary>The database: migrated, waited for, limited to one server and to its owner.</summary>
[System.Runtime.Versioning.SupportedOSPlatform("linux")]
public sealed class StorageTests : IDisposable
{
    private const UnixFileMode OthersMay =
        UnixFileMode.GroupRead | UnixFileMode.GroupWrite | UnixFileMode.GroupExecute
        | UnixFileMode.OtherRead | UnixFileMode.OtherWrite | UnixFileMode.OtherExecute;

    private readonly TemporaryFolder _folder = new();

    private AppOptions Options =>
        new() { DataFolder = _folder["data"], AllowedBases = [_folder.Path], WorkerPath = "", DatabaseLockWait = TimeSpan.FromSeconds(1) };

    public static TheoryData<int> Steps => [.. Enumerable.Range(1, 12)];

    public void Dispose() => _folder.Dispose();

    [Theory]
    [MemberData(nameof(Steps))]
    public void A_database_of_every_earlier_step_is_backed_up_and_opened(int step)
    {
        Directory.CreateDirectory(Options.DataFolder);
        new DatabaseMigration(Options, new DatabaseBackups(Options, TimeProvider.System)).Run(
            step.ToString("0000", System.Globalization.CultureInfo.InvariantCulture));
        using (var old = OpenRaw())
            old.Execute("INSERT INTO folder (path, added_at) VALUES ('/music', 1)");
        var database = NewDatabase();
        using var connection = database.Open();
        Assert.Equal("/music", connection.ExecuteScalar<string>("SELECT path FROM folder"));
        Assert.Empty(connection.Query("PRAGMA foreign_key_check"));
        Assert.Contains(
            $"before-{step + 1:0000}",
            Path.GetFileName(Assert.Single(Directory.GetFiles(Path.Combine(Options.DataFolder, "backups"), "*.db"))),
            StringComparison.Ordinal);
    }

    /// <summary>Runs as stored before there was one envelope for all kinds of work.</summary>
    [Fact]
    public void Runs_of_an_earlier_version_are_kept()
    {
        Directory.CreateDirectory(Options.DataFolder);
        new DatabaseMigration(Options, new DatabaseBackups(Options, TimeProvider.System)).Run("0008");
        using (var old = OpenRaw())
            old.Execute(EarlierRuns);
        var runs = new RunStore(NewDatabase(), TimeProvider.System);

        var conversion = runs.Get(1)!;
        Assert.Equal((RunState.Done, 1, 1, "Pocket player"), (conversion.State, conversion.Results, conversion.Done, conversion.Purpose));
        var copy = Assert.Single(runs.Items(1));
        Assert.Equal(
            ("/out/a.mp3", 7L, 44_100L, -3.5),
            (CopyResult.Of(copy)!.Path, CopyResult.Of(copy)!.CopyId, CopyResult.Of(copy)!.Proof.FramesOut,
                CopyResult.Of(copy)!.Proof.FittingGainDecibels));
        Assert.Equal(
            (Core.Planning.ConflictRule.Skip, "downmix to stereo, MP3 256", 5L),
            (CopySpec.Of(copy).OnConflict, CopySpec.Of(copy).Steps, CopySpec.Of(copy).SourceCopyId));

        Assert.Equal((RunState.Stopped, 2), (runs.Get(2)!.State, runs.Get(2)!.Results));
        var items = runs.Items(2);
        var tracks = items.Where(item => RipTrackHandler.ItemKind.Is(item)).Select(item => new RipTrackRow(item)).ToList();
        Assert.Equal([(1, true), (2, false)], tracks.Select(track => (track.Number, track.IsRead)));
        Assert.Equal(0x1234u, tracks[0].Reading!.Crc32);
        Assert.Equal([1, 2], items.Where(item => item.Kind == CopyItemKind.Rip).Select(item => CopySpec.Of(item).DiscTrack!.Value));
        Assert.Equal("Archive", CopySpec.Of(items.First(item => item.Kind == CopyItemKind.Rip)).Target.Name);
        Assert.Single(items, item => RipReportHandler.ItemKind.Is(item));
        // The copy of the unread track waits for it; the other is next, once the run continues.
        using var connection = OpenRaw();
        connection.Execute("UPDATE run SET state = 'running'");
        Assert.Equal(1, CopySpec.Of(runs.TakeNext(["drive A"])!).DiscTrack);
        Assert.Null(runs.TakeNext(["drive A"]));
        var planned = new App.Convert.PlanRow { Target = connection.ExecuteScalar<string>("SELECT target FROM plan")! }.ReadTarget();
        Assert.Equal(("Pocket player", 48_000), (planned.Name, planned.HighestRate!.Value.Hertz));

        // Settings by format, and what the tags hold.
        Assert.Equal(Mp3Settings.Variable(4), planned.Encoder);
        Assert.Equal(Mp3Settings.Variable(4), new TargetChoices(NewDatabase()).Get("pocket-player").Encoder);
        Assert.Equal(new FlacSettings { Level = 7 }, CopySpec.Of(items.First(item => item.Kind == CopyItemKind.Rip)).Target.Encoder);
        Assert.Equal(new FlacSettings(), CopySpec.Of(items.Last(item => item.Kind == CopyItemKind.Rip)).Target.Encoder);
        Assert.Equal(Mp3Settings.Constant(192), CopySpec.Of(copy).Job!.Encoder);
        Assert.Equal(["wav", "mp3"], connection.Query<string>("SELECT file_format FROM copy ORDER BY id"));
        var contents = LibraryQueries.ContentsOf(connection, [5, 7])[5];
        Assert.Equal((3, 2, 20L), (contents.Count, FlacFormat.Instance.Dialect.CountHeld(contents), contents.Opaque.Single().Bytes));
    }

    [Fact]
    public async Task Locked_database_is_waited_for_and_pages_say_so()
    {
        var database = NewDatabase();
        using var other = OpenRaw();
        other.Execute("BEGIN EXCLUSIVE");
        var change = Task.Run(
            () => database.Change(connection => connection.Execute("INSERT INTO folder (path, added_at) VALUES ('/music', 1)")));
        await RunningApp.UntilAsync(() => database.Problem is not null);
        Assert.Contains("locked", database.Problem!.Text, StringComparison.Ordinal);
        await Task.Run(() =>
        {
            Database.LimitPatience(TimeSpan.FromMilliseconds(1));
            Assert.Throws<StorageProblemException>(() => database.Change(connection => connection.Execute("DELETE FROM folder")));
        });
        Assert.False(change.IsCompleted);
        other.Execute("COMMIT");
        await change.WaitAsync(TimeSpan.FromMinutes(4));
        Assert.Null(database.Problem);
        Assert.Equal(1, other.ExecuteScalar<int>("SELECT COUNT(*) FROM folder"));
    }

    [Fact]
    public void A_connection_for_reading_changes_nothing()
    {
        using var connection = NewDatabase().Open();
        Assert.Throws<SqliteException>(() => connection.Execute("DELETE FROM folder"));
    }

    [Fact]
    public void Only_one_server_and_its_account_can_open_the_data()
    {
        using (DataFolderLock.Take(Options.DataFolder))
            Assert.Null(DataFolderLock.Take(Options.DataFolder));
        using var again = DataFolderLock.Take(Options.DataFolder);
        Assert.NotNull(again);
        _ = NewDatabase();
        Assert.Equal(UnixFileMode.None, File.GetUnixFileMode(Options.DataFolder) & OthersMay);
        Assert.Equal(UnixFileMode.None, File.GetUnixFileMode(Options.Folders.Database) & OthersMay);
    }

    [Fact]
    public void A_damaged_database_is_set_aside_and_the_last_backup_restored_on_request()
    {
        Directory.CreateDirectory(Options.DataFolder);
        new DatabaseMigration(Options, new DatabaseBackups(Options, TimeProvider.System)).Run("0008");
        using (var old = OpenRaw())
            old.Execute("INSERT INTO folder (path, added_at) VALUES ('/music', 1)");
        _ = NewDatabase();
        SqliteConnection.ClearAllPools();
        File.WriteAllText(Options.Folders.Database, new string('?', 50_000));

        Assert.Contains("--restore", Assert.Throws<DatabaseDamagedException>(NewDatabase).Message, StringComparison.Ordinal);
        Assert.False(File.Exists(Options.Folders.Database));
        Assert.Single(Directory.GetFiles(Options.DataFolder, "*.damaged-*"));
        // An empty library is not started without being asked for.
        Assert.Contains("--new-library", Assert.Throws<DatabaseDamagedException>(NewDatabase).Message, StringComparison.Ordinal);
        using var connection = NewDatabase(Options with { StartWith = StartWith.Backup }).Open();
        Assert.Equal("/music", connection.ExecuteScalar<string>("SELECT path FROM folder"));
    }

    /// <summary>
    /// Whatever happens to the file of a library, it is said in one line with the way on, and no empty library begins in its place.
    /// </summary>
    [Theory]
    [InlineData("overwritten in the middle")]
    [InlineData("overwritten at the start")]
    [InlineData("cut off")]
    [InlineData("empty")]
    [InlineData("text")]
    [InlineData("a folder")]
    [InlineData("another database")]
    [InlineData("gone")]
    [InlineData("of a newer version")]
    public void Every_damage_is_reported_and_no_empty_library_begins(string damage)
    {
        Begin("/music");
        var backup = new DatabaseBackups(Options, TimeProvider.System).Make(DatabaseBackups.ByHand);
        var path = Options.Folders.Database;
        var bytes = File.ReadAllBytes(path);
        switch (damage)
        {
            case "overwritten in the middle":
                using (var file = File.OpenWrite(path))
                {
                    file.Position = 4096;
                    file.Write(new byte[8 * 4096]);
                }

                break;
            case "overwritten at the start":
                using (var file = File.OpenWrite(path))
                    file.Write(new byte[100]);
                break;
            case "cut off":
                File.WriteAllBytes(path, bytes[..(bytes.Length / 2)]);
                break;
            case "empty":
                File.WriteAllBytes(path, []);
                break;
            case "text":
                File.WriteAllText(path, "a note that somebody saved here\n");
                break;
            case "a folder":
                File.Delete(path);
                Directory.CreateDirectory(path);
                break;
            case "another database":
                File.Delete(path);
                using (var other = OpenRaw())
                    other.Execute("CREATE TABLE recipes (id INTEGER PRIMARY KEY)");
                break;
            case "gone":
                File.Delete(path);
                break;
            default:
                using (var newer = OpenRaw())
                    newer.Execute(
                        "INSERT INTO SchemaVersions (ScriptName, Applied) "
                            + "VALUES ('Wergamon.App.Data.Migrations.9999_later.sql', '2030-01-01')");
                break;
        }

        for (int start = 0; start < 2; start++)
        {
            var message = Assert.Throws<DatabaseDamagedException>(NewDatabase).Message;
            Assert.DoesNotContain('\n', message);
            Assert.Contains(
                damage == "of a newer version" ? "newer version" : $"--restore to restore {backup.Name}", message,
                StringComparison.Ordinal);
        }

        using (var restored = NewDatabase(Options with { StartWith = StartWith.Backup }).Open())
            Assert.Equal("/music", restored.ExecuteScalar<string>("SELECT path FROM folder"));
        SqliteConnection.ClearAllPools();
        using var usual = NewDatabase().Open();
        Assert.Equal("/music", usual.ExecuteScalar<string>("SELECT path FROM folder"));
    }

    [Fact]
    public void A_library_without_a_backup_does_not_begin_empty_either()
    {
        Begin("/music");
        File.Delete(Options.Folders.Database);
        Assert.Contains(
            "There is no backup. Start with --new-library", Assert.Throws<DatabaseDamagedException>(NewDatabase).Message,
            StringComparison.Ordinal);
        Assert.Contains(
            "no backup to restore",
            Assert.Throws<DatabaseDamagedException>(() => NewDatabase(Options with { StartWith = StartWith.Backup })).Message,
            StringComparison.Ordinal);
        using var empty = NewDatabase(Options with { StartWith = StartWith.NewLibrary }).Open();
        Assert.Equal(0, empty.ExecuteScalar<int>("SELECT COUNT(*) FROM folder"));
    }

    /// <summary>A chosen backup, or none: a damaged or unknown one leaves everything as it was.</summary>
    [Fact]
    public void Going_back_is_whole_or_not_at_all()
    {
        var time = new ManualTime();
        Begin("/first");
        var backups = new DatabaseBackups(Options, time);
        var first = backups.Make(DatabaseBackups.ByHand);
        using (var connection = OpenRaw())
            connection.Execute("UPDATE folder SET path = '/second'");
        time.Advance(TimeSpan.FromDays(1));
        var second = backups.Make(DatabaseBackups.Daily);
        File.WriteAllBytes(second.Path, File.ReadAllBytes(second.Path)[..20_000]);

        Assert.Contains(
            "damaged too",
            Assert.Throws<DatabaseDamagedException>(() => NewDatabase(Options with { StartWith = StartWith.Backup })).Message,
            StringComparison.Ordinal);
        var unknown = Assert.Throws<DatabaseDamagedException>(
            () => NewDatabase(Options with { StartWith = StartWith.Backup, RestoreFrom = "../../etc/passwd" })).Message;
        Assert.Contains(first.Name, unknown, StringComparison.Ordinal);
        using (var untouched = NewDatabase().Open())
            Assert.Equal("/second", untouched.ExecuteScalar<string>("SELECT path FROM folder"));
        Assert.Empty(Directory.GetFiles(Options.DataFolder, "*.restoring"));
        SqliteConnection.ClearAllPools();
        using var restored = NewDatabase(Options with { StartWith = StartWith.Backup, RestoreFrom = first.Name }).Open();
        Assert.Equal("/first", restored.ExecuteScalar<string>("SELECT path FROM folder"));
        Assert.Single(
            Directory.GetFiles(Options.DataFolder, "*.before-restore-*"),
            path => !path.EndsWith("-wal", StringComparison.Ordinal) && !path.EndsWith("-shm", StringComparison.Ordinal));
    }

    /// <summary>A backup in the background is of the moment when it was asked for, and one file.</summary>
    [Fact]
    public async Task Backup_excludes_changes_after_its_start()
    {
        Begin("/before");
        var backups = new DatabaseBackups(Options, TimeProvider.System);
        using (var connection = OpenRaw())
        {
            connection.Execute("INSERT INTO artwork (hash, mime_type, data) VALUES ('large', 'image/png', randomblob(50000000))");
            // The second one waits for the first, and is of its own moment all the same.
            var first = backups.MakeInBackground("first");
            var second = backups.MakeInBackground("second");
            connection.Execute("UPDATE folder SET path = '/after'; DELETE FROM artwork");
            await Task.WhenAll(first, second);
        }

        foreach (var backup in backups.All())
        {
            Assert.Null(DatabaseCheck.DamageOf(backup.Path));
            using var kept = new SqliteConnection($"Data Source={backup.Path};Mode=ReadOnly;Pooling=False");
            Assert.Equal(
                "/before 50000000", kept.ExecuteScalar<string>("SELECT path || ' ' || (SELECT length(data) FROM artwork) FROM folder"));
        }

        Assert.Equal(["first", "second"], backups.All().Select(backup => backup.Reason).Order());
        Assert.Equal(2, Directory.GetFiles(Path.Combine(Options.DataFolder, "backups")).Length);
    }

    /// <summary>Seven days, four weeks before them, and the newest five.</summary>
    [Fact]
    public void Old_backups_are_thinned_out()
    {
        var time = new ManualTime();
        Begin("/music");
        var backups = new DatabaseBackups(Options, time);
        for (int day = 0; day < 60; day++)
        {
            time.Advance(TimeSpan.FromDays(1));
            backups.Make(DatabaseBackups.Daily);
        }

        var ages = backups.All().Select(backup => (int)Math.Round((time.GetUtcNow() - backup.MadeAt).TotalDays)).ToList();
        Assert.Equal([0, 1, 2, 3, 4, 5, 6], ages.Take(7));
        Assert.Equal(11, ages.Count);
        Assert.All(ages.Skip(7).Zip([0, 1, 2, 3]), pair => Assert.InRange(pair.First, 7 + 7 * pair.Second, 13 + 7 * pair.Second));
    }

    /// <summary>A database that is taken away while the server runs is missed at once, and nothing is written to another one.</summary>
    [Theory]
    [InlineData("removed")]
    [InlineData("replaced")]
    public void Removed_database_is_noticed(string how)
    {
        var database = NewDatabase();
        database.Change(connection => connection.Execute("INSERT INTO folder (path, added_at) VALUES ('/music', 1)"));
        SqliteConnection.ClearAllPools();
        var kept = _folder["kept.db"];
        File.Move(Options.Folders.Database, kept);
        if (how == "replaced")
            File.Copy(kept, Options.Folders.Database);
        Database.LimitPatience(TimeSpan.FromSeconds(1));
        var refused = Assert.Throws<StorageProblemException>(
            () => database.Change(connection => connection.Execute("INSERT INTO folder (path, added_at) VALUES ('/other', 1)")));
        Assert.Contains("removed or replaced while Wergamon was running", refused.Message, StringComparison.Ordinal);
        Assert.False(database.IsThere());
        Assert.NotNull(database.Problem);
        Assert.Equal(how == "replaced", File.Exists(Options.Folders.Database));

        File.Move(kept, Options.Folders.Database, overwrite: true);
        database.Change(connection => connection.Execute("INSERT INTO folder (path, added_at) VALUES ('/other', 1)"));
        Assert.Null(database.Problem);
        using var connection = database.Open();
        Assert.Equal(2, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM folder"));
    }

    /// <summary>One backup a day; one that fails is tried again after an hour, not at each look.</summary>
    [Fact]
    public void The_daily_backup_is_made_once_a_day()
    {
        Begin("/music");
        var time = new ManualTime();
        var backups = new DatabaseBackups(Options, time);
        using var service = new BackupService(backups, NewDatabase(), time, NullLogger<BackupService>.Instance);
        var folder = Path.Combine(Options.DataFolder, "backups");
        File.WriteAllText(folder, "in the way");
        After(TimeSpan.FromMinutes(3), 0);
        File.Delete(folder);
        After(TimeSpan.FromMinutes(50), 0);
        After(TimeSpan.FromMinutes(20), 1);
        After(TimeSpan.FromHours(23), 1);
        After(TimeSpan.FromHours(2), 2);

        void After(TimeSpan wait, int expected)
        {
            time.Advance(wait);
            service.Look();
            Assert.Equal(expected, backups.All().Count);
        }
    }

    /// <summary>Paths that were recorded through a link to the data folder lead to the same files without it.</summary>
    [Fact]
    public void Paths_through_a_link_to_the_data_folder_get_its_own_name()
    {
        var link = _folder["link"];
        Begin("/music");
        using (var old = OpenRaw())
        {
            old.Execute(
                "INSERT INTO trash_item (path, place, file_bytes, reason, taken_at) VALUES ('/music/a.wav', @place, 1, 'test', 1)",
                new { place = link + "/trash/1/a.wav" });
            old.Execute(
                "INSERT INTO run (id, title, purpose, output_folder, state, started_at, kind) "
                    + "VALUES (1, 'Run', 'Archive', @folder, 'done', 1, 'convert')",
                new { folder = link + "/converted/Archive" });
            old.Execute(
                "INSERT INTO run_item (run_id, position, kind, lane, title, state, is_result, weight, spec) "
                    + "VALUES (1, 0, 'convert', 'worker', 'x', 'done', 1, 1, @spec)",
                new { spec = $"{{\"outputFolder\":\"{link}/converted\",\"other\":\"{link}er/x\"}}" });
        }

        using var connection = NewDatabase(Options with { DataFolderLink = link }).Open();
        Assert.Equal(
            ("/music/a.wav", Options.DataFolder + "/trash/1/a.wav"),
            connection.QuerySingle<(string, string)>("SELECT path, place FROM trash_item"));
        Assert.Equal(Options.DataFolder + "/converted/Archive", connection.ExecuteScalar<string>("SELECT output_folder FROM run"));
        Assert.Equal(
            $"{{\"outputFolder\":\"{Options.DataFolder}/converted\",\"other\":\"{link}er/x\"}}",
            connection.ExecuteScalar<string>("SELECT spec FROM run_item"));
    }

    private void Begin(string folder)
    {
        NewDatabase().Change(connection => connection.Execute("INSERT INTO folder (path, added_at) VALUES (@folder, 1)", new { folder }));
        SqliteConnection.ClearAllPools();
    }

    private Database NewDatabase() => NewDatabase(Options);

    private static Database NewDatabase(AppOptions options) =>
        new(options, new DatabaseBackups(options, TimeProvider.System), new Signals(), TimeProvider.System);

    private SqliteConnection OpenRaw()
    {
        var connection = new SqliteConnection($"Data Source={Options.Folders.Database};Pooling=False;Foreign Keys=False");
        connection.Open();
        return connection;
    }

    private const string EarlierRuns =
        """
        INSERT INTO album (id, identity, artist, title, added_at) VALUES (1, 'a', 'Tin Orchard', 'Carts', 1);
        INSERT INTO track (id, album_id, title, artist, added_at) VALUES (1, 1, 'Cart', 'Tin Orchard', 1);
        INSERT INTO copy (id, track_id, path, kind, codec_name, sample_rate, channels, channel_roles, bits, is_float, frame_count,
            is_lossless, kilobits_per_second, fidelity, generation,
            file_bytes, modified_at, tags_total, tags_held_by_id3, tags_held_by_flac, tags_from_name, id3_bytes, flac_tag_bytes, added_at)
        VALUES (5, 1, '/music/a.wav', 'Wav', 'WAV', 44100, 2, 3, 16, 0, 44100, 1, 1411, 0, 0, 9, 9, 3, 3, 2, 0, 23, 0, 1),
            (7, 1, '/out/a.mp3', 'Mp3', 'MP3', 44100, 2, 3, 32, 1, 44100, 0, 256, 2, 1, 9, 9, 0, 0, 0, 0, 0, 0, 1);
        INSERT INTO tag (copy_id, position, name, value, from_name) VALUES (5, 0, 'title', 'Cart', 0);
        INSERT INTO artwork (hash, mime_type, data) VALUES ('h', 'image/png', x'010203');
        INSERT INTO copy_artwork (copy_id, position, kind, description, hash) VALUES (5, 0, 3, '', 'h');
        INSERT INTO target (key, settings)
            VALUES ('pocket-player',
            '{"key":"pocket-player","name":"Pocket player","kind":"Mp3","mp3":{"isVariable":true,"value":4},"flacLevel":5,
                "highestRate":{"hertz":48000}}');
        INSERT INTO plan (id, title, target_key, created_at) VALUES (1, 'Carts', 'pocket-player', 1);
        INSERT INTO run (id, plan_id, title, target_name, output_folder, state, started_at, ended_at, active_ms, kind)
            VALUES (1, 1, 'Carts', 'Pocket player', '/out', 'done', 1, 2, 3, 'convert');
        INSERT INTO run_item (id, run_id, position, track_id, source_copy_id, title, relative_path, if_taken, steps, fidelity, generation,
            bytes_before, duration_ms, job, state, final_path, proof, new_copy_id)
        VALUES (1, 1, 0, 1, 5, 'Cart', 'a.mp3', 'Skip', 'fold to stereo, MP3 256', 2, 1, 9, 1000,
            '{"sourcePath":"/music/a.wav","sourceFormat":{"rate":{"hertz":44100},"channels":6,"bits":16},"steps":[{"kind":"FoldDown",
                "output":{"rate":{"hertz":44100},"channels":2,"bits":64}}],"outputKind":"Mp3","outputPath":"","mp3":{"isVariable":false,
                "value":192},"flacLevel":5,"extraFields":[],"pictures":[]}', 'done', '/out/a.mp3',
            '{"isLossless":false,"framesIn":44100,"framesOut":44100,"fieldsKept":3,"picturesKept":0,"bytes":9,"kilobitsPerSecond":256,
                "foldGainDecibels":-3.5,"clippedSamples":0,"sourceDamage":[]}', 7);
        INSERT INTO lineage (copy_id, from_copy_id, target_name, steps, made_at)
            VALUES (7, 5, 'Pocket player', 'fold to stereo, MP3 256', 1);
        INSERT INTO disc (id, sha1_id, checksum_id, contents, album, named_by, seen_at) VALUES (1, 's', 'c', '{}', '{}', 'typed', 1);
        INSERT INTO run (id, title, target_name, output_folder, state, started_at, kind, disc_id, drive, rip_settings)
            VALUES (2, 'Lamp Room', 'Archive', '/ripped', 'stopped', 1, 'rip', 1, 'A', '{"targets":["archive"]}');
        INSERT INTO rip_track (run_id, number, first_sector, end_sector, state, reading) VALUES
            (2, 1, 0, 300, 'read', '{"number":1,"span":{"number":1,"firstSector":0,"endSector":300},"crc32":4660,
                "verdict":"AgreedAtOnce"}'), (2, 2, 300, 600, 'waiting', NULL);
        INSERT INTO run_item (id, run_id, position, disc_track, target, title, relative_path, if_taken, steps, fidelity, generation,
            bytes_before, duration_ms, job, state) VALUES
            (2, 2, 0, 1, '{"key":"archive","name":"Archive","kind":"Flac","flacLevel":7,"ifTaken":"Skip"}', 'One', 'One.flac', 'KeepBoth',
                'FLAC 16-bit', 0, 0, 9, 4000, '', 'waiting'),
            (3, 2, 1, 2, '{"key":"archive","name":"Archive","kind":"Flac"}', 'Two', 'Two.flac', 'KeepBoth', 'FLAC 16-bit', 0, 0, 9, 4000,
                '', 'reading');
        """;
}
