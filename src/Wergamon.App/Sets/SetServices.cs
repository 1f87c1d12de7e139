using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;

namespace Wergamon.App.Sets;

/// <summary>What Sets is made of.</summary>
internal static class SetServices
{
    public static IServiceCollection AddSets(this IServiceCollection services) => services
        .AddSingleton<SetStore>()
        .AddSingleton<TrackNotes>()
        .AddSingleton<MusicSets>()
        .AddSingleton<SetPlaylists>()
        .AddSingleton<ITrackLists, SetListings>()
        .AddSingleton<ITrackNotes, NoteFields>()
        .AddSingleton<MusicReader>()
        .AddSingleton<BackgroundMusic>()
        .AddSingleton(MusicSets.AnalysisKind)
        .AddSingleton<IItemHandler, MusicHandler>();
}
