using System.Diagnostics;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

public sealed class CommandLineTests
{
    [Fact]
    public void Arguments_override_the_defaults()
    {
        var usual = CommandLine.Read([])!;
        Assert.Equal(
            (5080, Path.GetFullPath("data"), Environment.ProcessorCount),
            (usual.Port, usual.Options.DataFolder, usual.Options.WorkerCount));
        Assert.Equal([Environment.GetFolderPath(Environment.SpecialFolder.UserProfile)], usual.Options.AllowedBases);

        var told = CommandLine.Read(
            [
                "--port", "5090", "--data", "/srv/w", "--allow", "/mnt/a", "--allow", "/mnt/b/../c", "--music", "/mnt/a/m", "--workers",
                "3", "--demo", "/mnt/d", "--drive-speed", "7.5"
            ])!;
        Assert.Equal((5090, "/srv/w", 3), (told.Port, told.Options.DataFolder, told.Options.WorkerCount));
        Assert.Equal(["/mnt/a", "/mnt/c", "/mnt/d"], told.Options.AllowedBases.Skip(1));
        Assert.Equal(("/mnt/d", 7.5), (told.Options.DemoFolder, told.Options.DriveSpeedup));
        Assert.Equal(["/mnt/a/m"], told.FirstFolders);
        Assert.Equal(
            (App.Storage.StartWith.Backup, 5091),
            (CommandLine.Read(["--restore", "--port", "5091"])!.Options.StartWith,
                CommandLine.Read(["--restore", "--port", "5091"])!.Port));
    }

    [Theory]
    [InlineData("--port")]
    [InlineData("--port", "far")]
    [InlineData("--port", "0")]
    [InlineData("--port", "99999")]
    [InlineData("--workers", "0")]
    [InlineData("--colour", "blue")]
    [InlineData("--port", "5090", "--data")]
    [InlineData("--drive-speed", "-1")]
    [InlineData("music")]
    [InlineData("/port", "5090")]
    public void Unknown_arguments_are_refused(params string[] words) => Assert.Null(CommandLine.Read(words));

    /// <summary>One line says what is missing; no data folder is created.</summary>
    [Theory]
    [InlineData("ulimit -n 100", "needs to open 1000 files at once, but the system allows only 100.")]
    [InlineData("ulimit -n 300", "needs to open 1000 files at once, but the system allows only 300.")]
    [InlineData("export DOTNET_GCHeapHardLimit=0x8000000", "needs 400 MB of memory, but the system allows only 134 MB.")]
    public async Task Too_few_files_or_too_little_memory_is_one_line_and_nothing_starts(string limit, string words)
    {
        using var folder = new TemporaryFolder();
        using var server = Process.Start(
            new ProcessStartInfo(
                "sh", ["-c", $"{limit}; exec dotnet {Repository.Built("Wergamon.Web")} --data {folder["data"]} --port 1"])
            { RedirectStandardError = true, RedirectStandardOutput = true })!;
        var said = server.StandardOutput.ReadToEndAsync(TestContext.Current.CancellationToken);
        Assert.Contains(
            words,
            Assert.Single(
                (await server.StandardError.ReadToEndAsync(
                        TestContext.Current.CancellationToken)).Split('\n', StringSplitOptions.RemoveEmptyEntries)),
            StringComparison.Ordinal);
        await server.WaitForExitAsync(TestContext.Current.CancellationToken);
        Assert.Equal((StartFailure.TooLittle, "", false), (server.ExitCode, await said, Directory.Exists(folder["data"])));
    }
}
