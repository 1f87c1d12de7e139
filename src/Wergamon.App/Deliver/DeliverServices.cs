using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver;

/// <summary>What discs, files and sticks share.</summary>
internal static class DeliverServices
{
    public static IServiceCollection AddDeliver(this IServiceCollection services) => services
        .AddSingleton<DeliveryStore>()
        .AddSingleton<DeliveryOverviews>()
        .AddSingleton<DeliveryRuns>()
        .AddSingleton<DeliverySpool>()
        .AddSingleton<DeliveredFiles>()
        .AddSingleton<DeliveryEndHandler>()
        .AddSingleton<IItemHandler, DeliverFileHandler>()
        .AddSingleton<IItemHandler>(provider => provider.GetRequiredService<DeliveryEndHandler>());
}
