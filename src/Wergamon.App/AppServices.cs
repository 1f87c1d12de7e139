using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Convert;
using Wergamon.App.Data;
using Wergamon.App.Files;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App;

public static class AppServices
{
    /// <summary>Everything the stations need, ready to be asked for by the pages.</summary>
    public static IServiceCollection AddWergamon(this IServiceCollection services, AppOptions options) => services
        .AddSingleton(options)
        .AddSingleton(TimeProvider.System)
        .AddSingleton<Database>()
        .AddSingleton<AllowedPaths>()
        .AddSingleton<Trash>()
        .AddSingleton<CopyHistory>()
        .AddSingleton<Joins>()
        .AddSingleton<Surveys>()
        .AddSingleton<Comparisons>()
        .AddSingleton<Doubles>()
        .AddSingleton<WorkerPool>()
        .AddSingleton<CopyWork>()
        .AddSingleton<FileScanner>()
        .AddSingleton<LibraryWriter>()
        .AddSingleton<LibraryQueries>()
        .AddSingleton<TrackLines>()
        .AddSingleton<TrackList>()
        .AddSingleton<Listening>()
        .AddSingleton<FolderScan>()
        .AddSingleton<MusicFolders>()
        .AddSingleton<TargetChoices>()
        .AddSingleton<Plans>()
        .AddSingleton<RunStore>()
        .AddSingleton<RunProgress>()
        .AddSingleton<RunSignals>()
        .AddSingleton<Publisher>()
        .AddSingleton<RunEngine>()
        .AddSingleton<Settings>()
        .AddSingleton<Uploads>()
        .AddSingleton<DriveBay>()
        .AddSingleton<DiscStore>()
        .AddSingleton(provider => new FolderCatalogue(options.RackFolder, provider.GetRequiredService<TimeProvider>()))
        .AddSingleton<IDiscCatalogue>(provider => provider.GetRequiredService<FolderCatalogue>())
        .AddSingleton<IReadingLedger>(new FolderLedger(options.RackFolder))
        .AddSingleton<DiscDesk>()
        .AddSingleton<SurroundChoices>()
        .AddSingleton<Spool>()
        .AddSingleton<RipItems>()
        .AddSingleton<RipStore>()
        .AddSingleton<RipProgress>()
        .AddSingleton<RipFinish>()
        .AddSingleton<DiscCopies>()
        .AddSingleton<RipEngine>()
        .AddSingleton<DiscRips>()
        .AddHostedService(provider => provider.GetRequiredService<MusicFolders>())
        .AddHostedService(provider => provider.GetRequiredService<Trash>())
        .AddHostedService(provider => provider.GetRequiredService<Uploads>())
        .AddHostedService(provider => provider.GetRequiredService<Surveys>())
        .AddHostedService(provider => provider.GetRequiredService<Comparisons>())
        .AddHostedService<SpoolCheck>()
        .AddHostedService(provider => provider.GetRequiredService<RunEngine>())
        .AddHostedService(provider => provider.GetRequiredService<RipEngine>())
        .AddHostedService(provider => provider.GetRequiredService<DiscDesk>())
        .AddHostedService(provider => provider.GetRequiredService<DiscCopies>());
}
