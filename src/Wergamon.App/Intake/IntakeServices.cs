using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App.Intake;

/// <summary>What Intake is made of.</summary>
internal static class IntakeServices
{
    public static IServiceCollection AddIntake(this IServiceCollection services, AppOptions options) => services
        .AddSingleton<UploadBatches>()
        .AddSingleton<Uploads>()
        .AddSingleton<DriveBay>()
        .AddSingleton<DiscStore>()
        .AddSingleton<RecentAlbums>()
        .AddSingleton(provider => new FolderCatalogue(options.RackFolder, provider.GetRequiredService<TimeProvider>()))
        .AddSingleton<IDiscCatalogue>(provider => provider.GetRequiredService<FolderCatalogue>())
        .AddSingleton<IReadingLedger>(new FolderLedger(options.RackFolder))
        .AddSingleton<InsertedDiscs>()
        .AddSingleton<SurroundChoices>()
        .AddSingleton<Spool>()
        .AddSingleton<RipStore>()
        .AddSingleton<RipJobs>()
        .AddSingleton<DiscRenames>()
        .AddSingleton<RipProgress>()
        .AddSingleton<DiscRips>()
        .AddSingleton<RipReports>()
        .AddSingleton(RipStore.RunKind)
        .AddSingleton(DiscRenames.RunKind)
        .AddSingleton<IItemHandler, RipTrackHandler>()
        .AddSingleton<IItemHandler, RipCopyHandler>()
        .AddSingleton<IItemHandler, RipReportHandler>()
        .AddSingleton<IItemHandler, RenameHandler>();
}
