using System.Globalization;

namespace Wergamon.Core.Discs.Burning;

/// <summary>A track in its place on the disc.</summary>
/// <param name="Number">0 for the hidden track before track 1.</param>
/// <param name="PauseStart">Equal to <paramref name="Start"/> without a pause.</param>
/// <param name="End">The sector after its last.</param>
public readonly record struct LaidTrack(int Number, int PauseStart, int Start, int End)
{
    public int Sectors => End - Start;
}

/// <summary>A stretch of what is written: frames of a track, or silence.</summary>
/// <param name="Track">Which of the tracks, from 0; null for silence.</param>
public readonly record struct DiscStretch(int? Track, long Frames);

/// <summary>
/// Where tracks are on an audio disc, and what is written in sequence (IEC 60908: sectors of 588 frames, tracks of at least four
/// seconds, 99 at most).
/// </summary>
public sealed record DiscLayout
{
    private DiscLayout(IReadOnlyList<BurnTrack> source) => Source = source;

    public IReadOnlyList<BurnTrack> Source { get; }

    /// <summary>In order; the numbers rise from 1, or from 0 with a hidden one.</summary>
    public IReadOnlyList<LaidTrack> Tracks { get; private init; } = [];

    /// <summary>All that is written, without gaps: together the sectors up to <see cref="LeadOut"/>.</summary>
    public IReadOnlyList<DiscStretch> Stretches { get; private init; } = [];

    /// <summary>The sector after the last.</summary>
    public int LeadOut { get; private init; }

    /// <summary>For the person: tracks that are lengthened with silence.</summary>
    public IReadOnlyList<string> Notes { get; private init; } = [];

    /// <param name="tracks">At least one, each with at least one frame.</param>
    public static DiscLayout Of(IReadOnlyList<BurnTrack> tracks, BurnOptions options)
    {
        var builder = new Builder(tracks, options);
        for (int i = 0; i < tracks.Count; i++)
            builder.Add(i);
        return builder.Build();
    }

    /// <summary>Why it cannot be written to a blank, for the person; null when it can.</summary>
    public string? ProblemFor(DiscBlank blank)
    {
        if (Tracks.Count == 0)
            return "There is nothing to burn yet.";
        if (!blank.TakesAudio)
            return $"A disc of {blank.Name} holds data, not audio tracks. Insert a blank of 74 or 80 minutes.";
        if (Tracks[^1].Number > AudioDisc.MaxTracks)
            return $"A disc has at most {AudioDisc.MaxTracks} tracks; these are {Tracks[^1].Number}. Leave some out, or split them over "
                + "several discs.";
        if (Tracks[^1].Number == 0)
            return "A hidden track needs a track 1 after it.";
        int over = LeadOut - blank.Sectors;
        return over > 0
            ? string.Create(
                CultureInfo.InvariantCulture,
                $"This is {InWords(LeadOut)} long and the disc has room for {InWords(blank.Sectors)}: {InWords(over)} too much. Leave "
                    + $"tracks out, or split them over several discs.")
            : null;
    }

    /// <summary>The table of contents that the disc will have.</summary>
    public TableOfContents Contents(string? catalogueNumber = null) => new(
        [.. Tracks.Where(track => track.Number > 0).Select(track => new DiscTrack(track.Number, IsAudio: true, track.Start)
        {
            // What is hidden counts as the pause of track 1.
            PauseStart = track.Number == 1 ? 0 : track.PauseStart,
            Isrc = DiscCodes.NormaliseIsrc(SourceOf(track).Isrc),
            MoreIndexes = [.. IndexSectors(track)],
        })],
        LeadOut)
    {
        CatalogueNumber = DiscCodes.IsCatalogueNumber(catalogueNumber) ? catalogueNumber : null,
    };

    /// <summary>Index numbers go up to 99 (IEC 60908).</summary>
    private IEnumerable<int> IndexSectors(LaidTrack track) =>
        SourceOf(track).Indexes.Select(frame => track.Start + (int)(frame / AudioDisc.FramesPerSector))
        .Where(sector => sector > track.Start && sector < track.End).Distinct().Order().Take(AudioDisc.MaxTracks - 1);

    /// <summary>What was asked for at a place on the disc.</summary>
    public BurnTrack SourceOf(LaidTrack track) => Source[track.Number - Tracks[0].Number];

    /// <summary>Minutes and seconds, with a started second counted as one.</summary>
    private static string InWords(int sectors)
    {
        int seconds = (sectors + AudioDisc.SectorsPerSecond - 1) / AudioDisc.SectorsPerSecond;
        return string.Create(CultureInfo.InvariantCulture, $"{seconds / 60}:{seconds % 60:00}");
    }

    private sealed class Builder(IReadOnlyList<BurnTrack> source, BurnOptions options)
    {
        private const int Frames = AudioDisc.FramesPerSector;

        private readonly List<LaidTrack> _tracks = [];
        private readonly List<DiscStretch> _stretches = [];
        private readonly List<string> _notes = [];
        private long _frames;

        public void Add(int index)
        {
            var track = source[index];
            int pause = index == 0 ? 0 : track.PauseSectors ?? options.PauseSectors;
            // Before a pause the sector is filled up; without one the next track completes it.
            if (pause > 0)
                FillSector();
            EndTrack();
            int pauseStart = (int)(_frames / Frames);
            Write(null, (long)pause * Frames);
            int start = (int)(_frames / Frames);
            _tracks.Add(new LaidTrack(index + (options.IsFirstHidden ? 0 : 1), pauseStart, start, start));
            Write(index, track.Frames);
            long least = (long)(start + AudioDisc.MinTrackSectors) * Frames;
            if (_frames >= least || _tracks[^1].Number == 0)
                return;
            _notes.Add(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"“{track.Title}” is {(double)track.Frames / AudioDisc.FramesPerSector / AudioDisc.SectorsPerSecond:0.0} s long. A "
                        + $"track on a disc lasts at least 4 s, so silence is added."));
            Write(null, least - _frames);
        }

        public DiscLayout Build()
        {
            FillSector();
            EndTrack();
            return new DiscLayout(source) { Tracks = _tracks, Stretches = _stretches, Notes = _notes, LeadOut = (int)(_frames / Frames) };
        }

        private void FillSector() => Write(null, (Frames - _frames % Frames) % Frames);

        private void EndTrack()
        {
            if (_tracks.Count > 0)
                _tracks[^1] = _tracks[^1] with { End = (int)(_frames / Frames) };
        }

        private void Write(int? track, long frames)
        {
            if (frames == 0)
                return;
            _frames += frames;
            if (track is null && _stretches is [.., { Track: null } last])
                _stretches[^1] = last with { Frames = last.Frames + frames };
            else
                _stretches.Add(new DiscStretch(track, frames));
        }
    }
}
