using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Bench;

/// <summary>What the Bench is made of.</summary>
internal static class BenchServices
{
    public static IServiceCollection AddBench(this IServiceCollection services) => services
        .AddSingleton<BenchCache>()
        .AddSingleton<NullTestStore>()
        .AddSingleton<ComparedSounds>()
        .AddSingleton<NullTests>()
        .AddSingleton<PassStore>()
        .AddSingleton<Passes>()
        .AddSingleton<BlindTests>()
        .AddSingleton<InspectionStore>()
        .AddSingleton<Inspections>()
        .AddSingleton(NullTests.RunKind)
        .AddSingleton(Passes.RunKind)
        .AddSingleton(Inspections.RunKind)
        .AddSingleton<IItemHandler, NullTestHandler>()
        .AddSingleton<IItemHandler, PassHandler>()
        .AddSingleton<IItemHandler, InspectHandler>();
}
