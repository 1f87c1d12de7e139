using System.Data;
using Dapper;
using Wergamon.Core.Analysis;

namespace Wergamon.App.Library;

/// <summary>Analyses of copies in the database.</summary>
internal static class AnalysisRows
{
    public static void Save(IDbConnection connection, long copyId, AudioAnalysis? analysis, string? failure)
    {
        connection.Execute(
            "INSERT OR REPLACE INTO analysis (copy_id, samples, peak, waveform, failure) VALUES (@copyId, @samples, @peak, @waveform, @failure)",
            new { copyId, samples = SumOf(analysis), peak = analysis?.Peak ?? 0, waveform = analysis?.Waveform ?? [], failure });
        if (analysis is not null)
            connection.Execute("UPDATE copy SET real_bits = @RealBits, real_rate = @RealRate WHERE id = @copyId", new { copyId, analysis.RealBits, analysis.RealRate });
        foreach (var damage in analysis?.Damage ?? [$"Its sound could not be read: {failure}"])
        {
            connection.Execute(
                "UPDATE copy SET damage = CASE WHEN damage IS NULL THEN @damage ELSE damage || ' ' || @damage END WHERE id = @copyId AND instr(COALESCE(damage, ''), @damage) = 0",
                new { copyId, damage });
        }
    }

    /// <summary>Equal for equal samples of one shape, whatever the container.</summary>
    private static string? SumOf(AudioAnalysis? analysis) =>
        analysis is null || analysis.FrameCount == 0 ? null : $"{analysis.Digest} {analysis.Format.Rate.Hertz} {analysis.Format.Channels} {analysis.Format.BitsInWords}";
}
