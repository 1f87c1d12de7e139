using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Bench;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Files;
using Wergamon.App.Intake;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Library;
using Wergamon.App.Library.Comparing;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;

namespace Wergamon.App;

public static class AppServices
{
    /// <summary>Registers the services of the application.</summary>
    public static IServiceCollection AddWergamon(this IServiceCollection services, AppOptions options) => services
        .AddSingleton(options)
        .AddSingleton(TimeProvider.System)
        .AddSingleton<Database>()
        .AddSingleton<DatabaseBackups>()
        .AddSingleton<ChangeBackups>()
        .AddSingleton<Signals>()
        .AddSingleton<Settings>()
        .AddSingleton<AllowedPaths>()
        .AddSingleton<FolderBrowser>()
        .AddSingleton<Placement>()
        .AddSingleton<WorkLoad>()
        .AddSingleton<IdleWorkers>()
        .AddSingleton<WorkerPool>()
        .AddSingleton<RunStore>()
        .AddSingleton<RunProgress>()
        .AddSingleton<RunKinds>()
        .AddSingleton<RunScheduler>()
        .AddTracks()
        .AddLibrary()
        .AddCopies()
        .AddIntake(options)
        .AddTags()
        .AddConvert()
        .AddBench()
        .AddSets()
        .AddDeliver()
        .AddDiscs()
        .AddFiles()
        .AddSticks()
        .AddHosted();

    /// <summary>What runs beside the pages. The order counts.</summary>
    private static IServiceCollection AddHosted(this IServiceCollection services) => services
        .AddHostedService<BackupService>()
        // The trash finishes moves that a crash has interrupted; only then are folders scanned.
        .AddHostedService(provider => provider.GetRequiredService<Trash>())
        .AddHostedService(provider => provider.GetRequiredService<MusicFolders>())
        .AddHostedService(provider => provider.GetRequiredService<Uploads>())
        .AddHostedService(provider => provider.GetRequiredService<BackgroundAnalysis>())
        .AddHostedService(provider => provider.GetRequiredService<Comparisons>())
        .AddHostedService(provider => provider.GetRequiredService<BackgroundMusic>())
        .AddHostedService<SpoolCheck>()
        .AddHostedService(provider => provider.GetRequiredService<DeliveryEndHandler>())
        .AddHostedService(provider => provider.GetRequiredService<RunScheduler>())
        .AddHostedService(provider => provider.GetRequiredService<DropFolders>())
        .AddHostedService<AutomaticRips>()
        .AddHostedService(provider => provider.GetRequiredService<InsertedDiscs>());
}
