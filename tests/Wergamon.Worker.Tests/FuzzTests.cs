using System.Text.Json.Nodes;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>
/// Damaged files of every format: facts and tags are read, or refused with the declared exception, within bounds. A longer run
/// is set by WERGAMON_FUZZ, the number of files of each format.
/// </summary>
public sealed class FuzzTests : IDisposable
{
    private const int FilesOfEachKind = 20_000;

    private readonly TemporaryFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Theory]
    [InlineData("wav")]
    [InlineData("aiff")]
    [InlineData("flac")]
    [InlineData("mp3")]
    [InlineData("m4a")]
    [InlineData("alac")]
    [InlineData("ogg")]
    [InlineData("opus")]
    [InlineData("oga")]
    [InlineData("wma")]
    [InlineData("wv")]
    [InlineData("ape")]
    public void Damaged_files_are_read_or_refused_within_bounds(string kind)
    {
        var original = Make(kind);
        Assert.Null(Mutations.Complaint(original));
        int count = int.TryParse(Environment.GetEnvironmentVariable("WERGAMON_FUZZ"), out int asked) ? asked : FilesOfEachKind;
        for (int seed = 0; seed < count; seed++)
        {
            if (Mutations.Complaint(Mutations.Mutate(original, seed)) is { } complaint)
                Assert.Fail($"{kind}, seed {seed}: {complaint}");
        }
    }

    private byte[] Make(string kind)
    {
        var path = _folder["x." + kind];
        var pcm = new PcmFormat(new SampleRate(44_100), 2, 16);
        var tags = new TagSet();
        tags.Add(FieldNames.Title, "Blue Slate Rain");
        tags.Add(FieldNames.Artist, "Tin Orchard");
        tags.Add("lamp keeper", "灯");
        tags.Pictures.Add(new Picture(PictureKind.Front, "image/jpeg", "front", new byte[] { 0xFF, 0xD8, 0xFF, 0xE0, 1, 2, 3 }));
        var sound = TestSound.Music(pcm, 2_000);
        switch (kind)
        {
            case "wav" or "aiff" or "flac" or "mp3":
                EncoderSettings settings = kind switch
                {
                    "wav" => new WavSettings(),
                    "aiff" => new AiffSettings(),
                    "flac" => new FlacSettings(),
                    _ => Mp3Settings.Constant(128)
                };
                using (var writer = AudioFiles.Create(File.Create(path), pcm, tags, settings))
                    (kind == "mp3" ? TestSound.Music(pcm, 9_000) : sound).CopyTo(writer);
                break;
            case "ape":
                WavPack(path, sound);
                Tag(path);
                File.WriteAllBytes(path, [.. Ape(), .. File.ReadAllBytes(path)]);
                break;
            default:
                Encode(kind, path);
                Tag(path);
                break;
        }

        return File.ReadAllBytes(path);
    }

    private static void WavPack(string path, TestSound sound) => EncodedFile.Write(path, "wv", "wavpack", sound);

    private static void Encode(string kind, string path)
    {
        var (container, codec, isFloat) = kind switch
        {
            "m4a" => ("mp4", "aac", true),
            "alac" => ("mp4", "alac", false),
            "ogg" => ("ogg", "libvorbis", true),
            "opus" => ("ogg", "libopus", false),
            "oga" => ("ogg", "flac", false),
            "wma" => ("asf", "wmav2", true),
            _ => ("wv", "wavpack", false),
        };
        var rate = new SampleRate(codec == "libopus" ? 48_000 : 44_100);
        var sound = isFloat
            ? new TestSound(new PcmFormat(rate, 2, 32, SampleKind.Float), 5_000, (block, _) => block.Floats.Fill(0.1f))
            : TestSound.Music(new PcmFormat(rate, 2, 16), 5_000);
        EncodedFile.Write(path, container, codec, sound);
    }

    /// <summary>A header of version 3.99 before the contents of another tagged file: the tag at the end is the same.</summary>
    private static byte[] Ape()
    {
        using var made = new MemoryStream();
        using var head = new BinaryWriter(made);
        head.Write("MAC "u8);
        head.Write((uint)3990);
        foreach (uint field in (uint[])[52, 24, 4, 0, 4_000, 0, 0, 0, 0, 0, 0, 0x0020_07D0, 73_728, 1_000, 1, 0x0002_0010, 44_100, 0])
            head.Write(field);
        return made.ToArray();
    }

    private void Tag(string path)
    {
        File.WriteAllBytes(_folder["cover.jpg"], [0xFF, 0xD8, 0xFF, 0xE0, 1, 2, 3]);
        var fields = new JsonObject();
        foreach (var name in (string[])["title", "artist", "albumartist", "album", "date", "genre", "composer", "comment"])
            fields[name] = "Tin Orchard";
        // FLAC in Ogg is tagged by mutagen only with a length that libav does not state.
        if (!path.EndsWith(".oga", StringComparison.Ordinal))
            Mutagen.WriteEasy(path, fields, _folder["cover.jpg"]);
    }
}
