using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Library.Comparing;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Tests.Storage;

/// <summary>A backup of the previous state precedes every change that could lose much.</summary>
public sealed class ChangeBackupTests
{
    /// <summary>Of one sound: one to tidy away alone, many at once, and one that stays.</summary>
    private const int Files = ChangeBackups.LeastFiles + 2;

    [Theory]
    [InlineData("a folder goes")]
    [InlineData("a set goes")]
    [InlineData("many files are tidied away")]
    [InlineData("what a stick says is taken over")]
    public async Task A_large_change_is_preceded_by_a_backup(string change)
    {
        await using var app = new RunningApp();
        var first = app.AddTrack(1, 0.1);
        for (int i = 1; i < Files; i++)
            File.Copy(first, Path.Combine(app.Music, $"Copy {i}.wav"));
        Directory.CreateDirectory(app.Folder["stick"]);
        await app.StartAsync();
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);
        long set = app.Get<SetStore>().Create("Night")!.Value;
        long stick = app.Get<MusicSticks>().Add(app.Folder["stick"], null, "phone").Id!.Value;
        var tracks = app.Get<LibraryQueries>().TracksById([.. Enumerable.Range(1, 50).Select(id => (long)id)]);
        var copies = tracks.SelectMany(track => track.Copies).Select(copy => copy.Id).ToList();
        // On a slow machine the daily one is there by now.
        foreach (var daily in app.Get<DatabaseBackups>().All())
            File.Delete(daily.Path);

        switch (change)
        {
            case "a folder goes":
                Assert.Null(app.Get<MusicFolders>().Remove(app.Get<MusicFolders>().List()[0].Id));
                break;
            case "a set goes":
                app.Get<SetStore>().Remove(set);
                app.Get<SetStore>().Remove(set);
                break;
            case "many files are tidied away":
                app.Get<Duplicates>().Tidy([copies[0]]);
                Assert.Empty(Made());
                app.Get<Duplicates>().Tidy([.. copies.Skip(1).Take(ChangeBackups.LeastFiles)]);
                break;
            default:
                app.Get<StickReading>().Apply(stick, []);
                Assert.Empty(Made());
                app.Get<StickReading>().Apply(stick, [new StickDecision(SyncKey.OfTrack(1), StickDecision.Deletion, true)]);
                break;
        }

        await RunningApp.UntilAsync(() => Made().Any());
        var made = Assert.Single(Made());
        using var kept = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={made.Path};Mode=ReadOnly;Pooling=False");
        kept.Open();
        using var ask = kept.CreateCommand();
        ask.CommandText =
            "SELECT (SELECT COUNT(*) FROM folder) * 1000000 + (SELECT COUNT(*) FROM music_set) * 1000 + (SELECT COUNT(*) FROM copy)";
        Assert.Equal(1_001_000L + Files, ask.ExecuteScalar());

        IEnumerable<DatabaseBackup> Made() =>
            app.Get<DatabaseBackups>().All().Where(backup => backup.Reason == DatabaseBackups.BeforeChange);
    }
}
