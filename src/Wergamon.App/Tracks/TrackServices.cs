using Microsoft.Extensions.DependencyInjection;

namespace Wergamon.App.Tracks;

/// <summary>Tracks and copies as all stations read them.</summary>
internal static class TrackServices
{
    public static IServiceCollection AddTracks(this IServiceCollection services) => services
        .AddSingleton<CopyHistory>()
        .AddSingleton<LibraryQueries>()
        .AddSingleton<LibraryParts>()
        .AddSingleton<TrackLines>()
        .AddSingleton<TrackList>()
        .AddSingleton<AlbumSearch>();
}
