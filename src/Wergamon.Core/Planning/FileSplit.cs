using System.Globalization;
using System.Text.RegularExpressions;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Planning;

/// <summary>Where a part of a file begins.</summary>
/// <param name="Start">From the start of the file.</param>
/// <param name="Title">Null where nothing tells it.</param>
public sealed record SplitMark(TimeSpan Start, string? Title)
{
    public string? Artist { get; init; }

    /// <summary>Title and artist of the whole, where the marks come with them.</summary>
    public string? Album { get; init; }

    public string? AlbumArtist { get; init; }
}

/// <summary>Splits a long file into parts that together hold every one of its samples.</summary>
public static partial class FileSplit
{
    private const int MaxParts = 999;

    /// <param name="marks">In any order; those outside of the file are skipped.</param>
    /// <param name="format">Of the file.</param>
    /// <param name="frames">Its length.</param>
    /// <param name="onSectors">True to begin each part at the nearest border of a sector of an audio disc, so that parts can be burned
    /// without gaps.</param>
    /// <param name="numbersLead">True where the first mark is that of track 1: what comes before it gets the number 0.</param>
    /// <returns>At least two parts, or in words why there are none.</returns>
    public static (IReadOnlyList<TrackPart> Parts, string? Problem) Split(
        IEnumerable<SplitMark> marks, PcmFormat format, long frames, bool onSectors, bool numbersLead = false)
    {
        var starts = new SortedDictionary<long, SplitMark?>();
        foreach (var mark in marks)
        {
            long frame = FrameOf(mark.Start, format.Rate, onSectors);
            if (frame >= 0 && frame < frames)
                starts.TryAdd(frame, mark);
        }

        bool hasLead = !starts.ContainsKey(0);
        starts.TryAdd(0, null);
        if (starts.Count == 1)
            return ([], $"No mark is within the file, which is {InWords(format.Duration(frames))} long.");
        if (starts.Count > MaxParts)
            return ([], $"{starts.Count} parts are more than {MaxParts}.");
        var places = starts.Keys.ToList();
        var whole = starts.Values.FirstOrDefault(mark => mark is not null);
        int offset = hasLead && numbersLead ? 0 : 1;
        return ([.. places.Select((start, i) => new TrackPart(
            new FrameRange(start, (i + 1 < places.Count ? places[i + 1] : frames) - start), i + offset, places.Count - 1 + offset,
            starts[start]?.Title is { Length: > 0 } title ? title : null)
        {
            Artist = starts[start]?.Artist,
            Album = whole?.Album,
            AlbumArtist = whole?.AlbumArtist,
        })], null);
    }

    /// <summary>The tracks of one file of a cue sheet, where their index 01 says.</summary>
    /// <param name="file">Which of its files.</param>
    public static IReadOnlyList<SplitMark> MarksOf(CueSheet sheet, int file) =>
    [
        .. sheet.Tracks.Where(track => track.IsAudio).SelectMany(
            track => track.Indexes.Where(index => index.Number == 1 && index.File == file)
            .Select(
                index =>
                    new SplitMark(index.Time.Duration, track.Title)
                    {
                        Artist = track.Performer ?? sheet.Performer, Album = sheet.Title, AlbumArtist = sheet.Performer
                    })),
    ];

    public static IReadOnlyList<SplitMark> MarksOf(IEnumerable<ChapterMark> chapters) =>
        [.. chapters.Select(chapter => new SplitMark(chapter.Start, chapter.Title))];

    /// <summary>Marks as a person types them: one a line, a time and a title if wanted, as in "1:02:30.5 The Long Adit".</summary>
    public static (IReadOnlyList<SplitMark> Marks, string? Problem) Read(string typed)
    {
        var marks = new List<SplitMark>();
        foreach (var line in typed.Split('\n').Select(line => line.Trim()).Where(line => line.Length > 0))
        {
            var match = Typed().Match(line);
            if (!match.Success)
                return ([], $"\"{line}\" does not begin with a time such as 3:25 or 1:02:30.5.");
            double seconds = double.Parse(match.Groups["seconds"].Value, CultureInfo.InvariantCulture);
            int minutes = int.Parse(match.Groups["minutes"].Value, CultureInfo.InvariantCulture),
                hours = match.Groups["hours"].Success ? int.Parse(match.Groups["hours"].Value, CultureInfo.InvariantCulture) : 0;
            marks.Add(
                new SplitMark(
                    TimeSpan.FromHours(hours) + TimeSpan.FromMinutes(minutes) + TimeSpan.FromSeconds(seconds),
                    match.Groups["title"].Value));
        }

        return marks.Count == 0 ? ([], "Enter at least one time, such as 3:25.") : (marks, null);
    }

    private static long FrameOf(TimeSpan time, SampleRate rate, bool onSectors)
    {
        // Whole numbers, so that no mark of a cue sheet is a frame off: ticks are a ten-millionth of a second.
        if (!onSectors)
            return (long)((time.Ticks * (Int128)rate.Hertz + TimeSpan.TicksPerSecond / 2) / TimeSpan.TicksPerSecond);
        var sectors = (time.Ticks * (Int128)AudioDisc.SectorsPerSecond + TimeSpan.TicksPerSecond / 2) / TimeSpan.TicksPerSecond;
        return (long)((sectors * rate.Hertz + AudioDisc.SectorsPerSecond / 2) / AudioDisc.SectorsPerSecond);
    }

    private static string InWords(TimeSpan time) =>
        string.Create(CultureInfo.InvariantCulture, $"{(int)time.TotalMinutes}:{time.Seconds:00}");

    [GeneratedRegex(
        @"^((?<hours>[0-9]{1,3}):)?(?<minutes>[0-9]{1,4}):(?<seconds>[0-9]{1,2}(\.[0-9]{1,6})?)(\s+(?<title>.+))?$",
        RegexOptions.CultureInvariant)]
    private static partial Regex Typed();
}
