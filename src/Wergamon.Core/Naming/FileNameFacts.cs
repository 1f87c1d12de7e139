using System.Globalization;
using System.Text.RegularExpressions;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Naming;

/// <summary>
/// Fields from the name and folder of an untagged file: "Artist - Album (2021)/03 Title.wav" gives five fields.
/// Only fields that the file's own tags lack are filled from here.
/// </summary>
public static partial class FileNameFacts
{
    /// <param name="folderName">The name of the folder the file is in, without its path.</param>
    /// <param name="fileName">The name of the file without extension.</param>
    public static TagSet Read(string folderName, string fileName)
    {
        var tags = new TagSet();
        var folder = FolderName().Match(folderName.Trim());
        if (folder.Success)
        {
            tags.Add(FieldNames.AlbumArtist, folder.Groups["artist"].Value.Trim());
            tags.Add(FieldNames.Album, folder.Groups["album"].Value.Trim());
            tags.Add(FieldNames.Year, folder.Groups["year"].Value);
        }

        var file = TrackName().Match(fileName.Trim().Replace('_', ' '));
        if (file.Groups["track"].Success)
            tags.Add(
                FieldNames.Track,
                int.Parse(file.Groups["track"].Value, CultureInfo.InvariantCulture).ToString(CultureInfo.InvariantCulture));
        if (file.Groups["disc"].Success)
            tags.Add(FieldNames.Disc, file.Groups["disc"].Value);
        var artist = file.Groups["artist"].Success ? file.Groups["artist"].Value.Trim() : tags.First(FieldNames.AlbumArtist);
        tags.Add(FieldNames.Artist, artist ?? "");
        tags.Add(FieldNames.Title, file.Groups["title"].Value.Trim());
        return tags;
    }

    /// <summary>Adds from the names what the tags lack and returns the names of the fields that were added.</summary>
    public static IReadOnlyList<string> FillGaps(TagSet tags, string folderName, string fileName)
    {
        // A tagged file is trusted: an empty album artist there is not a gap.
        bool untagged = tags[FieldNames.Title].Count == 0;
        if (!untagged)
            return [];
        var added = new List<string>();
        foreach (var field in Read(folderName, fileName).Fields.Where(field => tags[field.Name].Count == 0))
        {
            tags.Set(field.Name, field.Values);
            added.Add(field.Name);
        }

        return added;
    }

    [GeneratedRegex(@"^(?<artist>.+?) - (?<album>.+?)(\s*\((?<year>[12][0-9]{3})\))?$")]
    private static partial Regex FolderName();

    [GeneratedRegex(@"^((?<disc>[1-9])-)?((?<track>[0-9]{1,3})(\s*[.\-]\s*|\s+))?((?<artist>\S.*?) - )?(?<title>.*)$")]
    private static partial Regex TrackName();
}
