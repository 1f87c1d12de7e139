using System.Data;
using Dapper;
using Wergamon.App.Files;
using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;

namespace Wergamon.App.Tracks;

/// <summary>Analyses of copies in the database.</summary>
internal static class AnalysisRows
{
    public static void Save(IDbConnection connection, long copyId, AudioAnalysis? analysis, string? failure)
    {
        connection.Execute(
            """
            INSERT OR REPLACE INTO analysis (copy_id, samples, peak, waveform, failure, loudness, loudness_range, true_peak,
                loudness_blocks, downmix_peak)
            VALUES (@copyId, @samples, @peak, @waveform, @failure, @Integrated, @Range, @TruePeak, @Blocks, @DownmixPeak)
            """,
            new
            {
                copyId,
                samples = SumOf(analysis),
                peak = analysis?.Peak ?? 0,
                waveform = analysis?.Waveform ?? [],
                failure,
                analysis?.Loudness?.Integrated,
                analysis?.Loudness?.Range,
                analysis?.Loudness?.TruePeak,
                analysis?.Loudness?.Blocks,
                analysis?.DownmixPeak,
            });
        if (analysis is not null)
            connection.Execute(
                "UPDATE copy SET real_bits = @RealBits, real_rate = @RealRate WHERE id = @copyId",
                new { copyId, analysis.RealBits, analysis.RealRate });
        foreach (var damage in analysis?.Damage ?? [$"Its audio could not be read: {failure}"])
        {
            connection.Execute(
                "UPDATE copy SET damage = CASE WHEN damage IS NULL THEN @damage ELSE damage || ' ' || @damage END WHERE id = @copyId "
                    + "AND instr(COALESCE(damage, ''), @damage) = 0",
                new { copyId, damage });
        }
    }

    /// <summary>
    /// The digest of the samples of a copy; null before its analysis, for a damaged file, and for one that has changed since its scan.
    /// </summary>
    public static string? DigestOf(IDbConnection connection, long copyId)
    {
        var row = connection.QueryFirstOrDefault<(string? Samples, string Path, long Bytes, long ModifiedAt, long Number)>(
            "SELECT a.samples, c.path, c.file_bytes, c.modified_at, c.file_number FROM analysis a JOIN copy c ON c.id = a.copy_id "
                + "WHERE c.id = @copyId AND a.failure IS NULL AND c.damage IS NULL",
            new { copyId });
        return row.Samples is { } samples && FileStamp.Of(row.Path).Fits(new FileStamp(row.Bytes, row.ModifiedAt, row.Number))
            ? samples.Split(' ')[0]
            : null;
    }

    /// <summary>Adopts the analysis of a copy with the same samples, unless that no longer has the digest.</summary>
    public static void TakeOver(IDbConnection connection, long copyId, long fromCopyId, string digest)
    {
        int taken = connection.Execute(
            """
            INSERT OR REPLACE INTO analysis (copy_id, samples, peak, waveform, failure, loudness, loudness_range, true_peak,
                loudness_blocks, downmix_peak)
            SELECT @copyId, samples, peak, waveform, NULL, loudness, loudness_range, true_peak, loudness_blocks, downmix_peak FROM analysis
                WHERE copy_id = @fromCopyId AND failure IS NULL AND samples LIKE @digest || ' %'
            """,
            new { copyId, fromCopyId, digest });
        if (taken > 0)
            connection.Execute(
                "UPDATE copy SET (real_bits, real_rate) = (SELECT real_bits, real_rate FROM copy WHERE id = @fromCopyId) "
                    + "WHERE id = @copyId",
                new { copyId, fromCopyId });
    }

    /// <summary>
    /// Equal for equal samples of one format, whatever the container: rate, channels with their loudspeakers if these are not the usual
    /// ones, bits.
    /// </summary>
    private static string? SumOf(AudioAnalysis? analysis)
    {
        if (analysis is null || analysis.FrameCount == 0)
            return null;
        var format = analysis.Format;
        var roles = format.Roles.WithSurroundsAtBack();
        bool isUsual = roles == ChannelRoles.None || roles == ChannelRolesFacts.Usual(format.Channels).WithSurroundsAtBack();
        return $"{analysis.Digest} {format.Rate.Hertz} {format.Channels} {format.BitsInWords}{(isUsual ? "" : $" {(uint)roles:x}")}";
    }
}
