using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Bench;

/// <summary>
/// A tree of tagged FLAC, MP3, M4A and Ogg files with covers of 100 KB. Each has a title and an album of its own; all files of
/// one format hold the same second of audio, which is the worst case for matching.
/// </summary>
internal static class MusicTree
{
    private const int CoverBytes = 100_000;

    private static readonly string[] Kinds = [".flac", ".mp3", ".m4a", ".ogg"];

    public static void Make(string tree, int files)
    {
        Directory.CreateDirectory(tree);
        var seeds = MakeSeeds(tree);
        Parallel.For(0, files, i =>
        {
            var folder = Path.Combine(tree, $"album {i / 10}");
            Directory.CreateDirectory(folder);
            var bytes = seeds[i % seeds.Count].ToArray();
            Patch(bytes, "at the title", i);
            Patch(bytes, "at the album", i);
            File.WriteAllBytes(Path.Combine(folder, i.ToString(CultureInfo.InvariantCulture) + Kinds[i % Kinds.Length]), bytes);
        });
    }

    /// <summary>Replaces a text in the tags by a number of the same length.</summary>
    private static void Patch(byte[] bytes, string text, int number)
    {
        var place = bytes.AsSpan().IndexOf(Encoding.ASCII.GetBytes(text));
        if (place < 0)
            throw new InvalidOperationException($"\"{text}\" does not stand in the file.");
        Encoding.ASCII.GetBytes(string.Create(CultureInfo.InvariantCulture, $"no. {number:00000000}"), bytes.AsSpan(place));
    }

    private static List<byte[]> MakeSeeds(string tree)
    {
        var cover = new byte[CoverBytes];
        new Random(1).NextBytes(cover);
        (cover[0], cover[1], cover[2]) = (0xFF, 0xD8, 0xFF);
        var tags = new TagSet();
        foreach (var name in (string[])[
            FieldNames.Title, FieldNames.Artist, FieldNames.AlbumArtist, FieldNames.Album, FieldNames.Genre, FieldNames.Composer,
            FieldNames.Comment
        ])
            tags.Set(
                name,
                "The Quarry Lamps "
                    + $"{(name == FieldNames.Album ? "at the album" : name == FieldNames.Title ? "at the title" : "at " + name)}");
        tags.Set(FieldNames.Track, "3");
        tags.Set(FieldNames.Year, "2021");
        tags.Pictures.Add(new Picture(PictureKind.Front, "image/jpeg", "", cover));
        var pcm = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        using (var writer = AudioFiles.Create(File.Create(Path.Combine(tree, "0.flac")), pcm, tags, new FlacSettings()))
            TestSound.Music(pcm, pcm.Rate.Hertz).CopyTo(writer);
        using (var writer = AudioFiles.Create(File.Create(Path.Combine(tree, "0.mp3")), pcm, tags, Mp3Settings.Constant(192)))
            TestSound.Music(pcm, pcm.Rate.Hertz).CopyTo(writer);
        EncodedFile.Write(Path.Combine(tree, "0.m4a"), "mp4", "alac", TestSound.Music(pcm, 44_100));
        EncodedFile.Write(Path.Combine(tree, "0.ogg"), "ogg", "libvorbis", TestSound.Tone(44_100, 2, 44_100, 440));
        File.WriteAllBytes(Path.Combine(tree, "cover.bin"), cover);
        var fields = new JsonObject();
        foreach (var name in (string[])["title", "artist", "albumartist", "album", "date", "genre", "composer", "comment"])
            fields[name] = "The Quarry Lamps " + (name is "title" or "album" ? "at the " + name : "at " + name);
        foreach (var end in (string[])[".m4a", ".ogg"])
            Mutagen.WriteEasy(Path.Combine(tree, "0" + end), fields, Path.Combine(tree, "cover.bin"));
        var seeds = Kinds.Select(end => File.ReadAllBytes(Path.Combine(tree, "0" + end))).ToList();
        foreach (var file in Directory.GetFiles(tree))
            File.Delete(file);
        return seeds;
    }
}
