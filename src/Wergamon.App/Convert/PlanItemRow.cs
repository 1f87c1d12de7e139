using System.Text.Json;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>A file that is joined to the line of a plan: a track of the library, or a file that is not in it.</summary>
internal sealed record PlanPiece(long? TrackId, PlanFile? File);

/// <summary>A line of a plan as it is stored.</summary>
internal sealed record PlanItemRow
{
    public const string Select = "SELECT position, track_id, file, is_left_out, stream, exception, part, appended FROM plan_item";

    public int Position { get; init; }

    public long? TrackId { get; init; }

    public string? File { get; init; }

    public bool IsLeftOut { get; init; }

    public int? Stream { get; init; }

    public string? Exception { get; init; }

    public string? Part { get; init; }

    public string? Appended { get; init; }

    public TrackPart? ReadPart() => Part is null ? null : JsonSerializer.Deserialize(Part, ConvertJson.Default.TrackPart);

    public IReadOnlyList<PlanPiece> ReadAppended() =>
        Appended is null ? [] : JsonSerializer.Deserialize(Appended, ConvertJson.Default.IReadOnlyListPlanPiece) ?? [];
}
