using System.Text.Json;
using Wergamon.App.Runs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Deliver;

/// <summary>A track to be made ready for a disc.</summary>
/// <param name="Index">Its place, from 0.</param>
/// <param name="Frames">As planned: samples of one channel at 44.1 kHz.</param>
internal sealed record BurnTrackSpec(int Index, long CopyId, long Frames, ConvertJob Job)
{
    public int Version { get; init; } = 1;

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.BurnTrackSpec);

    public static BurnTrackSpec Of(RunItemRow item) =>
        JsonSerializer.Deserialize(item.Spec, DeliverJson.Default.BurnTrackSpec) ?? throw new InvalidDataException($"Run item {item.Id} does not say which track.");
}

/// <param name="Frames">What there really is, samples of one channel.</param>
/// <param name="Steps">What was done to the sound, in words.</param>
internal sealed record BurnTrackResult(long Frames, string Steps)
{
    public static BurnTrackResult? Of(RunItemRow item) => item is { State: ItemState.Done, Result: { } result } ? JsonSerializer.Deserialize(result, DeliverJson.Default.BurnTrackResult) : null;
}

/// <summary>A disc to be written, or its image.</summary>
/// <param name="Tracks">In order, with the lengths that were planned.</param>
internal sealed record BurnDiscSpec(string Title, IReadOnlyList<BurnTrack> Tracks, AudioDiscSettings Settings)
{
    public int Version { get; init; } = 1;

    /// <summary>Which copy, from 1.</summary>
    public int Copy { get; init; } = 1;

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.BurnDiscSpec);

    public static BurnDiscSpec Of(RunItemRow item) =>
        JsonSerializer.Deserialize(item.Spec, DeliverJson.Default.BurnDiscSpec) ?? throw new InvalidDataException($"Run item {item.Id} does not say what to write.");
}

/// <summary>What was written.</summary>
/// <param name="Sums">CRC-32 of each stretch of sound that a drive reads as a track, what is hidden before track 1 first.</param>
/// <param name="Waits">How often the burner had to wait.</param>
internal sealed record BurnDiscResult(IReadOnlyList<uint> Sums, int LeadOut, int Waits)
{
    /// <summary>The key of the disc on the shelf; null for a trial or an image.</summary>
    public string? Key { get; init; }

    /// <summary>The sheet of an image.</summary>
    public string? Path { get; init; }

    public long Bytes { get; init; }

    public static BurnDiscResult? Of(RunItemRow item) => item is { State: ItemState.Done, Result: { } result } ? JsonSerializer.Deserialize(result, DeliverJson.Default.BurnDiscResult) : null;
}

/// <param name="Tracks">Tracks that read back equal to the sample.</param>
internal sealed record BurnCheckResult(int Tracks);
