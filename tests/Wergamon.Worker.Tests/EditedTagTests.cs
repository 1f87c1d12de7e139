using System.Buffers.Binary;
using System.Text;
using System.Text.Json.Nodes;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>Tags of files that exist are changed: in place where they fit, and back again.</summary>
public sealed class EditedTagTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private const int Frames = 9_000;

    /// <summary>The formats that are written, files laid out as other programs do it, and formats whose tags alone are written.</summary>
    public static TheoryData<string> Files => [.. FileFormats.Writable.Select(format => format.Key), "m4a-movie-first", "m4a-movie-first-free", "mp3-three-dialects", "wav-info-first", "wavpack", "flac-with-id3"];

    /// <summary>Titles that grow and shrink around every border of the padding.</summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task Tags_grow_and_shrink_and_the_sound_stays(string kind)
    {
        var bytes = await MakeAsync(kind);
        var format = FormatOf(bytes);
        var sound = format.HashSound(new MemoryStream(bytes));
        var digest = Digest(bytes);
        int inPlace = 0;
        int[] lengths = [1, 40, 3, .. Enumerable.Range(1980, 160), 500, .. Enumerable.Range(4060, 60), .. Enumerable.Range(8150, 60), 70_000, 70_001, 2];
        foreach (int length in lengths)
        {
            var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
            tags.Set(FieldNames.Title, Title(length));
            var edit = format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual);
            var edited = Apply(bytes, edit);
            Assert.Equal(sound, format.HashSound(new MemoryStream(edited)));
            var back = FileReading.ReadTags(new MemoryStream(edited));
            Assert.Empty(back.Damage);
            Assert.Equal([Title(length)], back.Tags[FieldNames.Title]);
            Assert.Equal(RandomTags.Lines(format.Dialect.Select(tags)), RandomTags.Lines(format.Dialect.Select(back.Tags)));
            Assert.Equal(bytes, Apply(edited, edit.Inverse(new MemoryStream(bytes))));
            inPlace += edit.IsInPlace ? 1 : 0;
            bytes = edited;
        }

        // Where tags precede the sound, it moves only when the padding is used up.
        Assert.InRange(inPlace, lengths.Length - 8, lengths.Length);
        Assert.Equal(digest, Digest(bytes));
    }

    /// <summary>One letter of a title is one letter on the disk, and what follows from it.</summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task A_small_change_writes_little(string kind)
    {
        var bytes = await MakeAsync(kind);
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        bytes = Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual));
        tags.Set(FieldNames.Title, tags.First(FieldNames.Title)!.Replace('B', 'P'));
        var edit = format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual);
        Assert.True(edit.IsInPlace);
        Assert.InRange(edit.Patches(new MemoryStream(bytes)).Sum(patch => patch.Bytes.Length), 1, 4096);
    }

    /// <summary>Tags that go from file to file through all formats lose what the dialects on the way cannot hold, and nothing else.</summary>
    [Fact]
    public async Task Tags_travel_through_every_chain_of_formats()
    {
        var files = new List<byte[]>();
        foreach (var format in FileFormats.Writable)
            files.Add(await MakeAsync(format.Key));
        files.Add(MakeWavPack());
        CsCheck.Check.Sample(CsCheck.Gen.Select(RandomTags.Sets, CsCheck.Gen.Shuffle(files.ToArray())), pair =>
        {
            var (tags, chain) = pair;
            var expected = tags;
            foreach (var bytes in chain.Take(4))
            {
                var format = FormatOf(bytes);
                expected = format.Dialect.Select(expected);
                tags = FileReading.ReadTags(new MemoryStream(Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)))).Tags;
            }

            Assert.Equal(RandomTags.Lines(expected).Order(StringComparer.Ordinal), RandomTags.Lines(tags).Order(StringComparer.Ordinal));
        }, iter: 150, threads: 1);
    }

    /// <summary>An APE tag whose mark lies 128 bytes before the end, where an ID3v1 tag would start with the same three letters.</summary>
    [Fact]
    public void The_mark_of_an_ape_tag_is_not_taken_for_an_old_tag()
    {
        var bytes = MakeWavPack();
        var format = FormatOf(bytes);
        for (int length = 1; length < 80; length++)
        {
            var tags = new TagSet();
            tags.Set(FieldNames.Title, Title(length));
            var edited = Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual));
            Assert.Equal([$"TITLE={Title(length)}"], RandomTags.Lines(FileReading.ReadTags(new MemoryStream(edited)).Tags));
            Assert.Equal(format.HashSound(new MemoryStream(bytes)), format.HashSound(new MemoryStream(edited)));
        }
    }

    /// <summary>The outside reader sees the new text and everything else as it was.</summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task Mutagen_reads_what_was_changed(string kind)
    {
        var bytes = await MakeAsync(kind);
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        tags.Set(FieldNames.Title, "Nine Gate Crossing, фонарь");
        tags.Set(FieldNames.Genre);
        var path = worker.Folder[$"{kind}-edited{Extension(kind)}"];
        File.WriteAllBytes(path, Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)));
        var read = Mutagen.ReadAny(path);
        if (format.Key == "wavpack")
            return;
        Assert.Equal("Nine Gate Crossing, фонарь", read["title"]![0]!.GetValue<string>());
        Assert.Null(read["genre"]);
        Assert.Equal("76", read["bpm"]![0]!.GetValue<string>());
        Assert.Single(read["pictures"]!.AsArray());
    }

    /// <summary>All dialects of one file say the same after an edit; libtag reads the one at the start, mutagen that at the end.</summary>
    [Fact]
    public async Task Dialects_of_one_file_are_kept_in_agreement()
    {
        var bytes = await MakeAsync("mp3-three-dialects");
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        Assert.Equal(["-7.5 dB"], tags["replaygain_track_gain"]);
        tags.Set(FieldNames.Title, "Tallow and Wick");
        var edited = Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual));
        Assert.Equal("TAG" + "Tallow and Wick", Encoding.Latin1.GetString(edited.AsSpan(edited.Length - 128, 18)));
        var path = worker.Folder["three-edited.mp3"];
        File.WriteAllBytes(path, edited);
        Assert.Equal("Tallow and Wick", Mutagen.ReadAny(path)["title"]![0]!.GetValue<string>());
        var ape = Mutagen.ReadApe(path);
        Assert.Equal(("Tallow and Wick", "-7.5 dB", "00ff41"), (ape["Title"]!.GetValue<string>(), ape["REPLAYGAIN_TRACK_GAIN"]!.GetValue<string>(), ape["Lamp mark"]!.GetValue<string>()));
    }

    private async Task<byte[]> MakeAsync(string kind)
    {
        if (kind == "wavpack")
            return MakeWavPack();
        var key = kind.Split('-')[0] switch { "m4a" => "aac", var plain => plain };
        var format = (WritableFormat)FileFormats.Find(key)!;
        var source = worker.MakeWav($"{kind}.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), Frames, music: true);
        var output = worker.Folder[$"{kind}-{Guid.NewGuid():N}{format.Extension}"];
        await worker.ProveAsync(source, output, new Target(key, format.Name, format.UsualSettings), TestTags.Everything(), TestTags.PictureFile(worker.Folder));
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

    private byte[] MakeWavPack()
    {
        var path = EncodedFile.Write(worker.Folder[$"{Guid.NewGuid():N}.wv"], "wv", "wavpack", TestSound.Noise(new PcmFormat(SampleRate.AudioDisc, 2, 16), Frames));
        Mutagen.WriteEasy(path, new JsonObject { ["title"] = "Blue Slate Rain", ["artist"] = "Tin Orchard", ["albumartist"] = "Tin Orchard", ["album"] = "Songs", ["date"] = "2019", ["genre"] = "Songs", ["composer"] = "Wickwire", ["comment"] = "A note" }, TestTags.PictureFile(worker.Folder));
        return File.ReadAllBytes(path);
    }

    private static string Title(int length) => string.Create(length, length, (text, seed) =>
    {
        for (int i = 0; i < text.Length; i++)
            text[i] = (char)('A' + (i + seed) % 26);
    });

    private static string Extension(string kind) => kind.StartsWith("m4a", StringComparison.Ordinal) ? ".m4a" : kind == "wavpack" ? ".wv" : ((WritableFormat)FileFormats.Find(kind.Split('-')[0])!).Extension;

    private static TaggedFormat FormatOf(byte[] bytes) => Assert.IsAssignableFrom<TaggedFormat>(FileFormats.Of(new MemoryStream(bytes)));

    /// <summary>The edited file; where the edit is in place, its patches have to give the same.</summary>
    private static byte[] Apply(byte[] bytes, TagEdit edit)
    {
        var whole = new MemoryStream();
        edit.WriteTo(new MemoryStream(bytes), whole);
        Assert.Equal(edit.Length, whole.Length);
        if (edit.IsInPlace)
        {
            var patched = new byte[edit.Length];
            bytes.AsSpan(0, Math.Min(bytes.Length, patched.Length)).CopyTo(patched);
            foreach (var patch in edit.Patches(new MemoryStream(bytes)))
                patch.Bytes.Span.CopyTo(patched.AsSpan((int)patch.Offset));
            Assert.Equal(whole.ToArray(), patched);
        }

        return whole.ToArray();
    }

    private string Digest(byte[] bytes)
    {
        var path = worker.Folder[Guid.NewGuid().ToString("N")];
        File.WriteAllBytes(path, bytes);
        using var reader = Codecs.AudioFiles.Open(path);
        return SampleDigest.Of(reader).Digest;
    }

    /// <summary>The movie box in front of the packets, as for streaming; the places of the chunks move with them (ISO/IEC 14496-12, 8.7.5).</summary>
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
            at += BinaryPrimitives.ReadInt32BigEndian(bytes.AsSpan(at)) is > 1 and var length ? length : (int)BinaryPrimitives.ReadInt64BigEndian(bytes.AsSpan(at + 8));
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
