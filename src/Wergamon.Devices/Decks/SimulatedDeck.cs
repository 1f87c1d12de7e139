using System.Globalization;
using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Playlists;
using Wergamon.Core.Sticks;
using Wergamon.Core.Tags;

namespace Wergamon.Devices.Decks;

/// <summary>
/// A deck that reads and writes a stick as one would that keeps to open formats: M3U8 for lists; ratings, comments and chapters in the tags
/// of files.
/// </summary>
/// <param name="place">The top of the stick.</param>
public sealed class SimulatedDeck(string place) : IDeck
{
    public IReadOnlyList<DeckList> Lists()
    {
        var files = PlainFolder.Files(place, isDeep: true)
            .Select(path => Path.GetRelativePath(place, path))
            .Order(StringComparer.Ordinal)
            .ToList();
        var lists = files.Where(IsPlaylist).Select(path => (Path: path, List: ReadList(path))).Where(each => each.List is not null)
            .Select(
                each =>
                    new DeckList(
                        each.Path, each.List!.Title.Length > 0 ? each.List.Title : Path.GetFileNameWithoutExtension(each.Path),
                        [.. each.List.Entries.Select(entry => OnStick(each.Path, entry.Path))])
                    { CanBeOrdered = true })
            .ToList();
        return lists.Count > 0
            ? lists
            : [
                .. files.Where(IsMusic)
                    .GroupBy(path => Path.GetDirectoryName(path)!)
                    .Select(folder => new DeckList(folder.Key, folder.Key.Length > 0 ? folder.Key : "At the top", [.. folder]))
            ];
    }

    public DeckTrack? Track(string path)
    {
        if (FullPath(path) is not { } full)
            return null;
        try
        {
            using var stream = PlainFile.OpenRead(full);
            var tags = FileReading.ReadTags(stream).Tags;
            return new DeckTrack(
                path, tags.First(FieldNames.Title) ?? Path.GetFileNameWithoutExtension(path), tags.First(FieldNames.Artist) ?? "",
                Rating.Of(tags.First(FieldNames.Rating)) ?? 0,
                FieldText.Join(tags[FieldNames.Comment]), ChapterMark.Parse(tags[FieldNames.Chapters]) ?? [],
                Number(tags.First(FieldNames.Tempo)), Number(tags.First(StickNotes.FirstBeat)));
        }
        catch (UnreadableAudioException)
        {
            return null;
        }
    }

    public Stream? Open(string path) => FullPath(path) is { } full ? PlainFile.OpenRead(full) : null;

    public void SetOrder(string list, IReadOnlyList<string> tracks)
    {
        if (FullPath(list) is not { } full || ReadList(list) is not { } read)
            return;
        var left = read.Entries.GroupBy(entry => OnStick(list, entry.Path), StringComparer.OrdinalIgnoreCase)
            .ToDictionary(group => group.Key, group => new Queue<PlaylistEntry>(group), StringComparer.OrdinalIgnoreCase);
        var entries = tracks.Select(track => left.TryGetValue(track, out var known) && known.TryDequeue(out var entry) ? entry : null)
            .OfType<PlaylistEntry>()
            .ToList();
        Replace(full, Encoding.UTF8.GetBytes(PlaylistFormat.M3u8.Write(read with { Entries = entries })));
    }

    public void Write(string path, DeckNote note)
    {
        if (FullPath(path) is not { } full)
            throw new IOException($"{path} is no longer on the stick.");
        using var edited = new MemoryStream();
        using (var stream = PlainFile.OpenRead(full))
        {
            if (FileFormats.Of(stream) is not TaggedFormat format)
                throw new IOException($"{path} has no tags that can be written.");
            var tags = FileReading.ReadTags(stream).Tags;
            Apply(note, tags);
            format.RewriteTags(stream, edited, format.Dialect.Select(tags));
        }

        Replace(full, edited.ToArray());
    }

    public void Delete(string path)
    {
        if (FullPath(path) is { } full)
            PlainFile.Delete(full);
    }

    private static void Apply(DeckNote note, TagSet tags)
    {
        if (note.Rating is { } rating)
            tags.Set(FieldNames.Rating, rating is >= 1 and <= Rating.Max ? [rating.ToString(CultureInfo.InvariantCulture)] : []);
        if (note.Comment is { } comment)
            tags.Set(FieldNames.Comment, comment.Trim().Length > 0 ? [comment.Trim()] : []);
        if (note.Marks is { } marks)
            tags.Set(FieldNames.Chapters, [.. marks.OrderBy(mark => mark.Start).Select(mark => mark.ToString())]);
        if (note.Tempo is { } tempo)
            tags.Set(FieldNames.Tempo, [tempo.ToString("0.##", CultureInfo.InvariantCulture)]);
        if (note.FirstBeat is { } beat)
            tags.Set(StickNotes.FirstBeat, [beat.ToString("0.####", CultureInfo.InvariantCulture)]);
    }

    /// <summary>The file at a path on the stick; null for any other path.</summary>
    private string? FullPath(string path)
    {
        var full = Path.GetFullPath(path, place);
        return full.StartsWith(Path.TrimEndingDirectorySeparator(Path.GetFullPath(place)) + "/", StringComparison.Ordinal)
                && PlainFile.Exists(full)
            ? full
            : null;
    }

    private Playlist? ReadList(string path) =>
        PlaylistFormat.ReadAny(PlainFile.ReadAll(Path.Combine(place, path), PlaylistFormat.MaxLength));

    private static bool IsPlaylist(string path) => Path.GetExtension(path).ToLowerInvariant() is ".m3u8" or ".m3u";

    private static bool IsMusic(string path) =>
        FileFormats.Writable.Any(format => Path.GetExtension(path).Equals(format.Extension, StringComparison.OrdinalIgnoreCase));

    private static string OnStick(string list, string path) =>
        Path.GetFullPath(path.Replace('\\', '/'), "/" + Path.GetDirectoryName(list)).TrimStart('/');

    private static double? Number(string? text) =>
        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double value) ? value : null;

    /// <summary>As devices do it: beside the file first, then in its place.</summary>
    private static void Replace(string path, byte[] bytes)
    {
        var beside = Path.Combine(Path.GetDirectoryName(path)!, $".deck-{Guid.NewGuid():N}");
        using (var file = PlainFile.Open(beside, FileMode.CreateNew, FileAccess.Write))
            file.Write(bytes);
        PlainFile.Move(beside, path, overwrite: true);
    }
}
