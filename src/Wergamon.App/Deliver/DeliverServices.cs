using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver;

/// <summary>What Deliver is made of.</summary>
internal static class DeliverServices
{
    public static IServiceCollection AddDeliver(this IServiceCollection services) => services
        .AddSingleton<DeliveryStore>()
        .AddSingleton<DeliveryRuns>()
        .AddSingleton<BurnerBay>()
        .AddSingleton<DeliverySpool>()
        .AddSingleton<BurnedTracks>()
        .AddSingleton<AudioDiscs>()
        .AddSingleton<DeliveredFiles>()
        .AddSingleton<DataDiscs>()
        .AddSingleton<JoinedFiles>()
        .AddSingleton<ZippedFiles>()
        .AddSingleton<DeviceChoices>()
        .AddSingleton<StickStore>()
        .AddSingleton<StickPlaces>()
        .AddSingleton<StickGuard>()
        .AddSingleton<StickSpeeds>()
        .AddSingleton<MusicSticks>()
        .AddSingleton<StickReading>()
        .AddSingleton<DeckSlots>()
        .AddSingleton<DeliveryEndHandler>()
        .AddSingleton(AudioDiscs.RunKind)
        .AddSingleton(AudioDiscs.ImageKind)
        .AddSingleton(DataDiscs.RunKind)
        .AddSingleton(DataDiscs.ImageKind)
        .AddSingleton(JoinedFiles.RunKind)
        .AddSingleton(ZippedFiles.RunKind)
        .AddSingleton(MusicSticks.RunKind)
        .AddSingleton(MusicSticks.ImportKind)
        .AddSingleton<IItemHandler, PrepareTrackHandler>()
        .AddSingleton<IItemHandler, BurnDiscHandler>()
        .AddSingleton<IItemHandler, BurnCheckHandler>()
        .AddSingleton<IItemHandler, BurnImageHandler>()
        .AddSingleton<IItemHandler, DataDiscHandler>()
        .AddSingleton<IItemHandler, JoinFileHandler>()
        .AddSingleton<IItemHandler, DeliverFileHandler>()
        .AddSingleton<IItemHandler, StickFileHandler>()
        .AddSingleton<IItemHandler, StickTagHandler>()
        .AddSingleton<IItemHandler, StickEndHandler>()
        .AddSingleton<IItemHandler, StickImportHandler>()
        .AddSingleton<IItemHandler>(provider => provider.GetRequiredService<DeliveryEndHandler>());
}
