using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>Analyses of the music of copies in the database.</summary>
internal static class MusicRows
{
    /// <summary>Copies with all components of energy.</summary>
    private const string Measured = "FROM music m JOIN analysis a ON a.copy_id = m.copy_id WHERE m.failure IS NULL "
        + "AND a.loudness IS NOT NULL";

    public static void Save(IDbConnection connection, long copyId, MusicAnalysis? analysis, string? failure)
    {
        var (tempo, key) = (analysis?.Tempo, analysis?.Key);
        connection.Execute(
            """
            INSERT OR REPLACE INTO music (copy_id, tempo, first_beat, tempo_confidence, slowest, fastest, alternatives,
                musical_key, second_key, key_confidence, tuning, onsets, brightness, first_sound, last_sound, first_change, last_change,
                    failure)
            SELECT id, @tempo, @firstBeat, @tempoConfidence, @slowest, @fastest, @alternatives,
                @key, @second, @keyConfidence, @tuning, @onsets, @brightness, @firstSound, @lastSound, @FirstChange, @LastChange, @failure
                    FROM copy WHERE id = @copyId
            """,
            new
            {
                copyId,
                tempo = tempo?.Grid.BeatsPerMinute,
                firstBeat = tempo?.Grid.FirstBeat,
                tempoConfidence = tempo?.Confidence,
                slowest = tempo?.Lowest,
                fastest = tempo?.Highest,
                alternatives = JsonSerializer.Serialize(tempo?.Alternatives ?? [], SetsJson.Default.IReadOnlyListDouble),
                key = key?.Key.ToString(),
                second = key?.Second.ToString(),
                keyConfidence = key?.Confidence,
                tuning = key?.Tuning,
                onsets = analysis?.OnsetsPerSecond ?? 0,
                brightness = analysis?.Brightness ?? 0,
                firstSound = analysis?.FirstSound ?? 0,
                lastSound = analysis?.LastSound ?? 0,
                analysis?.FirstChange,
                analysis?.LastChange,
                failure,
            });
    }

    /// <summary>What was found of a track beside its figures; null before it is analysed.</summary>
    public static MusicDetail? Detail(IDbConnection connection, long trackId) => connection.QueryFirstOrDefault<MusicDetail>(
        """
        SELECT m.alternatives AS alternatives_json, m.second_key, m.tuning, m.first_sound, m.last_sound, m.first_change, m.last_change,
            m.failure
        FROM music m JOIN copy c ON c.id = m.copy_id WHERE c.track_id = @trackId ORDER BY m.failure IS NOT NULL, m.copy_id LIMIT 1
        """,
        new { trackId });

    /// <summary>How many copies have been analysed.</summary>
    public static int Count(IDbConnection connection) => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM music");

    /// <summary>The scale of energies of the library.</summary>
    public static EnergyScale Scale(IDbConnection connection) => new(
        connection.Query<(double Loudness, double Onsets, double Brightness)>(
            "SELECT a.loudness, m.onsets, m.brightness " + Measured)
        .Select(row => new EnergyFacts(row.Loudness, row.Onsets, row.Brightness)).ToList());
}
