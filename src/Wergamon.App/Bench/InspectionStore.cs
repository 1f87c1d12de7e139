using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Analysis.Findings;

namespace Wergamon.App.Bench;

/// <summary>A copy with what was found in it.</summary>
public sealed record InspectedCopy(CopyRow Copy, TrackRow Track, Inspection Inspection);

/// <summary>How many copies were checked, and what was found.</summary>
/// <param name="Sure">Copies with something that is likely or certain.</param>
/// <param name="Unsure">Copies with unsure findings only.</param>
/// <param name="Kinds">Copies with each kind, sure or not; the most frequent first.</param>
public sealed record InspectionCounts(int Inspected, int Left, int Sure, int Unsure, IReadOnlyList<(FindingKind Kind, int Copies)> Kinds);

/// <summary>Inspections in the database.</summary>
public sealed class InspectionStore(Database database, LibraryQueries library)
{
    private const string There = "NOT c.is_trashed AND NOT c.is_missing";

    public InspectionCounts Count() => database.Read("inspections", connection =>
    {
        int inspected = connection.ExecuteScalar<int>($"SELECT COUNT(*) FROM inspection i JOIN copy c ON c.id = i.copy_id WHERE {There}");
        int all = connection.ExecuteScalar<int>($"SELECT COUNT(*) FROM copy c WHERE {There}");
        int sure = connection.ExecuteScalar<int>(
            $"SELECT COUNT(DISTINCT f.copy_id) FROM finding f JOIN copy c ON c.id = f.copy_id WHERE f.is_sure AND {There}");
        int any = connection.ExecuteScalar<int>(
            $"SELECT COUNT(DISTINCT f.copy_id) FROM finding f JOIN copy c ON c.id = f.copy_id WHERE {There}");
        var kinds = connection.Query<(string Kind, int Copies)>(
            $"SELECT f.kind, COUNT(*) FROM finding f JOIN copy c ON c.id = f.copy_id WHERE {There} GROUP BY f.kind "
                + "ORDER BY COUNT(*) DESC, f.kind");
        return new InspectionCounts(
            inspected, all - inspected, sure, any - sure,
            [
                .. kinds.Where(row => Enum.TryParse<FindingKind>(row.Kind, out _))
                    .Select(row => (Enum.Parse<FindingKind>(row.Kind), row.Copies))
            ]);
    });

    /// <summary>Copies with findings, the surest first.</summary>
    /// <param name="kind">Only those of this kind; null for all.</param>
    public IReadOnlyList<InspectedCopy> List(FindingKind? kind, int offset, int count)
    {
        using var connection = database.Open();
        var rows = connection.Query<(long CopyId, string Result)>(
            $"""
            SELECT i.copy_id, i.result FROM inspection i JOIN copy c ON c.id = i.copy_id
            WHERE i.result IS NOT NULL AND {There} AND EXISTS (SELECT 1 FROM finding f WHERE f.copy_id = i.copy_id
                AND (@kind IS NULL OR f.kind = @kind))
            ORDER BY (SELECT MAX(f.is_sure) FROM finding f WHERE f.copy_id = i.copy_id AND (@kind IS NULL OR f.kind = @kind)) DESC, c.path
                LIMIT @count OFFSET @offset
            """,
            new { kind = kind?.ToString(), offset, count });
        return [.. rows.Select(row => Of(row.CopyId, row.Result)).OfType<InspectedCopy>()];
    }

    public InspectedCopy? Get(long copyId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string?>(
                "SELECT result FROM inspection WHERE copy_id = @copyId", new { copyId }) is { } result
            ? Of(copyId, result)
            : null;
    }

    /// <summary>Copies that were not checked yet, in the order of their paths.</summary>
    /// <param name="copyIds">Only these; null for the whole library.</param>
    internal IReadOnlyList<CopyRow> Left(IReadOnlyCollection<long>? copyIds)
    {
        using var connection = database.Open();
        return CopyRows.Query(
            connection,
            $"""
            {There} AND NOT EXISTS (SELECT 1 FROM inspection i WHERE i.copy_id = c.id)
                AND (@list IS NULL OR c.id IN (SELECT value FROM json_each(@list))) ORDER BY c.path
            """,
            new { list = copyIds is null ? null : "[" + string.Join(',', copyIds) + "]" }).AsList();
    }

    internal void Save(long copyId, Inspection? inspection, string? failure) => database.Change(connection =>
    {
        if (!connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM copy WHERE id = @copyId)", new { copyId }))
            return;
        connection.Execute("DELETE FROM finding WHERE copy_id = @copyId", new { copyId });
        connection.Execute(
            "INSERT OR REPLACE INTO inspection (copy_id, result, failure) VALUES (@copyId, @result, @failure)",
            new
            {
                copyId,
                result = inspection is null ? null : JsonSerializer.Serialize(inspection, BenchJson.Default.Inspection),
                failure
            });
        connection.Execute(
            "INSERT INTO finding (copy_id, kind, is_sure) VALUES (@copyId, @kind, @isSure)",
            (inspection?.Findings ?? []).GroupBy(finding => finding.Kind)
                .Select(
                    kind => new { copyId, kind = kind.Key.ToString(), isSure = kind.Any(finding => finding.Sureness > Sureness.Unsure) }));
    });

    private InspectedCopy? Of(long copyId, string result) =>
        library.Copy(copyId) is { } copy && library.TracksById([copy.TrackId]) is [var track]
            ? new InspectedCopy(copy, track, JsonSerializer.Deserialize(result, BenchJson.Default.Inspection)!)
            : null;
}
