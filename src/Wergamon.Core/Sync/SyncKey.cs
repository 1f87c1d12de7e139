using System.Globalization;
using System.Text.Json.Serialization;

namespace Wergamon.Core.Sync;

/// <summary>
/// Identifies a file of a folder that is kept in step over time, whatever its path: a track at its place in a list, a track that is
/// stored once, or the playlist of a list. The default value is no file, for the step that ends a run.
/// </summary>
[JsonConverter(typeof(SyncKeyConverter))]
public readonly record struct SyncKey
{
    private const string PlaylistPrefix = "list ";
    private const char Separator = '/';

    private SyncKey(long? listId, long? trackId, int occurrence) => (ListId, TrackId, Occurrence) = (listId, trackId, occurrence);

    /// <summary>Null for a track that is stored once, whatever lists have it.</summary>
    public long? ListId { get; }

    /// <summary>Null for a playlist.</summary>
    public long? TrackId { get; }

    /// <summary>How often the track occurs earlier in its list.</summary>
    public int Occurrence { get; }

    public bool IsPlaylist => TrackId is null && ListId is not null;

    /// <summary>A track that is stored once.</summary>
    public static SyncKey OfTrack(long trackId) => new(null, trackId, 0);

    /// <summary>A track at its place in a list.</summary>
    public static SyncKey OfPlace(long listId, long trackId, int occurrence) => new(listId, trackId, occurrence);

    /// <summary>The playlist of a list.</summary>
    public static SyncKey OfPlaylist(long listId) => new(listId, null, 0);

    /// <summary>Null for a text that <see cref="ToString"/> does not give.</summary>
    public static SyncKey? TryParse(string? text)
    {
        SyncKey? key = text?.Split(Separator) switch
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
    public static SyncKey Parse(string text) =>
        TryParse(text) ?? throw new FormatException($"“{text}” is no key of a file that is kept in step.");

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
