using System.Globalization;
using Wergamon.App.Tracks;
using Wergamon.Core.Music;

namespace Wergamon.Web.Display;

/// <summary>Settings that the text of a column depends on besides its track.</summary>
/// <param name="Keys">How the person has keys written.</param>
public sealed record ListMoment(DateTimeOffset Now, KeyNotation Keys);

/// <summary>A column of the list of tracks that can be shown or hidden; the title always shows.</summary>
/// <param name="Sort">Sort order when its header is clicked.</param>
/// <param name="IsNumber">Set in tabular figures, right-aligned.</param>
/// <param name="Text">Its contents.</param>
public sealed record TrackColumn(string Name, TrackSort Sort, bool IsNumber, Func<TrackLine, ListMoment, string?> Text)
{
    public static readonly IReadOnlyList<TrackColumn> All =
    [
        new("Artist", TrackSort.Artist, false, (line, _) => line.Artist),
        new("Album", TrackSort.Album, false, (line, _) => line.Album),
        new(
            "No.", TrackSort.Number, true,
            (line, _) => line.Disc is { } disc ? $"{disc}-{line.Number}" : line.Number?.ToString(CultureInfo.InvariantCulture)),
        new("Year", TrackSort.Year, true, (line, _) => line.Year),
        new("Genre", TrackSort.Genre, false, (line, _) => line.Genre),
        new(
            "Rates", TrackSort.Rates, true,
            (line, _) =>
                string.Create(CultureInfo.InvariantCulture, $"{line.SampleRate / 1000.0:0.###}/{line.Bits}{Channels(line.Channels)}")),
        new("Length", TrackSort.Length, true, (line, _) => Labels.Time(TimeSpan.FromMilliseconds(line.LengthMs))),
        new("MB", TrackSort.Size, true, (line, _) => Labels.Megabytes(line.Bytes)),
        new("Added", TrackSort.Added, false, (line, moment) => Labels.Day(line.AddedAt, moment.Now)),
        new("BPM", TrackSort.Tempo, true, (line, _) => line.Tempo?.ToString("0.0", CultureInfo.InvariantCulture)),
        new(
            "Key", TrackSort.Key, false,
            (line, moment) => moment.Keys.Read(line.MusicalKey) is { } key ? moment.Keys.Write(key) : line.MusicalKey),
        new("Rating", TrackSort.Rating, true, (line, _) => line.Rating),
        new("Path", TrackSort.Path, false, (line, _) => line.Path),
    ];

    /// <summary>Width by contents; names share the rest.</summary>
    public string? WidthClass => IsNumber ? "of-number" : Sort is TrackSort.Added or TrackSort.Key ? "of-short" : null;

    /// <summary>Columns shown by default.</summary>
    public static readonly IReadOnlyList<string> Usual = ["Artist", "Album", "Length", "Added"];

    private static string Channels(int count) => count switch { 2 => "", 1 => " mono", _ => $" {count} ch" };

    public static IReadOnlyList<TrackColumn> Choose(IReadOnlyCollection<string> names) =>
        [.. All.Where(column => names.Contains(column.Name))];
}
