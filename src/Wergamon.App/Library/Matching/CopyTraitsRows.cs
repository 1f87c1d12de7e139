using System.Data;
using Dapper;
using Wergamon.Core.Audio;
using Wergamon.Core.Matching;
using Wergamon.Core.Tags;

namespace Wergamon.App.Library.Matching;

/// <summary>The traits by which copies are compared.</summary>
internal sealed record MatchCandidate(long Id, long TrackId, bool IsTrashed, CopyTraits Traits);

/// <summary>Reads the properties by which copies are compared.</summary>
internal static class CopyTraitsRows
{
    private static readonly string[] Fields = [
        FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Title, FieldNames.Album, FieldNames.Disc, FieldNames.Track
    ];

    /// <param name="condition">Over columns of copy, which is called c.</param>
    public static List<MatchCandidate> Read(IDbConnection connection, string condition, object parameters)
    {
        var rows = connection.Query<Row>(
            $"""
            SELECT c.id, c.track_id, c.is_trashed, c.sample_rate, c.channels, c.bits, c.is_float, c.frame_count, c.is_lossless, s.samples,
                s.peak
            FROM copy c LEFT JOIN analysis s ON s.copy_id = c.id WHERE {condition}
            """,
            parameters).AsList();
        var names = connection.Query<(long CopyId, string Name, string Value)>(
            "SELECT copy_id, name, value FROM tag WHERE copy_id IN (SELECT value FROM json_each(@list)) "
                + "AND name COLLATE NOCASE IN @Fields ORDER BY copy_id, position",
            new { list = "[" + string.Join(',', rows.Select(row => row.Id)) + "]", Fields }).ToLookup(tag => tag.CopyId);
        return [.. rows.Select(row => new MatchCandidate(row.Id, row.TrackId, row.IsTrashed, TraitsOf(row, names[row.Id])))];
    }

    /// <summary>The tags of a copy that matching uses, in order.</summary>
    public static List<(string Name, string Value)> ReadNames(IDbConnection connection, long copyId) =>
        connection.Query<(string Name, string Value)>(
            "SELECT name, value FROM tag WHERE copy_id = @copyId AND name COLLATE NOCASE IN @Fields ORDER BY position",
            new { copyId, Fields }).AsList();

    private static CopyTraits TraitsOf(Row row, IEnumerable<(long CopyId, string Name, string Value)> fields)
    {
        var tags = new TagSet();
        foreach (var (_, name, value) in fields)
            tags.Add(name, value);
        var format = new PcmFormat(
            new SampleRate(row.SampleRate), row.Channels, row.Bits, row.IsFloat ? SampleKind.Float : SampleKind.Integer);
        return new CopyTraits
        {
            Names = CopyTraits.NamesOf(tags),
            Album = CopyTraits.AlbumOf(tags),
            Disc = tags.Number(FieldNames.Disc),
            Number = tags.Number(FieldNames.Track),
            Length = format.Duration(row.FrameCount),
            Format = format,
            IsLossless = row.IsLossless,
            Samples = row.Samples,
            IsSilent = row.Peak == 0,
        };
    }

    private sealed record Row
    {
        public long Id { get; init; }

        public long TrackId { get; init; }

        public bool IsTrashed { get; init; }

        public int SampleRate { get; init; }

        public int Channels { get; init; }

        public int Bits { get; init; }

        public bool IsFloat { get; init; }

        public long FrameCount { get; init; }

        public bool IsLossless { get; init; }

        public string? Samples { get; init; }

        public double? Peak { get; init; }
    }
}
