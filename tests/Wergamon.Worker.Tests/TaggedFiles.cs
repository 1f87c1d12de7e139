using System.Buffers.Binary;
using System.Text;
using System.Text.Json.Nodes;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>
/// Files with full tags: one of each format that is written, laid out as other programs do it, and one whose tags alone are written.
/// </summary>
internal sealed class TaggedFiles(WorkerFixture worker)
{
    private const int Frames = 9_000;

    public static IReadOnlyList<string> Kinds { get; } = [
        .. FileFormats.Writable.Select(format => format.Key), "m4a-movie-first", "m4a-movie-first-free", "mp3-three-dialects",
        "wav-info-first", "wavpack", "flac-with-id3", "flac-by-libav", "mp3-by-libav", "aac-by-libav", "vorbis-by-libav", "opus-by-libav",
        "wma-by-libav"
    ];

    public static string Extension(string kind) =>
        kind.StartsWith("m4a", StringComparison.Ordinal)
            ? ".m4a"
            : kind == "wavpack"
            ? ".wv"
            : ((WritableFormat)FileFormats.Find(kind.Split('-')[0])!).Extension;

    public async Task<byte[]> MakeAsync(string kind)
    {
        if (kind == "wavpack")
            return MakeWavPack();
        if (kind.EndsWith("-by-libav", StringComparison.Ordinal))
            return MakeByLibAv(kind);
        var key = kind.Split('-')[0] switch { "m4a" => "aac", var plain => plain };
        var format = (WritableFormat)FileFormats.Find(key)!;
        var source = worker.MakeWav($"{kind}.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), Frames, music: true);
        var output = worker.Folder[$"{kind}-{Guid.NewGuid():N}{format.Extension}"];
        await worker.ProveAsync(
            source, output, new Target(key, format.Name, format.UsualSettings), TestTags.Everything(), TestTags.PictureFile(worker.Folder));
        if (kind == "mp3-three-dialects")
            Mutagen.AddOldDialects(output);
        var bytes = File.ReadAllBytes(output);
        return kind switch
        {
            "m4a-movie-first" => MovieFirst(bytes, 0),
            "m4a-movie-first-free" => MovieFirst(bytes, 3000),
            "wav-info-first" => InfoFirst(bytes),
            "flac-with-id3" => [.. Core.Tags.Id3v2.Id3v2Writer.Write(TestTags.Everything()), .. bytes],
            _ => bytes,
        };
    }

    public byte[] MakeWavPack() => Make("wv", "wv", "wavpack", TestSound.Noise(new PcmFormat(SampleRate.AudioDisc, 2, 16), Frames));

    /// <summary>Encoded and laid out by libav, tagged by python3-mutagen.</summary>
    private byte[] MakeByLibAv(string kind)
    {
        var floats = new TestSound(new PcmFormat(SampleRate.AudioDisc, 2, 32, SampleKind.Float), Frames, (block, start) =>
        {
            for (int i = 0; i < block.Floats.Length; i++)
                block.Floats[i] = 0.3f * MathF.Sin(0.02f * (start * 2 + i));
        });
        var shorts = TestSound.Noise(new PcmFormat(SampleRate.AudioDisc, 2, 16), Frames);
        return kind.Split('-')[0] switch
        {
            "flac" => Make("flac", "flac", "flac", shorts),
            "mp3" => Make("mp3", "mp3", "libmp3lame", floats),
            "aac" => Make("m4a", "mp4", "aac", floats),
            "vorbis" => Make("ogg", "ogg", "libvorbis", floats),
            "opus" => Make("opus", "ogg", "libopus", TestSound.Noise(new PcmFormat(new SampleRate(48_000), 2, 16), Frames)),
            _ => Make("wma", "asf", "wmav2", floats),
        };
    }

    private byte[] Make(string extension, string container, string codec, TestSound sound)
    {
        var path = EncodedFile.Write(worker.Folder[$"{Guid.NewGuid():N}.{extension}"], container, codec, sound);
        Mutagen.WriteEasy(
            path,
            new JsonObject
            {
                ["title"] = "Blue Slate Rain",
                ["artist"] = "Tin Orchard",
                ["albumartist"] = "Tin Orchard",
                ["album"] = "Songs",
                ["date"] = "2019",
                ["genre"] = "Songs",
                ["composer"] = "Wickwire",
                ["comment"] = "A note"
            },
            TestTags.PictureFile(worker.Folder));
        return File.ReadAllBytes(path);
    }

    /// <summary>
    /// The movie box in front of the packets, as for streaming; the places of the chunks move with them (ISO/IEC 14496-12, 8.7.5).
    /// </summary>
    private static byte[] MovieFirst(byte[] bytes, int free)
    {
        int movie = FindBox(bytes, "moov"), data = FindBox(bytes, "mdat");
        Assert.True(data < movie);
        var moved = bytes[movie..];
        byte[] filler = free == 0 ? [] : [0, 0, (byte)(free >> 8), (byte)free, .. "free"u8, .. new byte[free - 8]];
        int table = moved.AsSpan().IndexOf("stco"u8) + 8;
        int count = BinaryPrimitives.ReadInt32BigEndian(moved.AsSpan(table));
        for (int i = 1; i <= count; i++)
        {
            var place = moved.AsSpan(table + 4 * i);
            BinaryPrimitives.WriteInt32BigEndian(place, BinaryPrimitives.ReadInt32BigEndian(place) + moved.Length + free);
        }

        return [.. bytes[..data], .. moved, .. filler, .. bytes[data..movie]];
    }

    private static int FindBox(byte[] bytes, string type)
    {
        int at = 0;
        while (Encoding.Latin1.GetString(bytes, at + 4, 4) != type)
            at += BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(at)) is > 1 and var length
                ? length
                : (int)BinaryPrimitives.ReadInt64BigEndian(bytes.AsSpan(at + 8));
        return at;
    }

    /// <summary>A list of texts in front of the samples, as many recorders write it.</summary>
    private static byte[] InfoFirst(byte[] bytes)
    {
        byte[] list = [.. "LIST"u8, 20, 0, 0, 0, .. "INFOINAM"u8, 8, 0, 0, 0, .. "Old name"u8];
        byte[] moved = [.. bytes[..12], .. list, .. bytes[12..]];
        BinaryPrimitives.WriteInt32LittleEndian(moved.AsSpan(4), moved.Length - 8);
        return moved;
    }
}
