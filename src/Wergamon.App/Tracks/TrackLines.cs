using System.Data;
using System.Globalization;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.Core.Music;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>
/// Keeps the lines that lists are made of: one row and one set of words per track. Triggers in the database note which
/// tracks have changed; their lines are rebuilt before the next read.
/// </summary>
public sealed class TrackLines(Database database, ILogger<TrackLines> logger)
{
    private const int BatchSize = 500;

    private static readonly TimeSpan LongestWait = TimeSpan.FromMilliseconds(20);

    private int _keepers;
    private long _version;

    /// <summary>Changes whenever a line has changed.</summary>
    public long Version => Interlocked.Read(ref _version);

    /// <summary>True while a long change is under way and the lines may be slightly out of date.</summary>
    public bool IsBehind => Volatile.Read(ref _keepers) > 0;

    /// <summary>Rebuilds all outdated lines.</summary>
    public void Refresh()
    {
        while (Stale() is { Count: > 0 } ids)
        {
            IsolatedBatch.Change(database, logger, ids, Rebuild, SetAside);
            Interlocked.Increment(ref _version);
        }
    }

    /// <summary>The same for pages: during a long change they get the lines as they are.</summary>
    internal void RefreshForPage()
    {
        try
        {
            while (!IsBehind && Stale() is { Count: > 0 } ids && database.TryChange(LongestWait, connection => Rebuild(connection, ids)))
                Interlocked.Increment(ref _version);
        }
        catch (Exception failure) when (!Guard.IsExpected(failure))
        {
            // One of them cannot be shown: the others are rebuilt one by one.
            Refresh();
        }
    }

    /// <summary>During a long change, whoever makes it keeps the lines up to date, and pages do not wait.</summary>
    internal IDisposable KeepUp()
    {
        Interlocked.Increment(ref _keepers);
        return new Keeper(this);
    }

    private List<long> Stale()
    {
        using var connection = database.Open();
        return connection.Query<long>($"SELECT track_id FROM track_stale LIMIT {BatchSize}").AsList();
    }

    /// <summary>A track that cannot be shown keeps no line, and its files are listed with the reason.</summary>
    private static void SetAside(IDbConnection connection, long trackId, Exception failure)
    {
        connection.Execute("DELETE FROM track_stale WHERE track_id = @trackId", new { trackId });
        foreach (long copyId in connection.Query<long>("SELECT id FROM copy WHERE track_id = @trackId", new { trackId }).AsList())
            IsolatedBatch.ListCopy(connection, copyId, failure);
    }

    private static void Rebuild(IDbConnection connection, IReadOnlyList<long> ids)
    {
        var list = new { list = "[" + string.Join(',', ids) + "]" };
        const string Chosen = "IN (SELECT value FROM json_each(@list))";
        connection.Execute($"DELETE FROM track_line WHERE track_id {Chosen}", list);
        connection.Execute($"DELETE FROM track_text WHERE rowid {Chosen}", list);
        connection.Execute($"DELETE FROM track_stale WHERE track_id {Chosen}", list);
        var copies = CopyRows.OfTracks(connection, ids);
        var tags = connection.Query<(long TrackId, long CopyId, string Name, string Value)>(
            $"SELECT c.track_id, c.id, g.name, g.value FROM tag g JOIN copy c ON c.id = g.copy_id WHERE c.track_id {Chosen} "
                + "AND NOT c.is_trashed",
            list).ToLookup(tag => tag.TrackId);
        var withArtwork = connection.Query<long>(
            $"SELECT DISTINCT c.track_id FROM copy_artwork w JOIN copy c ON c.id = w.copy_id WHERE c.track_id {Chosen} "
                + "AND NOT c.is_trashed",
            list).ToHashSet();
        var own = connection.Query<OwnRow>($"SELECT track_id, tempo, musical_key, rating FROM track_own WHERE track_id {Chosen}", list)
            .ToDictionary(figures => figures.TrackId);
        var measured = connection.Query<MeasuredRow>(
            $"""
            SELECT c.track_id, m.tempo, m.musical_key FROM music m JOIN copy c ON c.id = m.copy_id
            WHERE c.track_id {Chosen} AND m.failure IS NULL GROUP BY c.track_id HAVING m.copy_id = MIN(m.copy_id)
            """,
            list).ToDictionary(figures => figures.TrackId);
        var tracks = connection.Query<TrackSource>(
            $"""
            SELECT t.id, t.album_id, t.title, t.artist, t.disc, t.number, t.added_at, a.title AS album, a.artist AS album_artist, a.year,
                a.genre
            FROM track t JOIN album a ON a.id = t.album_id WHERE t.id {Chosen}
            """,
            list);
        var withCopies = tracks.Where(track => copies.Contains(track.Id)).ToList();
        // Passed as a list, all rows use one prepared statement.
        connection.Execute(InsertLine, withCopies.Select(track => LineOf(
            track, [.. copies[track.Id]], tags[track.Id], withArtwork.Contains(track.Id), own.GetValueOrDefault(track.Id),
            measured.GetValueOrDefault(track.Id))));
        connection.Execute("INSERT INTO track_text (rowid, words) VALUES (@Id, @words)", withCopies.Select(track => new
        {
            track.Id,
            words = string.Join(' ', tags[track.Id].Select(tag => tag.Value)
                .Concat(copies[track.Id].Select(copy => copy.Path))
                .Concat([track.Title, track.Artist, track.Album, track.AlbumArtist])
                .Distinct()
                .SelectMany(FoldedText.Words)
                .Distinct()),
        }));
    }

