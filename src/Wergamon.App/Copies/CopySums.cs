using System.Data;
using System.IO.Hashing;
using System.Text;
using Dapper;

namespace Wergamon.App.Copies;

/// <summary>Short texts that show whether sound or tags of copies have changed.</summary>
internal static class CopySums
{
    /// <summary>Digests of the samples of copies, followed by their format, for those whose current file has been analysed.</summary>
    internal static Dictionary<long, string> Digests(
        IDbConnection connection, string copyIds) => connection.Query<(long CopyId, string Samples)>(
        "SELECT copy_id, samples FROM analysis WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) AND failure IS NULL "
            + "AND samples IS NOT NULL",
        new { copyIds })
        .ToDictionary(row => row.CopyId, row => row.Samples);

    /// <summary>One short text for all tags and pictures of each copy.</summary>
    internal static Dictionary<long, string> TagSums(IDbConnection connection, string copyIds)
    {
        var sums = new Dictionary<long, XxHash128>();
        Add("SELECT copy_id, name, value FROM tag WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) ORDER BY copy_id, position");
        Add(
            "SELECT copy_id, kind || ' ' || description, hash FROM copy_artwork WHERE copy_id IN (SELECT value FROM json_each(@copyIds)) "
                + "ORDER BY copy_id, position");
        Add(
            "SELECT copy_id, dialect || ' ' || name, CAST(bytes AS TEXT) FROM opaque_tag WHERE copy_id IN (SELECT value "
                + "FROM json_each(@copyIds)) ORDER BY copy_id, position");
        Add(
            "SELECT id, 'cover', folder_cover_path FROM copy WHERE id IN (SELECT value FROM json_each(@copyIds)) "
                + "AND folder_cover_path IS NOT NULL");
        return sums.ToDictionary(pair => pair.Key, pair => System.Convert.ToHexStringLower(pair.Value.GetCurrentHash()));

        void Add(string sql)
        {
            using var reader = connection.ExecuteReader(sql, new { copyIds });
            while (reader.Read())
            {
                long id = reader.GetInt64(0);
                if (!sums.TryGetValue(id, out var sum))
                    sums[id] = sum = new XxHash128();
                sum.Append(Encoding.UTF8.GetBytes(reader.GetString(1) + "\0" + reader.GetString(2) + "\0"));
            }
        }
    }
}
