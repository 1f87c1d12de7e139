using System.Text.Json;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.App.Intake;

/// <summary>The states of reading one track of a disc as they stand in the database.</summary>
public static class RipTrackState
{
    public const string Waiting = "waiting";
    public const string Read = "read";
}

/// <summary>One track that a rip reads.</summary>
public sealed record RipTrackRow
{
    public long RunId { get; init; }

    public int Number { get; init; }

    public int FirstSector { get; init; }

    public int EndSector { get; init; }

    public string State { get; init; } = "";

    public string? Reading { get; init; }

    /// <summary>For a title of a surround disc: what it is made of, as JSON.</summary>
    public string? Surround { get; init; }

    public SurroundSource? ReadSurround() => Surround is null ? null : JsonSerializer.Deserialize(Surround, IntakeJson.Default.SurroundSource);

    public TrackSpan Span => new(Number, FirstSector, EndSector);

    public TrackReading? ReadReading() => Reading is null ? null : JsonSerializer.Deserialize(Reading, IntakeJson.Default.TrackReading);
}
