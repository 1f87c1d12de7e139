using System.Globalization;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Sticks;

/// <summary>
/// Identifies a file of a stick over time, whatever its path: a track at its place in a list, a track that is stored once, or the playlist
/// of a list. The default value is no file, for the step that ends a run.
/// </summary>
[JsonConverter(typeof(StickKeyConverter))]
public readonly record struct StickKey
{
    private const string PlaylistPrefix = "list ";
    private const char Separator = '/';

    private StickKey(long? listId, long? trackId, int occurrence) => (ListId, TrackId, Occurrence) = (listId, trackId, occurrence);

    /// <summary>Null for a track that is stored once, whatever lists have it.</summary>
    public long? ListId { get; }

    /// <summary>Null for a playlist.</summary>
    public long? TrackId { get; }

    /// <summary>How often the track occurs earlier in its list.</summary>
    public int Occurrence { get; }

    public bool IsPlaylist => TrackId is null && ListId is not null;

    /// <summary>A track that is stored once.</summary>
    public static StickKey OfTrack(long trackId) => new(null, trackId, 0);

    /// <summary>A track at its place in a list.</summary>
    public static StickKey OfPlace(long listId, long trackId, int occurrence) => new(listId, trackId, occurrence);

    /// <summary>The playlist of a list.</summary>
    public static StickKey OfPlaylist(long listId) => new(listId, null, 0);

    /// <summary>Null for a text that <see cref="ToString"/> does not give.</summary>
    public static StickKey? TryParse(string? text)
    {
        StickKey? key = text?.Split(Separator) switch
        {
            [var only] when only.StartsWith(PlaylistPrefix, StringComparison.Ordinal) && Number(only[PlaylistPrefix.Length..]) is { } list
                => OfPlaylist(list),
            [var only] when Number(only) is { } track => OfTrack(track),
            [var list, var track, var before] when Number(list) is { } listId && Number(track) is { } trackId
                && Number(before) is { } occurrence and <= int.MaxValue => OfPlace(listId, trackId, (int)occurrence),
            _ => null,
        };
        return key?.ToString() == text ? key : null;
    }

    /// <exception cref="FormatException">The text is no key.</exception>
    public static StickKey Parse(string text) =>
        TryParse(text) ?? throw new FormatException($"“{text}” is no key of a file on a stick.");

    /// <summary>As stored in the database, in runs and in forms.</summary>
    public override string ToString() => (ListId, TrackId) switch
    {
        ({ } list, { } track) => string.Create(CultureInfo.InvariantCulture, $"{list}{Separator}{track}{Separator}{Occurrence}"),
        ({ } list, null) => string.Create(CultureInfo.InvariantCulture, $"{PlaylistPrefix}{list}"),
        (null, { } track) => string.Create(CultureInfo.InvariantCulture, $"{track}"),
        _ => "",
    };

    private static long? Number(string text) =>
        long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out long number) ? number : null;
}
