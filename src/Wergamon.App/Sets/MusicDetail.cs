using System.Text.Json;

namespace Wergamon.App.Sets;

/// <summary>All that was found of the music of a track.</summary>
public sealed record MusicDetail
{
    public double? Tempo { get; init; }

    /// <summary>0 to 1.</summary>
    public double? TempoConfidence { get; init; }

    public double? Slowest { get; init; }

    public double? Fastest { get; init; }

    public string AlternativesJson { get; init; } = "[]";

    public string? MusicalKey { get; init; }

    public string? SecondKey { get; init; }

    /// <summary>0 to 1.</summary>
    public double? KeyConfidence { get; init; }

    /// <summary>Frequency of A in Hz.</summary>
    public double? Tuning { get; init; }

    /// <summary>Seconds, as are all places.</summary>
    public double FirstSound { get; init; }

    public double LastSound { get; init; }

    public double? FirstBeat { get; init; }

    public double? FirstChange { get; init; }

    public double? LastChange { get; init; }

    /// <summary>Integrated, in LUFS.</summary>
    public double? Loudness { get; init; }

    /// <summary>1 is full scale.</summary>
    public double? TruePeak { get; init; }

    /// <summary>Why the file could not be analysed.</summary>
    public string? Failure { get; init; }

    /// <summary>Other tempos at which the same beats can be counted, the likeliest first.</summary>
    public IReadOnlyList<double> Alternatives => JsonSerializer.Deserialize(AlternativesJson, SetsJson.Default.IReadOnlyListDouble) ?? [];

    /// <summary>Marks that the sound suggests, in order of time.</summary>
    public IReadOnlyList<(double Seconds, string Title)> Proposed => [.. new (double? Seconds, string Title)[]
        {
            (FirstBeat, "First beat"), (FirstChange, "First change"), (LastChange, "Last change"),
        }.Where(mark => mark.Seconds is not null).Select(mark => (mark.Seconds!.Value, mark.Title))];
}
