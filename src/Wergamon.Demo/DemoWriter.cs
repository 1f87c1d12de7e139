using System.Globalization;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;
using Wergamon.Demo.Music;

namespace Wergamon.Demo;

/// <summary>Puts the demo music into a folder.</summary>
internal sealed class DemoWriter(string folder)
{
    /// <summary>Writes all albums and returns the number of tracks.</summary>
    public int WriteAll(IReadOnlyList<DemoAlbum> albums)
    {
        foreach (var album in albums)
            PrepareFolder(album);
        var work = albums.SelectMany(album => album.Tracks.Select((track, index) => (album, track, index)))
            .OrderByDescending(item => item.track.Piece.Seconds * item.track.Channels)
            .ToList();
        var covers = albums.ToDictionary(album => album, album => CoverArt.Jpeg(album.Cover));
        Parallel.ForEach(work, item => WriteTrack(item.album, item.track, item.index, covers[item.album]));
        return work.Count;
    }

    private string FolderOf(DemoAlbum album) => Path.Combine(folder, album.FolderName);

    private void PrepareFolder(DemoAlbum album)
    {
        Directory.CreateDirectory(FolderOf(album));
        if (!album.IsTagged)
            File.WriteAllBytes(Path.Combine(FolderOf(album), "cover.jpg"), CoverArt.Jpeg(album.Cover));
    }

    /// <summary>Writes further files of the same tracks.</summary>
    public void WriteDuplicates(IReadOnlyList<DemoDuplicate> duplicates) => Parallel.ForEach(duplicates, file =>
    {
        var path = Path.Combine(folder, file.Path);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        WriteFile(path, file.Encoder, file.Album, file.Track, file.IsTagged ? TagsOf(file) : new TagSet());
    });

    private void WriteTrack(DemoAlbum album, DemoTrack track, int index, byte[] cover)
    {
        var path = Path.Combine(FolderOf(album), SafeFileName.From($"{index + 1:00} {track.Title}", album.Extension));
        WriteFile(path, album.Encoder, album, track, album.IsTagged ? TagsOf(album, track, index, cover) : new TagSet());
    }

    private static void WriteFile(string path, EncoderSettings encoder, DemoAlbum album, DemoTrack track, TagSet tags)
    {
        var lines = Performance.Of(track.Piece, album.Rate.Hertz, track.Channels);
        var format = new PcmFormat(album.Rate, track.Channels, album.Bits);
        using var writer = AudioFiles.Create(File.Create(path), format, tags, encoder);
        if (album.Ancestor is { } ancestor)
            WriteThrough(ancestor, writer, lines);
        else
            WriteSound(writer, lines);
        writer.Complete();
    }

    /// <summary>Writes what a lossy encoder leaves of the sound.</summary>
    private static void WriteThrough(EncoderSettings ancestor, IPcmWriter writer, double[][] lines)
    {
        var lossy = new MemoryStream();
        using (var coded = AudioFiles.Create(lossy, writer.Format, new TagSet(), ancestor))
        {
            WriteSound(coded, lines);
            coded.Complete();
        }

        using var reader = new RequantisingReader(AudioFiles.Open(new MemoryStream(lossy.ToArray())), writer.Format.Bits);
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            writer.Write(block);
    }

    internal static void WriteSound(IPcmWriter writer, double[][] lines)
    {
        var block = new SampleBuffer(writer.Format);
        double scale = (1L << (writer.Format.Bits - 1)) - 1;
        int channels = lines.Length;
        for (int at = 0; at < lines[0].Length; at += block.Capacity)
        {
            block.FrameCount = Math.Min(block.Capacity, lines[0].Length - at);
            var samples = block.Integers;
            for (int i = 0; i < samples.Length; i++)
                samples[i] = (int)Math.Round(Math.Clamp(lines[i % channels][at + i / channels], -1, 1) * scale);
            writer.Write(block);
        }
    }

    /// <summary>Tags that survived copying by other software.</summary>
    private static TagSet TagsOf(DemoDuplicate file)
    {
        var tags = new TagSet();
        tags.Add(FieldNames.Title, file.Track.Title);
        tags.Add(FieldNames.Artist, file.Album.Artist);
        tags.Add(FieldNames.Album, file.Single ?? file.Album.Title);
        tags.Add(FieldNames.Track, Number(file.Single is null ? file.Index + 1 : 1));
        return tags;
    }

    private static TagSet TagsOf(DemoAlbum album, DemoTrack track, int index, byte[] cover)
    {
        var tags = new TagSet();
        tags.Add(FieldNames.Title, track.Title);
        tags.Add(FieldNames.Artist, track.Artist ?? album.Artist);
        tags.Add(FieldNames.AlbumArtist, album.Artist);
        tags.Add(FieldNames.Album, album.Title);
        tags.Add(FieldNames.Track, Number(index + 1));
        tags.Add(FieldNames.TrackTotal, Number(album.Tracks.Count));
        tags.Add(FieldNames.Disc, "1");
        tags.Add(FieldNames.DiscTotal, "1");
        tags.Add(FieldNames.Year, Number(album.Year));
        tags.Add(FieldNames.Genre, album.Genre);
        tags.Add(FieldNames.Comment, "Recorded in Lantern Quarry");
        tags.Add(FieldNames.Publisher, LanternQuarry.Label);
        tags.Add(FieldNames.Tempo, track.Piece.BeatsPerMinute.ToString(CultureInfo.InvariantCulture));
        tags.Add(FieldNames.Key, track.Piece.Key);
        if (album.IsCompilation)
            tags.Add(FieldNames.Compilation, "1");
        tags.Add("Lamp keeper", "Hollis Wren");
        if (track.Untidy is { } untidy)
            tags.Set(untidy.Field, untidy.Value);
        tags.Pictures.Add(new Picture(PictureKind.Front, "image/jpeg", "", cover));
        return tags;
    }

    private static string Number(int number) => number.ToString(CultureInfo.InvariantCulture);
}
