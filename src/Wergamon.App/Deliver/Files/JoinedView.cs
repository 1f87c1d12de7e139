using Wergamon.App.Runs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Files;

/// <summary>A long file that is planned.</summary>
/// <param name="Common">What all tracks are brought to before they are joined.</param>
/// <param name="Whole">What happens to the joined sound; null while there is nothing to join.</param>
public sealed record JoinedView(
    DeliveryRow Row, JoinedSettings Settings, Target Target, IReadOnlyList<JoinedLine> Lines, Target Common, Route? Whole,
    TimeSpan Duration)
{
    /// <summary>Why it cannot be made, for the person; null when it can.</summary>
    public string? Problem =>
        Lines.Count == 0 ? "There is nothing to join yet."
        : Lines.FirstOrDefault(line => line.Route is null) is { } missing
            ? $"The file of “{missing.Title}” is missing. Scan its folder, or remove the track."
        : null;

    /// <summary>The newest run; null before the first.</summary>
    public RunRow? Run { get; init; }
}
