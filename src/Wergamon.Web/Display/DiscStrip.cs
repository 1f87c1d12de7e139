using System.Globalization;
using Wergamon.App.Intake;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.Web.Display;

/// <summary>One stretch of the strip.</summary>
/// <param name="X">In units of the drawing.</param>
public readonly record struct StripPart(double X, double Width);

/// <param name="Label">For screen readers, and on hover.</param>
/// <param name="Once">What has been read once.</param>
/// <param name="Twice">What has been read and compared.</param>
public sealed record StripTrack(string Number, StripPart Whole, StripPart Once, StripPart Twice, string Label)
{
    /// <summary>True for a track that exceeds the capacity of the disc.</summary>
    public bool IsOver { get; init; }
}

/// <param name="Label">"Read again at 1:07.3".</param>
public sealed record StripMark(StripPart Place, string Label);

/// <summary>A disc on a time axis: tracks to scale, filling as they are read, with marks for re-reads and damage.</summary>
public sealed class DiscStrip
{
    public const int Width = 1210;

    /// <summary>Minimum width, so that the mark of a single sector is visible.</summary>
    private const double MinMark = 2;

    /// <summary>Possible ends of the axis in minutes: 80 for a full disc, less for a short one.</summary>
    private static readonly int[] AxisEnds = [2, 5, 10, 20, 80, 100];

    private const int SectorsPerMinute = 60 * AudioDisc.SectorsPerSecond;

    private readonly double _perSector;

    /// <param name="spans">The tracks of the disc in order.</param>
    public DiscStrip(IReadOnlyList<TrackSpan> spans, IReadOnlyList<RipTrackRow> rip, ReadingNow? now)
    {
        int end = spans.Count == 0 ? 0 : spans[^1].EndSector;
        AxisMinutes = AxisEnds.FirstOrDefault(minutes => end <= minutes * 60 * AudioDisc.SectorsPerSecond, AxisEnds[^1]);
        _perSector = Width / (AxisMinutes * 60.0 * AudioDisc.SectorsPerSecond);
        Tracks = [.. spans.Select(span => Track(span, rip.FirstOrDefault(track => track.Number == span.Number), now))];
        Edge = now is null ? null : X(now.ReadOnceTo);
        Again = [
            .. (now?.ReadAgain ?? []).Select(sector => Mark(sector, 1, $"Read again at {At(sector)}")).Concat(rip.SelectMany(AgainIn))
        ];
        Doubtful = [.. rip.SelectMany(DoubtfulIn)];
    }

    /// <summary>A disc to be burned.</summary>
    /// <param name="tracks">In their places.</param>
    /// <param name="room">Sectors that the disc has.</param>
    /// <param name="written">The sector up to which it is written.</param>
    /// <param name="checkedTo">The sector up to which it was read back.</param>
    public DiscStrip(IReadOnlyList<LaidTrack> tracks, int room, int written, int checkedTo)
    {
        int end = Math.Max(room, tracks.Count == 0 ? 0 : tracks[^1].End);
        AxisMinutes = (end + SectorsPerMinute - 1) / SectorsPerMinute;
        _perSector = Width / ((double)AxisMinutes * SectorsPerMinute);
        RoomEnd = X(room);
        Tracks =
        [
            .. tracks.Select(track => new StripTrack(
                track.Number == 0 ? "" : track.Number.ToString(CultureInfo.InvariantCulture), Part(track.Start, track.End),
                Part(track.Start, Math.Clamp(written, track.Start, track.End)),
                Part(track.Start, Math.Clamp(checkedTo, track.Start, track.End)),
                $"{(track.Number == 0 ? "Hidden track" : $"Track {track.Number}")}, {At(track.Start)} to {At(track.End)}")
            {
                IsOver = track.End > room,
            }),
        ];
        Edge = written > 0 && written < end && checkedTo == 0
            ? X(written)
            : checkedTo > 0 && checkedTo < tracks[^1].End
            ? X(checkedTo)
            : null;
        Again = Doubtful = [];
    }

    /// <summary>Where the room of the disc ends.</summary>
    public double RoomEnd { get; } = Width;

    public int AxisMinutes { get; }

    /// <summary>Ticks of the axis with their minutes.</summary>
    public IEnumerable<(double X, string Label)> Ticks
    {
        get
        {
            int step = AxisMinutes > 200 ? 60 : AxisMinutes > 40 ? 10 : AxisMinutes > 10 ? 5 : 1;
            for (int minute = 0; minute <= AxisMinutes; minute += step)
                yield return (
                    minute * 60.0 * AudioDisc.SectorsPerSecond * _perSector,
                    minute == AxisMinutes ? $"{minute} min" : minute.ToString(CultureInfo.InvariantCulture));
        }
    }

    public IReadOnlyList<StripTrack> Tracks { get; }

    /// <summary>Current position of the drive.</summary>
    public double? Edge { get; }

    public IReadOnlyList<StripMark> Again { get; }

    public IReadOnlyList<StripMark> Doubtful { get; }

    private double X(int sector) => sector * _perSector;

    private StripTrack Track(TrackSpan span, RipTrackRow? rip, ReadingNow? now)
    {
        bool isRead = rip?.IsRead == true;
        bool isNow = now is not null && now.Track == span.Number && rip is not null;
        int once = isRead ? span.EndSector : isNow ? now!.ReadOnceTo : span.FirstSector;
        int twice = isRead ? span.EndSector : isNow ? now!.ReadTwiceTo : span.FirstSector;
        var words = $"{(span.Number == TrackSpan.HiddenNumber ? "Hidden track" : $"Track {span.Number}")}, {At(span.FirstSector)} to "
            + $"{At(span.EndSector)}{(isRead ? ", read" : isNow ? ", being read" : "")}";
        return new StripTrack(
            span.Number == TrackSpan.HiddenNumber ? "" : span.Number.ToString(CultureInfo.InvariantCulture),
            Part(span.FirstSector, span.EndSector), Part(span.FirstSector, once), Part(span.FirstSector, twice), words);
    }

    private StripPart Part(int from, int end) => new(X(from), Math.Max(0, X(end) - X(from)));

    private StripMark Mark(int sector, int sectors, string label) =>
        new(new StripPart(X(sector), Math.Max(MinMark, sectors * _perSector)), label);

    private IEnumerable<StripMark> AgainIn(RipTrackRow track) => (track.Reading?.ReReads ?? [])
        .Select(
            again =>
                Mark(
                    SectorOf(track, again.Stretch), SectorsOf(again.Stretch),
                    $"Read again {again.Times} times at {At(SectorOf(track, again.Stretch))}"));

    private IEnumerable<StripMark> DoubtfulIn(RipTrackRow track) => (track.Reading?.Doubtful ?? [])
        .Select(stretch => Mark(SectorOf(track, stretch), SectorsOf(stretch), $"Doubtful at {At(SectorOf(track, stretch))}"));

    private static int SectorOf(RipTrackRow track, FrameStretch stretch) =>
        track.FirstSector + (int)(stretch.First / AudioDisc.FramesPerSector);

    private static int SectorsOf(FrameStretch stretch) => (int)(stretch.Count / AudioDisc.FramesPerSector) + 1;

    private static string At(int sector) => Labels.Time(new Msf(sector).Duration);
}
