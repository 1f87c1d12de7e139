using System.Globalization;
using System.Text;
using Wergamon.App.Tracks;
using Wergamon.FileSystem;

namespace Wergamon.App.Tests.Files;

/// <summary>
/// While work of every kind goes on, files and folders are exchanged for links that lead out and for pipes, and put back. Whatever becomes
/// of the work, nothing outside is read, changed, made or removed, and nothing hangs.
/// </summary>
public sealed class ExchangeTests(ITestOutputHelper output)
{
    /// <summary>One in every check; more with WERGAMON_KILLS=20.</summary>
    private static readonly int Rounds = int.Parse(
        Environment.GetEnvironmentVariable("WERGAMON_KILLS") ?? "1", CultureInfo.InvariantCulture);

    [Fact]
    public async Task Nothing_outside_is_touched_while_files_are_exchanged()
    {
        for (int round = 0; round < Rounds; round++)
        {
            await using var app = new RunningApp(
                options => options with { WorkerSilence = TimeSpan.FromSeconds(20), ScanLimit = TimeSpan.FromSeconds(10) });
            int seed = Random.Shared.Next();
            output.WriteLine($"seed {seed}");
            using var exchanger = new Exchanger(app.Folder, RunsOfAllKinds.Folders, seed);
            var work = new RunsOfAllKinds(app);
            await work.PrepareAsync();
            using var end = new CancellationTokenSource();
            var exchanging = Task.Run(() => exchanger.Exchange(end.Token));
            int done = await work.RunAsync();
            await end.CancelAsync();
            await exchanging;
            output.WriteLine($"{done} items done");

            exchanger.AssertUntouched();
            Assert.NotEqual(0, done);
            var secret = Encoding.UTF8.GetBytes(Exchanger.Secret);
            foreach (var file in Directory.EnumerateFiles(app.Folder.Path, "*", Exchanger.WithoutLinks).Where(PlainFile.Exists))
                Assert.False(File.ReadAllBytes(file).AsSpan().IndexOf(secret) >= 0, $"{file} holds what is outside");
            var tracks = app.Get<LibraryQueries>().TracksById([.. Enumerable.Range(1, 50).Select(id => (long)id)]);
            Assert.DoesNotContain(tracks, track => track.Artist.Contains(Exchanger.Secret, StringComparison.Ordinal));
        }
    }
}
