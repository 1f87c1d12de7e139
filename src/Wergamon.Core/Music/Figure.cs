namespace Wergamon.Core.Music;

/// <summary>Who says a figure of a track.</summary>
public enum FigureSource
{
    /// <summary>The person, in this application.</summary>
    Own,

    /// <summary>The tags of the master copy.</summary>
    Tags,

    /// <summary>Our analysis of the sound.</summary>
    Measured,
}

/// <summary>The effective figure of a track (tempo, key, rating) and its source.</summary>
/// <param name="From">Null where nobody says anything.</param>
public readonly record struct Figure<T>(T? Value, FigureSource? From);

/// <summary>Decides which of several figures of a track is the effective one.</summary>
public static class Figure
{
    /// <summary>What the person says takes precedence over the tags, and the tags over what was measured.</summary>
    public static Figure<T> Choose<T>(T? own, T? tagged, T? measured) => own is not null ? new(own, FigureSource.Own)
        : tagged is not null ? new(tagged, FigureSource.Tags)
        : measured is not null ? new(measured, FigureSource.Measured)
        : default;
}
