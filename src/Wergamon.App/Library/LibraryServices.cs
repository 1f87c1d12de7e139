using Microsoft.Extensions.DependencyInjection;

namespace Wergamon.App.Library;

/// <summary>What the Library is made of.</summary>
internal static class LibraryServices
{
    public static IServiceCollection AddLibrary(this IServiceCollection services) => services
        .AddSingleton<Trash>()
        .AddSingleton<CopyHistory>()
        .AddSingleton<TrackMatcher>()
        .AddSingleton<BackgroundAnalysis>()
        .AddSingleton<Comparisons>()
        .AddSingleton<Duplicates>()
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
        .AddSingleton<Throughput>()
        .AddSingleton<TargetChoices>()
        .AddSingleton<CopyMaker>();
}
