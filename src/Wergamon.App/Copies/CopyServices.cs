using Microsoft.Extensions.DependencyInjection;

namespace Wergamon.App.Copies;

/// <summary>The making of copies, which Convert, rips and deliveries share.</summary>
internal static class CopyServices
{
    public static IServiceCollection AddCopies(this IServiceCollection services) => services
        .AddSingleton<CopyFiles>()
        .AddSingleton<AlbumLevels>()
        .AddSingleton<Throughput>()
        .AddSingleton<TargetChoices>()
        .AddSingleton<CopyDestination>()
        .AddSingleton<CopyConflicts>()
        .AddSingleton<CopyRecorder>()
        .AddSingleton<CopyMaker>();
}
