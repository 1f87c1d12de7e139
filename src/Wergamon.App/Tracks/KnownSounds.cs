using System.Data;
using Dapper;
using Wergamon.Core.Analysis;
using Wergamon.Core.Planning;

namespace Wergamon.App.Tracks;

/// <summary>What the analyses of copies found, for plans.</summary>
internal static class KnownSounds
{
    /// <summary>The sounds of copies that have been analysed.</summary>
    /// <param name="albumOf">The album of each copy.</param>
    /// <param name="withAlbums">True to measure the given tracks of each album as one.</param>
    public static Dictionary<long, KnownSound> Of(IDbConnection connection, IReadOnlyDictionary<long, long> albumOf, bool withAlbums)
    {
        var rows = connection.Query<(long CopyId, int? RealBits, double? Loudness, double TruePeak, double? DownmixPeak)>(
            """
            SELECT a.copy_id, c.real_bits, a.loudness, a.true_peak, a.downmix_peak FROM analysis a JOIN copy c ON c.id = a.copy_id
            WHERE a.true_peak IS NOT NULL AND a.copy_id IN (SELECT value FROM json_each(@list))
            """,
            new { list = ListOf(albumOf.Keys) });
        var known = rows.ToDictionary(
            row => row.CopyId, row => new KnownSound(row.RealBits ?? 32, new SoundLevel(row.Loudness, row.TruePeak), row.DownmixPeak));
        if (!withAlbums)
            return known;
        // An album counts as known once all of its tracks are.
        foreach (var album in albumOf.GroupBy(pair => pair.Value, pair => pair.Key).Where(album => album.All(known.ContainsKey)))
        {
            var blocks = connection.Query<(double? Loudness, double TruePeak, byte[] Blocks)>(
                "SELECT loudness, true_peak, loudness_blocks FROM analysis WHERE copy_id IN (SELECT value FROM json_each(@list))",
                new { list = ListOf(album) });
            var whole = Loudness.OfAll([.. blocks.Select(row => new Loudness(row.Loudness, null, row.TruePeak, row.Blocks))]);
            foreach (long copyId in album)
                known[copyId] = known[copyId] with { AlbumLevel = new SoundLevel(whole.Integrated, whole.TruePeak) };
        }

        return known;
    }

    private static string ListOf(IEnumerable<long> ids) => "[" + string.Join(',', ids) + "]";
}
