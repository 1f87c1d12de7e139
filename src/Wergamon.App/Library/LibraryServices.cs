using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Library.Comparing;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Matching;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;

namespace Wergamon.App.Library;

/// <summary>What the Library is made of.</summary>
internal static class LibraryServices
{
    public static IServiceCollection AddLibrary(this IServiceCollection services) => services
        .AddSingleton<Trash>()
        .AddSingleton<NewTracks>()
        .AddSingleton<TrackMatcher>()
        .AddSingleton<BackgroundAnalysis>()
        .AddSingleton<Comparisons>()
        .AddSingleton<Duplicates>()
        .AddSingleton<FileScanner>()
        .AddSingleton<LibraryWriter>()
        .AddSingleton<Playback>()
        .AddSingleton<FineWaveforms>()
        .AddSingleton<FolderScan>()
        .AddSingleton<MusicFolders>()
        .AddSingleton<DemoMusic>()
        .AddSingleton<Thumbnails>();
}
