using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Sticks and the devices that they are for.</summary>
internal static class StickServices
{
    public static IServiceCollection AddSticks(this IServiceCollection services) => services
        .AddSingleton<DeviceChoices>()
        .AddSingleton<StickStore>()
        .AddSingleton<StickPlaces>()
        .AddSingleton<StickGuard>()
        .AddSingleton<StickSpeeds>()
        .AddSingleton<StickPlanner>()
        .AddSingleton<StickLists>()
        .AddSingleton<SetsOnSticks>()
        .AddSingleton<StickPace>()
        .AddSingleton<StickViews>()
        .AddSingleton<StickImports>()
        .AddSingleton<MusicSticks>()
        .AddSingleton<StickReading>()
        .AddSingleton<DeckSlots>()
        .AddSingleton(MusicSticks.RunKind)
        .AddSingleton(StickImports.RunKind)
        .AddSingleton<IItemHandler, StickFileHandler>()
        .AddSingleton<IItemHandler, StickTagHandler>()
        .AddSingleton<IItemHandler, StickEndHandler>()
        .AddSingleton<IItemHandler, StickImportHandler>();
}
