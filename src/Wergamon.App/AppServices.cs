using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Convert;
using Wergamon.App.Data;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Runs;

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
        .AddSingleton<WorkerPool>()
        .AddSingleton<FileScanner>()
        .AddSingleton<LibraryWriter>()
        .AddSingleton<LibraryQueries>()
        .AddSingleton<MusicFolders>()
        .AddSingleton<TargetChoices>()
        .AddSingleton<Plans>()
        .AddSingleton<RunStore>()
        .AddSingleton<RunProgress>()
        .AddSingleton<RunSignals>()
        .AddSingleton<Publisher>()
        .AddSingleton<RunEngine>()
        .AddHostedService(provider => provider.GetRequiredService<MusicFolders>())
        .AddHostedService(provider => provider.GetRequiredService<RunEngine>());
}
