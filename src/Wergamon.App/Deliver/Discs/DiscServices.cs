using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Writing discs.</summary>
internal static class DiscServices
{
    public static IServiceCollection AddDiscs(this IServiceCollection services) => services
        .AddSingleton<BurnerBay>()
        .AddSingleton<BurnedTracks>()
        .AddSingleton<AudioDiscs>()
        .AddSingleton<DataDiscViews>()
        .AddSingleton<DataDiscs>()
        .AddSingleton(AudioDiscs.RunKind)
        .AddSingleton(AudioDiscs.ImageKind)
        .AddSingleton(DataDiscs.RunKind)
        .AddSingleton(DataDiscs.ImageKind)
        .AddSingleton<IItemHandler, PrepareTrackHandler>()
        .AddSingleton<IItemHandler, BurnDiscHandler>()
        .AddSingleton<IItemHandler, BurnCheckHandler>()
        .AddSingleton<IItemHandler, BurnImageHandler>()
        .AddSingleton<IItemHandler, DataDiscHandler>();
}
