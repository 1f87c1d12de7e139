using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A copy whose music is analysed.</summary>
public sealed record MusicSpec(long CopyId, string Path);

/// <summary>What was found, for the report.</summary>
public sealed record MusicResult(double? Tempo, string? Key)
{
    public static MusicResult Of(MusicAnalysis analysis) => new(analysis.Tempo?.Grid.BeatsPerMinute, analysis.Key?.Key.ToString());
}
