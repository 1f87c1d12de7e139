using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Intake;

/// <summary>A disc in a drive, with what is known about it.</summary>
/// <param name="Candidates">Albums in the catalogue with the same table of contents, the best first.</param>
/// <param name="Others">Sums that others got.</param>
public sealed record InsertedDisc(
    string Letter, LoadedDisc Disc, long DiscId, LookUpState State, IReadOnlyList<CatalogueEntry> Candidates,
    IReadOnlyList<OtherReadings> Others)
{
    /// <summary>Why the catalogue gave no answer.</summary>
    public string? Failure { get; init; }

    public TableOfContents Contents => Disc.Image.Contents;

    public bool IsSurround => Disc.Titles.Count > 0;

    /// <summary>The parts of the disc on a time line: tracks, or the titles of a surround disc one after another.</summary>
    public IReadOnlyList<TrackSpan> Spans(Pauses pauses)
    {
        if (!IsSurround)
            return TrackSpan.Of(Contents, pauses);
        var spans = new List<TrackSpan>();
        foreach (var title in Disc.Titles)
        {
            int start = spans.Count == 0 ? 0 : spans[^1].EndSector;
            spans.Add(
                new TrackSpan(title.Number, start, start + (int)Math.Ceiling(title.Duration.TotalSeconds * AudioDisc.SectorsPerSecond)));
        }

        return spans;
    }
}
