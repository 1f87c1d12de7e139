using System.Globalization;
using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Naming;

namespace Wergamon.Core.Discs.Reading;

/// <summary>A checksum of a track that others got, and how many did.</summary>
public readonly record struct OtherReadings(int Number, uint Crc32, int Readings);

/// <summary>Puts the result of a reading into words, for the page and for the report beside the files.</summary>
public static class ReadingReport
{
    private const int MaxPlaces = 4;

    /// <summary>"Proved", "Doubtful", "Read once", "Differs".</summary>
    public static string Word(TrackReading reading) => reading switch
    {
        { SecondCrc32: { } second } when second != reading.Crc32 => "Differs",
        { Verdict: Verdict.Doubtful } => "Doubtful",
        { Verdict: Verdict.ReadOnce } => "Read once",
        _ => "Proved",
    };

    /// <summary>Why: "read twice alike", "after 9 re-reads at 1:07.34", "no two readings agree from 0:45.10 to 0:45.12".</summary>
    public static string Why(TrackReading reading)
    {
        var parts = new List<string>();
        switch (reading.Verdict)
        {
            case Verdict.AgreedAtOnce:
                parts.Add("read twice alike");
                break;
            case Verdict.AgreedAfterReReads:
                parts.Add($"after {ReReads(reading)}");
                break;
            case Verdict.Doubtful:
                var places = Places(
                    reading.Doubtful.Select(stretch => $"from {Time(stretch.Start)} to {Time(stretch.End)}"), reading.Doubtful.Count);
                parts.Add($"no two readings agree {places}, after {ReReads(reading)}");
                break;
            default:
                parts.Add(reading.Reported.Count == 0
                    ? "not proved, the drive reported no errors"
                    : "not proved, the drive reported errors "
                        + $"{Places(reading.Reported.Select(stretch => $"at {Time(stretch.Start)}").Distinct(), reading.Reported.Count)}");
                break;
        }

        if (reading.SecondCrc32 is { } second)
            parts.Add(second == reading.Crc32 ? "a second reading gave the same sum" : $"a second reading gave {second:X8}");
        if (reading.FilledFrames > 0)
            parts.Add(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{reading.FilledFrames} samples at the {(reading.Span.FirstSector == 0 ? "start" : "end")} of the disc filled with "
                        + $"silence, the drive does not reach them"));
        return string.Join("; ", parts);
    }

    /// <summary>"31 others got the same", "others got another sum"; null when nobody else has read the track.</summary>
    public static string? Others(TrackReading reading, IEnumerable<OtherReadings> others)
    {
        var known = others.Where(other => other.Number == reading.Number).ToList();
        if (known.Count == 0)
            return null;
        int same = known.Where(other => other.Crc32 == reading.Crc32).Sum(other => other.Readings);
        int all = known.Sum(other => other.Readings);
        return same == 0
            ? string.Create(CultureInfo.InvariantCulture, $"{all} {(all == 1 ? "other got" : "others got")} another sum")
            : string.Create(CultureInfo.InvariantCulture, $"{same} of {all} others got the same");
    }

    /// <summary>The report in plain text, lines of at most about a hundred characters.</summary>
    /// <param name="isComparable">False when pauses were left out, so that the checksums of others cover other stretches.</param>
    public static string Write(
        DiscAlbum album, TableOfContents contents, DriveTraits drive, ReadingSettings settings, IReadOnlyList<TrackReading> readings,
        IReadOnlyList<OtherReadings> others, bool isComparable, DateTimeOffset when)
    {
        var text = new StringBuilder();
        text.Append(
            CultureInfo.InvariantCulture,
            $"{(album.Artist.Length > 0 ? album.Artist : "Unknown artist")}: "
                + $"{(album.Title.Length > 0 ? album.Title : "Unknown album")}\n\n");
        text.Append(CultureInfo.InvariantCulture, $"Read         {when:yyyy-MM-dd HH:mm}\n");
        text.Append(CultureInfo.InvariantCulture, $"Drive        {drive.Name}, offset {drive.ReadOffset:+0;-0;0} samples, made good\n");
        var way = settings.IsCareful
            ? $"careful: twice, and again until {settings.Agreements} agree, {settings.MaxReadings} readings at most"
            : "quick: once";
        text.Append(CultureInfo.InvariantCulture, $"Way          {way}\n");
        text.Append(CultureInfo.InvariantCulture, $"Disc IDs     {DiscId.Checksum(contents)}  {DiscId.Sha1(contents)}\n");
        if (contents.CatalogueNumber is { } number)
            text.Append(CultureInfo.InvariantCulture, $"Catalogue    {number}\n");
        text.Append("\nNo.  Start     Length    CRC-32    Verdict\n");
        foreach (var reading in readings)
        {
            var span = reading.Span;
            text.Append(
                CultureInfo.InvariantCulture,
                $"{span.Number,3}  {new Msf(span.FirstSector)}  {new Msf(span.Sectors)}  {reading.Crc32:X8}  {Word(reading)}: "
                    + $"{Why(reading)}\n");
            if (isComparable && Others(reading, others) is { } words)
                text.Append(CultureInfo.InvariantCulture, $"{"",35}{words}\n");
            if (album.Tracks.FirstOrDefault(track => track.Number == span.Number) is { Title.Length: > 0 } title)
                text.Append(CultureInfo.InvariantCulture, $"{"",5}{title.Title}\n");
        }

        long sectors = readings.Sum(reading => (long)reading.Span.Sectors), read = readings.Sum(reading => reading.SectorsRead);
        text.Append(
            CultureInfo.InvariantCulture,
            $"\n{readings.Count(reading => reading.IsProved)} of {readings.Count} tracks proved. {read:N0} sectors were read for "
                + $"{sectors:N0} on the disc.\n");
        return text.ToString();
    }

    /// <summary>"1:07.34".</summary>
    public static string Time(TimeSpan time) =>
        string.Create(CultureInfo.InvariantCulture, $"{(int)time.TotalMinutes}:{time.Seconds:00}.{time.Milliseconds / 10:00}");

    private static string ReReads(TrackReading reading)
    {
        int times = reading.ReReads.Sum(again => again.Times);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{Plural.Count(times, "re-read")} "
                + $"{Places(reading.ReReads.Select(again => $"at {Time(again.Stretch.Start)}"), reading.ReReads.Count)}");
    }

    private static string Places(IEnumerable<string> places, int count) =>
        string.Join(", ", places.Take(MaxPlaces)) + (count > MaxPlaces ? $" and {count - MaxPlaces} more" : "");
}
