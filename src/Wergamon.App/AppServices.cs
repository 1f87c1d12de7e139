using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Convert;
using Wergamon.App.Files;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Workers;
using Wergamon.Devices.Catalogue;

namespace Wergamon.App;

public static class AppServices
{
    /// <summary>Registers the services of the application.</summary>
    public static IServiceCollection AddWergamon(this IServiceCollection services, AppOptions options) => services
        .AddSingleton(options)
        .AddSingleton(TimeProvider.System)
        .AddSingleton<Database>()
        .AddSingleton<AllowedPaths>()
        .AddSingleton<FolderBrowser>()
        .AddSingleton<Trash>()
        .AddSingleton<CopyHistory>()
        .AddSingleton<TrackMatcher>()
        .AddSingleton<BackgroundAnalysis>()
        .AddSingleton<Comparisons>()
        .AddSingleton<Duplicates>()
        .AddSingleton<WorkLoad>()
        .AddSingleton<WorkerPool>()
        .AddSingleton<FileScanner>()
        .AddSingleton<LibraryWriter>()
        .AddSingleton<LibraryQueries>()
        .AddSingleton<LibraryParts>()
        .AddSingleton<CopyFiles>()
        .AddSingleton<TrackLines>()
        .AddSingleton<TrackList>()
        .AddSingleton<Playback>()
        .AddSingleton<FineWaveforms>()
        .AddSingleton<FolderScan>()
        .AddSingleton<MusicFolders>()
        .AddSingleton<DemoMusic>()
        .AddSingleton<Thumbnails>()
        .AddSingleton<AlbumLevels>()
        .AddSingleton<Pace>()
        .AddSingleton<TargetChoices>()
        .AddSingleton<Plans>()
        .AddSingleton<Placement>()
        .AddSingleton<RunStore>()
        .AddSingleton<RunProgress>()
        .AddSingleton<RunScheduler>()
        // A handler may start another run.
        .AddSingleton(provider => new Lazy<RunScheduler>(provider.GetRequiredService<RunScheduler>))
        .AddSingleton<CopyMaker>()
        .AddSingleton<IItemHandler, ConvertHandler>()
        .AddSingleton<IItemHandler, TrashOriginalHandler>()
        .AddSingleton<TrackSplits>()
        .AddSingleton<MirrorStore>()
        .AddSingleton<Mirrors>()
        .AddSingleton<IItemHandler, MirrorFileHandler>()
        .AddSingleton<IItemHandler, RipTrackHandler>()
        .AddSingleton<IItemHandler, RipCopyHandler>()
        .AddSingleton<IItemHandler, RipReportHandler>()
        .AddSingleton<IItemHandler, RenameHandler>()
        .AddSingleton<TagUndo>()
        .AddSingleton<TagFile>()
        .AddSingleton<TagRecord>()
        .AddSingleton<TagSheets>()
        .AddSingleton<CommentSchemes>()
        .AddSingleton<TagRuns>()
        .AddSingleton<UntidyFiles>()
        .AddSingleton<TagPictures>()
        .AddSingleton<IItemHandler, TagWriteHandler>()
        .AddSingleton<IItemHandler, TagUndoHandler>()
        .AddSingleton<SetStore>()
        .AddSingleton<TrackNotes>()
        .AddSingleton<MusicSets>()
        .AddSingleton<SetPlaylists>()
        .AddSingleton<MusicReader>()
        .AddSingleton<BackgroundMusic>()
        .AddSingleton<IItemHandler, MusicHandler>()
        .AddSingleton<Signals>()
        .AddSingleton<Settings>()
        .AddSingleton<UploadBatches>()
        .AddSingleton<Uploads>()
        .AddSingleton<FilePlans>()
        .AddSingleton<DropFolderStore>()
        .AddSingleton<DropFolders>()
        .AddSingleton<DriveBay>()
        .AddSingleton<DiscStore>()
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
        // The trash finishes moves that a crash has interrupted; only then are folders scanned.
        .AddHostedService(provider => provider.GetRequiredService<Trash>())
        .AddHostedService(provider => provider.GetRequiredService<MusicFolders>())
        .AddHostedService(provider => provider.GetRequiredService<Uploads>())
        .AddHostedService(provider => provider.GetRequiredService<BackgroundAnalysis>())
        .AddHostedService(provider => provider.GetRequiredService<Comparisons>())
        .AddHostedService(provider => provider.GetRequiredService<BackgroundMusic>())
        .AddHostedService<SpoolCheck>()
        .AddHostedService(provider => provider.GetRequiredService<RunScheduler>())
        .AddHostedService(provider => provider.GetRequiredService<DropFolders>())
        .AddHostedService(provider => provider.GetRequiredService<InsertedDiscs>());
}
