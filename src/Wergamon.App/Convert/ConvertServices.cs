using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Convert;

/// <summary>What Convert is made of.</summary>
internal static class ConvertServices
{
    public static IServiceCollection AddConvert(this IServiceCollection services) => services
        .AddSingleton<Plans>()
        .AddSingleton<FilePlans>()
        .AddSingleton<TrackSplits>()
        .AddSingleton<MirrorStore>()
        .AddSingleton<Mirrors>()
        .AddSingleton<DropFolderStore>()
        .AddSingleton<DropOutcomes>()
        .AddSingleton<DropFolders>()
        .AddSingleton(Plans.RunKind)
        .AddSingleton(Mirrors.RunKind)
        .AddSingleton<IItemHandler, ConvertHandler>()
        .AddSingleton<IItemHandler, TrashOriginalHandler>()
        .AddSingleton<IItemHandler, MirrorFileHandler>();
}
