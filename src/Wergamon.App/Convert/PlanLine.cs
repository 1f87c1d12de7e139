using System.Globalization;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

/// <summary>One line of a plan as it is shown and run: a track of the library, or a file that is not in it.</summary>
/// <param name="Position">Its place in the plan, from 0.</param>
/// <param name="Track">Null for a file.</param>
/// <param name="File">Null for a track.</param>
public sealed record PlanLine(int Position, TrackRow? Track, PlanFile? File)
{
    public bool IsLeftOut { get; init; }

    /// <summary>Which of several audio streams of its file is used, from 0; null for the default one.</summary>
    public int? Stream { get; init; }

    public TrackException? Exception { get; init; }

    /// <summary>The part of its file that it takes; null for all of it.</summary>
    public TrackPart? Part { get; init; }

    /// <summary>What is joined to it, in order.</summary>
    public IReadOnlyList<PlanLine> Appended { get; init; } = [];

    /// <summary>What will happen; null if it is left out, or its file does not exist.</summary>
    public PlanItem? Planned { get; init; }

    /// <summary>Null before this machine has done such work.</summary>
    public TimeSpan? Duration { get; init; }

    public string Title =>
        Part is not null
            ? Part.Title ?? $"{FileTitle}, {(Part.Number == 0 ? "before track 1" : $"part {Part.Number}")}"
            : Appended.Count > 0
            ? JoinedTitle
            : FileTitle;

    /// <summary>The title of the whole file.</summary>
    public string FileTitle => Track?.Title ?? File?.First(FieldNames.Title) ?? Path.GetFileNameWithoutExtension(File!.Path);

    public int? Number =>
        Part is not null
            ? Part.Number
            : Appended.Count > 0
            ? null
            : Track is not null
            ? Track.Number
            : int.TryParse(File?.First(FieldNames.Track), out int number)
            ? number
            : null;

    /// <summary>Identifies the album: that of the track in the library, or the one in the tags of a file.</summary>
    public string AlbumKey =>
        Track is not null ? Track.AlbumId.ToString(CultureInfo.InvariantCulture) : "file " + File!.First(FieldNames.Album);

    /// <summary>Size of what it takes of its files.</summary>
    public long FileBytes =>
        (Part is null ? WholeBytes : (long)(WholeBytes * ((double)Part.Range.Count / Math.Max(1, FileFacts.FrameCount))))
            + Appended.Sum(line => line.FileBytes);

    /// <summary>Of the chosen stream, with its length after cutting or joining.</summary>
    public AudioFacts Facts =>
        FileFacts.OfStream(Stream) is var facts && !IsCutOrJoined
            ? facts
            : facts with { FrameCount = (Part?.Range.Count ?? facts.FrameCount) + Appended.Sum(line => line.FileFacts.FrameCount) };

    /// <summary>Of its own file as a whole.</summary>
    public AudioFacts FileFacts => Track?.Master.Facts ?? File!.Facts;

    public string FilePath => Track?.Master.Path ?? File!.Path;

    public bool IsMissing => (Track?.Master.IsMissing ?? false) || Appended.Any(line => line.IsMissing);

    /// <summary>True when it is only a part of a file, or several joined.</summary>
    public bool IsCutOrJoined => Part is not null || Appended.Count > 0;

    /// <summary>Fields in which it differs from the tags of its file; one without values is removed.</summary>
    public IReadOnlyList<JobField> OwnFields => Part is not null ? FieldsOfPart(Part) : Appended.Count > 0 ? FieldsOfJoined() : [];

    public bool WillRun => !IsLeftOut && Planned is { IsSkipped: false };

    private long WholeBytes => Track?.Master.FileBytes ?? File!.FileBytes;

    /// <summary>That of the album if all tracks belong to one; otherwise of the first.</summary>
    private string JoinedTitle => Album is { Length: > 0 } album && Appended.All(line => line.Album == album) ? album : FileTitle;

    private string? Album => Track is not null ? Track.AlbumTitle : File!.First(FieldNames.Album);

    public bool IsShownIn(PlanFilter filter) => filter switch
    {
        PlanFilter.Warnings => IsMissing || Planned?.HasWarning == true,
        PlanFilter.Exceptions => Exception is not null,
        PlanFilter.LeftOut => IsLeftOut,
        _ => true,
    };

    private List<JobField> FieldsOfPart(TrackPart part)
    {
        var fields = new List<JobField>
        {
            new(FieldNames.Title, [Title]), new(FieldNames.Track, [InWords(part.Number)]),
            new(FieldNames.TrackTotal, [InWords(part.Total)]),
            new(FieldNames.Chapters, []), new(TrackSplits.CueField, []),
        };
        Add(FieldNames.Artist, part.Artist);
        Add(FieldNames.Album, part.Album ?? (Album is { Length: > 0 } ? null : FileTitle));
        Add(FieldNames.AlbumArtist, part.AlbumArtist);
        return fields;

        void Add(string name, string? value)
        {
            if (value is { Length: > 0 })
                fields.Add(new(name, [value]));
        }
    }

    /// <summary>The joined file has a chapter for each of its tracks.</summary>
    private List<JobField> FieldsOfJoined()
    {
        var chapters = new List<string>();
        long start = 0;
        foreach (var line in Appended.Prepend(this))
        {
            chapters.Add(
                new ChapterMark(
                    TimeSpan.FromMilliseconds(Math.Round(FileFacts.Format.Duration(start).TotalMilliseconds)), line.FileTitle).ToString());
            start += line.FileFacts.FrameCount;
        }

        return [
            new(FieldNames.Title, [Title]), new(FieldNames.Track, []), new(FieldNames.TrackTotal, []), new(FieldNames.Chapters, chapters),
            new(TrackSplits.CueField, [])
        ];
    }

    private static string InWords(int number) => number.ToString(CultureInfo.InvariantCulture);
}
