using System.Text.Json;

namespace Wergamon.App.Sets;

/// <summary>What was found of the music of a track beside its figures; see <see cref="MeasuredFigures"/>.</summary>
public sealed record MusicDetail
{
    public string AlternativesJson { get; init; } = "[]";

    public string? SecondKey { get; init; }

    /// <summary>Frequency of A in Hz.</summary>
    public double? Tuning { get; init; }

    /// <summary>Seconds, as are all places.</summary>
    public double FirstSound { get; init; }

    public double LastSound { get; init; }

    public double? FirstChange { get; init; }

    public double? LastChange { get; init; }

    /// <summary>Why the file could not be analysed.</summary>
    public string? Failure { get; init; }

    /// <summary>Other tempos at which the same beats can be counted, the likeliest first.</summary>
    public IReadOnlyList<double> Alternatives => JsonSerializer.Deserialize(AlternativesJson, SetsJson.Default.IReadOnlyListDouble) ?? [];

    /// <summary>Marks that the sound suggests, in order of time.</summary>
    /// <param name="firstBeat">As measured; null where no beat was found.</param>
    public IReadOnlyList<(double Seconds, string Title)> Proposed(double? firstBeat) => [.. new (double? Seconds, string Title)[]
        {
            (firstBeat, "First beat"), (FirstChange, "First change"), (LastChange, "Last change"),
        }.Where(mark => mark.Seconds is not null).Select(mark => (mark.Seconds!.Value, mark.Title))];
}
