using System.CommandLine;
using System.Diagnostics;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

public sealed class CommandLineTests
{
    [Fact]
    public void Arguments_override_the_defaults()
    {
        var usual = Read([]);
        Assert.Equal(
            (5080, Path.GetFullPath("data"), Environment.ProcessorCount),
            (usual.Port, usual.Options.DataFolder, usual.Options.WorkerCount));
        Assert.Equal([Environment.GetFolderPath(Environment.SpecialFolder.UserProfile)], usual.Options.AllowedBases);

        var told = Read(
            [
                "--port", "5090", "--data", "/srv/w", "--allow", "/mnt/a", "--allow", "/mnt/b/../c", "--music", "/mnt/a/m", "--workers",
                "3", "--demo", "/mnt/d", "--drive-speed", "7.5"
            ]);
        Assert.Equal((5090, "/srv/w", 3), (told.Port, told.Options.DataFolder, told.Options.WorkerCount));
        Assert.Equal(["/mnt/a", "/mnt/c", "/mnt/d"], told.Options.AllowedBases.Skip(1));
        Assert.Equal(("/mnt/d", 7.5), (told.Options.DemoFolder, told.Options.DriveSpeedup));
        Assert.Equal(["/mnt/a/m"], told.FirstFolders);
        Assert.Equal(
            (App.Storage.StartWith.Backup, 5091),
            (Read(["--restore", "--port", "5091"]).Options.StartWith, Read(["--restore", "--port", "5091"]).Port));
    }

    /// <summary>The start script names folders of its own, which a person can override.</summary>
    [Fact]
    public void The_last_of_several_values_counts()
    {
        var command = Read(["--data", "/srv/a", "--port", "1", "--rack", "/srv/r", "--data", "/srv/b", "--port", "2", "--rack", "/srv/s"]);
        Assert.Equal(("/srv/b", 2, "/srv/s"), (command.Options.DataFolder, command.Port, command.Options.RackFolder));
    }

    [Theory]
    [InlineData("'--port'", "--port")]
    [InlineData("--port must be a number from 1 to 65535.", "--port", "far")]
    [InlineData("--port must be a number from 1 to 65535.", "--port", "0")]
    [InlineData("--port must be a number from 1 to 65535.", "--port", "99999")]
    [InlineData("--workers must be a number from 1 to 1024.", "--workers", "0")]
    [InlineData("'--colour'", "--colour", "blue")]
    [InlineData("'--data'", "--port", "5090", "--data")]
    [InlineData("--drive-speed must be a number from 0.001 to 1000000000.", "--drive-speed", "-1")]
    [InlineData("--drive-speed must be a number", "--drive-speed", "NaN")]
    [InlineData("--data must not be empty.", "--data", "")]
    [InlineData("--music must not be empty.", "--music", " ")]
    [InlineData("'music'", "music")]
    [InlineData("'/port'", "/port", "5090")]
    [InlineData("'@arguments'", "@arguments")]
    public void Invalid_arguments_are_refused_with_the_reason(string reason, params string[] words) =>
        Assert.Contains(reason, ServerArguments.Parse(words).Errors[0].Message, StringComparison.Ordinal);

    [Fact]
    public void Help_lists_all_arguments_and_starts_nothing()
    {
        var arguments = ServerArguments.Parse(["--help"]);
        var help = new StringWriter();
        Assert.Equal(0, arguments.Invoke(new InvocationConfiguration { Output = help }));
        Assert.All(arguments.RootCommandResult.Command.Options, option =>
        {
            Assert.Contains(option.Name, help.ToString(), StringComparison.Ordinal);
            Assert.NotEmpty(option.Description!);
        });
    }

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

    private static CommandLine Read(string[] arguments)
    {
        var parsed = ServerArguments.Parse(arguments);
        Assert.Empty(parsed.Errors);
        return CommandLine.From(parsed);
    }
}
