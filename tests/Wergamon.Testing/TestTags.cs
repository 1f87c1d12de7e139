using Wergamon.Core.Tags;

namespace Wergamon.Testing;

/// <summary>Tags of every kind, and a picture whose bytes are hard on a tag.</summary>
public static class TestTags
{
    public static readonly byte[] PictureBytes = [
        0x89, (byte)'P', (byte)'N', (byte)'G', .. Enumerable.Range(0, 3000).Select(i => (byte)(i * 7)), 0xFF, 0xE0, 0xFF, 0x00, 0xFF
    ];

    public static TagSet Everything()
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Blue Slate Rain, фонарь");
        tags.Set(FieldNames.Artist, "Tin Orchard", "Wickwire");
        tags.Set(FieldNames.AlbumArtist, "Tin Orchard");
        tags.Set(FieldNames.Album, "Songs from the Winding House");
        tags.Set(FieldNames.Track, "3");
        tags.Set(FieldNames.TrackTotal, "9");
        tags.Set(FieldNames.Disc, "1");
        tags.Set(FieldNames.DiscTotal, "2");
        tags.Set(FieldNames.Year, "2019-06-21");
        tags.Set(FieldNames.Genre, "Songs");
        tags.Set(FieldNames.Comment, "A note\nin two lines");
        tags.Set(FieldNames.Lyrics, "Rain, rain");
        tags.Set(FieldNames.Tempo, "76");
        tags.Set("Lamp keeper", "灯");
        return tags;
    }

    /// <summary>The picture as a file in a folder; written once.</summary>
    public static string PictureFile(TemporaryFolder folder)
    {
        var path = folder["cover.png"];
        if (!File.Exists(path))
            File.WriteAllBytes(path, PictureBytes);
        return path;
    }
}
