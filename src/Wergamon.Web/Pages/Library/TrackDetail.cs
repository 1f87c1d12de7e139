using Wergamon.App.Library.Matching;
using Wergamon.App.Tracks;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Library;

/// <summary>Everything shown of one track.</summary>
/// <param name="Pictures">Of the master copy.</param>
/// <param name="Joined">The rules by which copies from elsewhere were joined to this track.</param>
/// <param name="TakenFrom">Copies of other tracks from which the master copy was separated.</param>
/// <param name="History">The latest first.</param>
public sealed record TrackDetail(
    TrackRow Track, TagSet Tags, IReadOnlyList<LineageLine> Lineage, IReadOnlyList<CopyPicture> Pictures,
    IReadOnlyDictionary<long, MatchRow> Joined,
    IReadOnlyList<CopyRow> TakenFrom, IReadOnlyList<CopyEvent> History)
{
    public static TrackDetail? Read(LibraryQueries library, TrackMatcher matcher, long trackId)
    {
        if (library.TracksById([trackId]) is not [var track])
            return null;
        var made = library.LineageOf(trackId).ToDictionary(row => row.CopyId);
        var lines = new List<LineageLine>();
        foreach (var copy in track.Copies.Where(
            copy => !made.TryGetValue(copy.Id, out var row) || track.Copies.All(other => other.Id != row.FromCopyId)))
            AddWithDescendants(copy, null);
        return new TrackDetail(
            track, library.TagsOf(track.Master.Id), lines, library.PicturesOf(track.Master.Id),
            matcher.Of(trackId).GroupBy(row => row.CopyId).ToDictionary(rows => rows.Key, rows => rows.First()),
            matcher.TakenFrom(track.Master.Id), library.HistoryOf(trackId));

        void AddWithDescendants(CopyRow copy, CopyRow? from)
        {
            lines.Add(new LineageLine(copy, made.GetValueOrDefault(copy.Id), from, from is not null && lines[^1].Copy == from));
            foreach (var child in track.Copies.Where(child => made.TryGetValue(child.Id, out var row) && row.FromCopyId == copy.Id))
                AddWithDescendants(child, copy);
        }
    }

    /// <summary>How a copy was joined to this track: "joined with FLAC 16/44.1 by equal samples".</summary>
    public string? MatchedBy(CopyRow copy) => Joined.TryGetValue(copy.Id, out var match)
        ? (
            Track.Copies.FirstOrDefault(other => other.Id == match.WithCopyId) is { } with
                ? $"joined with {with.Facts.ShortLabel}"
                : "joined")
            + $": {TrackMatcher.InWords(match.Rule)}"
        : null;

    /// <summary>Audio facts of the master copy, as names and values.</summary>
    public IEnumerable<(string Name, string Value)> SoundFacts(DateTimeOffset now)
    {
        var (copy, facts) = (Track.Master, Track.Master.Facts);
        yield return ("Format", facts.CodecName + (facts.IsLossless ? ", lossless" : ", lossy"));
        yield return ("Sound", facts.IsLossless ? facts.Format.ToString() : $"{facts.Format.Rate} {facts.Format.ChannelsInWords}");
        if (copy is { Sound.IsLossless: true, RealBits: > 0 and { } bits } && bits < copy.Sound.Bits)
            yield return ("Really", $"{bits}-bit: the lowest {copy.Sound.Bits - bits} bits are empty");
        if (copy is { Sound.IsLossless: true, RealBits: 0 })
            yield return ("Really", "silence");
        if (copy is { Sound.IsLossless: true, RealRate: { } rate } && rate < copy.Sound.SampleRate)
            yield return ("Really", $"nothing above {rate / 2000.0:0.##} kHz: {new Core.Audio.SampleRate(rate)} would hold it");
        yield return (
            "Bitrate",
            $"{facts.KilobitsPerSecond:N0} "
                + $"kbit/s{facts.IsVariableBitRate switch { true => ", variable", false => ", constant", null => "" }}");
        yield return ("Length", $"{Labels.Time(facts.Duration)}, {facts.FrameCount:N0} samples");
        yield return ("Size", Labels.Size(copy.FileBytes));
        yield return ("Added", Labels.Day(copy.AddedAt, now));
    }
}
