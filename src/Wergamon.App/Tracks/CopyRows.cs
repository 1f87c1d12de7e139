using System.Data;
using Dapper;
using Wergamon.Core.Matching;

namespace Wergamon.App.Tracks;

/// <summary>Reads copies.</summary>
internal static class CopyRows
{
    /// <summary>Copies that fulfil a condition over <c>c</c>; of each track the master copy comes first.</summary>
    public static IEnumerable<CopyRow> Read(IDbConnection connection, string condition, object parameters) =>
        Query(connection, condition, parameters).OrderBy(copy => copy.Rank, MasterRank.Order);

    /// <summary>The copies of tracks that are not in the trash; of each track the master copy first.</summary>
    public static ILookup<long, CopyRow> OfTracks(IDbConnection connection, IEnumerable<long> trackIds)
    {
        var copies = Query(
            connection,
            "c.track_id IN (SELECT value FROM json_each(@list)) AND NOT c.is_trashed",
            new { list = "[" + string.Join(',', trackIds) + "]" }).ToLookup(copy => copy.TrackId);
        // Most tracks have one copy, and nothing to be ordered.
        return copies.All(track => track.Count() == 1)
            ? copies
            : copies.SelectMany(track => track.OrderBy(copy => copy.Rank, MasterRank.Order)).ToLookup(copy => copy.TrackId);
    }

    /// <summary>Copies that fulfil a condition over <c>c</c>, in an order of its own if it names one.</summary>
    public static IEnumerable<CopyRow> Query(IDbConnection connection, string condition, object parameters) =>
        connection.Query<CopyRow, CopySound, CopyRow>(
            $"SELECT {CopyRow.Columns}, {CopySound.Columns} FROM copy c WHERE {condition}",
            (copy, sound) => copy with { Sound = sound }, parameters, splitOn: "file_format");
}
