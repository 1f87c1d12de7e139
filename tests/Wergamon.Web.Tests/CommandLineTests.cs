namespace Wergamon.Web.Tests;

public sealed class CommandLineTests
{
    [Fact]
    public void Arguments_override_the_defaults()
    {
        var usual = CommandLine.Read([])!;
        Assert.Equal((5080, Path.GetFullPath("data"), Environment.ProcessorCount), (usual.Port, usual.Options.DataFolder, usual.Options.WorkerCount));
        Assert.Equal([Environment.GetFolderPath(Environment.SpecialFolder.UserProfile)], usual.Options.AllowedBases);

        var told = CommandLine.Read(["--port", "5090", "--data", "/srv/w", "--allow", "/mnt/a", "--allow", "/mnt/b/../c", "--music", "/mnt/a/m", "--workers", "3", "--demo", "/mnt/d", "--drive-speed", "7.5"])!;
        Assert.Equal((5090, "/srv/w", 3), (told.Port, told.Options.DataFolder, told.Options.WorkerCount));
        Assert.Equal(["/mnt/a", "/mnt/c", "/mnt/d"], told.Options.AllowedBases.Skip(1));
        Assert.Equal(("/mnt/d", 7.5), (told.Options.DemoFolder, told.Options.DriveSpeedup));
        Assert.Equal(["/mnt/a/m"], told.FirstFolders);
        Assert.Equal((App.StartWith.Backup, 5091), (CommandLine.Read(["--restore", "--port", "5091"])!.Options.StartWith, CommandLine.Read(["--restore", "--port", "5091"])!.Port));
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
}