    private const string InsertLine =
            """
            INSERT INTO track_line (track_id, album_id, title, artist, album, title_key, artist_key, album_key, disc, number, year, genre,
                format,
                sample_rate, bits, channels, kilobits, length_ms, path, path_key, tempo, tagged_tempo, musical_key, tagged_key,
                rating, tagged_rating, added_at, copies, bytes, has_artwork,
                has_lossless, is_untagged, is_damaged, is_missing, fits_disc)
            VALUES (@Id, @AlbumId, @Title, @Artist, @Album, @titleKey, @artistKey, @albumKey, @Disc, @Number, @Year, @Genre, @CodecName,
                @SampleRate, @Bits, @Channels, @kilobits, @length, @Path, @pathKey, @tempo, @taggedTempo, @key, @taggedKey,
                @rating, @taggedRating, @AddedAt, @count, @bytes, @hasArtwork,
                @hasLossless, @isUntagged, @isDamaged, @isMissing, @fitsDisc)
            """;

    private static object LineOf(
        TrackSource track, List<CopyRow> copies, IEnumerable<(long TrackId, long CopyId, string Name, string Value)> allTags,
        bool hasArtwork, OwnRow? own, MeasuredRow? measured)
    {
        var master = copies[0];
        var facts = master.Facts;
        var there = copies.Where(copy => !copy.IsMissing).ToList();
        var tags = allTags.Where(tag => tag.CopyId == master.Id)
            .ToLookup(tag => tag.Name, tag => tag.Value, StringComparer.OrdinalIgnoreCase);
        double? taggedTempo = double.TryParse(tags[FieldNames.Tempo].FirstOrDefault(), CultureInfo.InvariantCulture, out double typed)
                && double.IsFinite(typed)
            ? typed
            : null;
        string? taggedKey = tags[FieldNames.Key].FirstOrDefault(), taggedRating = tags["rating"].FirstOrDefault();
        var tempo = Figure.Choose(own?.Tempo, taggedTempo, measured?.Tempo).Value;
        var key = Figure.Choose(own?.MusicalKey, KeyNotation.Usual.Read(taggedKey)?.ToString() ?? taggedKey, measured?.MusicalKey).Value;
        var rating = Figure.Choose(own?.Rating?.ToString(CultureInfo.InvariantCulture), taggedRating, null).Value;
        return new
        {
            track.Id,
            track.AlbumId,
            track.Title,
            track.Artist,
            track.Album,
            titleKey = FoldedText.SortKey(track.Title),
            artistKey = FoldedText.SortKey(track.Artist),
            albumKey = FoldedText.SortKey(track.Album),
            track.Disc,
            track.Number,
            track.Year,
            track.Genre,
            master.Sound.CodecName,
            master.Sound.SampleRate,
            master.Sound.Bits,
            master.Sound.Channels,
            kilobits = master.Sound.KilobitsPerSecond,
            length = (long)facts.Duration.TotalMilliseconds,
            master.Path,
            pathKey = FoldedText.SortKey(master.Path),
            tempo,
            taggedTempo,
            key,
            taggedKey,
            // The person can say that there is none.
            rating = rating == "0" ? null : rating,
            taggedRating,
            track.AddedAt,
            count = there.Count,
            bytes = there.Sum(copy => copy.FileBytes),
            hasArtwork,
            hasLossless = copies.Any(copy => copy.Sound.IsLossless),
            isUntagged = master.TagsFromName > 0 || track.Artist.Length == 0,
            isDamaged = copies.Any(copy => copy.Sound.Damage is not null),
            isMissing = copies.Any(copy => copy.IsMissing),
            // An audio disc holds 16 bits at 44.1 kHz in two channels (IEC 60908).
            fitsDisc = facts is { IsLossless: true, Format: { Channels: 2, Bits: 16, IsFloat: false, Rate.Hertz: 44_100 } },
        };
    }

    private sealed class Keeper(TrackLines lines) : IDisposable
    {
        public void Dispose() => Interlocked.Decrement(ref lines._keepers);
    }

    private sealed record OwnRow(long TrackId, double? Tempo, string? MusicalKey, long? Rating);

    private sealed record MeasuredRow(long TrackId, double? Tempo, string? MusicalKey);

    private sealed record TrackSource
    {
        public long Id { get; init; }

        public long AlbumId { get; init; }

        public string Title { get; init; } = "";

        public string Artist { get; init; } = "";

        public int? Disc { get; init; }

        public int? Number { get; init; }

        public long AddedAt { get; init; }

        public string Album { get; init; } = "";

        public string AlbumArtist { get; init; } = "";

        public string? Year { get; init; }

        public string? Genre { get; init; }
    }
}
