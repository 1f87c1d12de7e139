using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>Tags of files that exist are changed: in place where they fit, and back again.</summary>
public sealed class EditedTagTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private readonly TaggedFiles _files = new(worker);

    /// <summary>The formats that are written, files laid out as other programs do it, and formats whose tags alone are written.</summary>
    public static TheoryData<string> Files => [.. TaggedFiles.Kinds];

    /// <summary>Titles that grow and shrink around every border of the padding.</summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task Tags_grow_and_shrink_and_the_sound_stays(string kind)
    {
        var bytes = await _files.MakeAsync(kind);
        var format = FormatOf(bytes);
        var sound = format.HashSound(new MemoryStream(bytes));
        var digest = Digest(bytes);
        int inPlace = 0;
        int[] lengths = [
            1, 40, 3, .. Enumerable.Range(1980, 160), 500, .. Enumerable.Range(4060, 60), .. Enumerable.Range(8150, 60), 70_000, 70_001, 2
        ];
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
        var bytes = await _files.MakeAsync(kind);
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        bytes = Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual));
        tags.Set(FieldNames.Title, tags.First(FieldNames.Title)!.Replace('B', 'P'));
        var edit = format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual);
        Assert.True(edit.IsInPlace);
        Assert.InRange(edit.Patches(new MemoryStream(bytes)).Sum(patch => patch.Bytes.Length), 1, 4096);
    }

    /// <summary>
    /// Tags that go from file to file through all formats lose what the dialects on the way cannot hold, and nothing else.
    /// </summary>
    [Fact]
    public async Task Tags_survive_every_chain_of_formats()
    {
        var files = new List<byte[]>();
        foreach (var format in FileFormats.Writable)
            files.Add(await _files.MakeAsync(format.Key));
        files.Add(_files.MakeWavPack());
        CsCheck.Check.Sample(CsCheck.Gen.Select(RandomTags.Sets, CsCheck.Gen.Shuffle(files.ToArray())), pair =>
        {
            var (tags, chain) = pair;
            var expected = tags;
            foreach (var bytes in chain.Take(4))
            {
                var format = FormatOf(bytes);
                expected = format.Dialect.Select(expected);
                tags = FileReading.ReadTags(
                    new MemoryStream(Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)))).Tags;
            }

            Assert.Equal(RandomTags.Lines(expected).Order(StringComparer.Ordinal), RandomTags.Lines(tags).Order(StringComparer.Ordinal));
        }, iter: 150, threads: 1);
    }

    /// <summary>
    /// Seeded damage: tags are written so that all reads back and can be taken back to the byte, or the write is refused. A longer run is
    /// set by WERGAMON_FUZZ, the number of files of each kind.
    /// </summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task A_damaged_file_is_refused_or_rewritten_readable(string kind)
    {
        const int Fewest = 1_000;
        var bytes = await _files.MakeAsync(kind);
        int count = int.TryParse(Environment.GetEnvironmentVariable("WERGAMON_FUZZ"), out int asked) ? asked : Fewest, written = 0;
        for (int seed = 0; seed < count; seed++)
            written += WritesOrRefuses(Mutations.Mutate(bytes, seed), seed) ? 1 : 0;
        Assert.InRange(written, count / 10, count);
    }

    private static bool WritesOrRefuses(byte[] damaged, int seed)
    {
        byte[] edited;
        TagEdit edit;
        var source = new MemoryStream(damaged);
        try
        {
            if (FileFormats.Of(source) is not TaggedFormat format)
                return false;
            var tags = TestTags.Everything();
            var sound = format.HashSound(source);
            edit = format.EditTags(source, tags, TagWriteOptions.Usual);
            edited = Apply(damaged, edit);
            // What does not read back is taken back at once, as in the application.
            if (format.Verify(new MemoryStream(edited), sound, format.Dialect.Select(tags)) is not null)
                return false;
        }
        catch (UnreadableAudioException)
        {
            return false;
        }

        Assert.True(edited.Length < 2 * damaged.Length + 100_000, $"seed {seed}");
        Assert.True(Mutations.Complaint(edited) is null, $"seed {seed}");
        Assert.True(damaged.AsSpan().SequenceEqual(Apply(edited, edit.Inverse(new MemoryStream(damaged)))), $"seed {seed}");
        return true;
    }

    /// <summary>Private frames, blocks, items and attributes of any content survive edits of other fields byte for byte.</summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task Unknown_fields_survive_byte_for_byte(string kind)
    {
        var original = await _files.MakeAsync(kind);
        var format = FormatOf(original);
        CsCheck.Check.Sample(CsCheck.Gen.Select(CsCheck.Gen.Byte.Array[1, 400].Array[1, 4], CsCheck.Gen.Int[0, 3_000]), pair =>
        {
            var (contents, titleLength) = pair;
            var tags = FileReading.ReadTags(new MemoryStream(original)).Tags;
            foreach (var content in contents)
            {
                foreach (var field in (OpaqueField[])[
                    new("ID3v2", "PRIV", content), new("FLAC", "2", content), new("MP4", "xyzw", Mp4Value(content)),
                    new("ASF", "Lamp/Mark", (byte[])[1, 0, .. content]), new("APE", "Lamp mark", (byte[])[2, 0, 0, 0, .. content])
                ])
                    tags.Opaque.Add(field);
                // One item of a key is all that MP4 and APE hold.
                if (format.Dialect.Name is "MP4 item list" or "APEv2")
                    break;
            }

            var wanted = Bytes(format.Dialect.Select(tags)).ToList();
            var bytes = Apply(original, format.EditTags(new MemoryStream(original), tags, TagWriteOptions.Usual));
            var again = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
            // A file of several dialects keeps what its others hold, too.
            Assert.Empty(wanted.Except(Bytes(again)));
            var kept = Bytes(again).ToList();
            again.Set(FieldNames.Title, Title(titleLength + 1));
            Assert.Equal(
                kept,
                Bytes(
                    FileReading.ReadTags(
                        new MemoryStream(Apply(bytes, format.EditTags(new MemoryStream(bytes), again, TagWriteOptions.Usual)))).Tags));
        }, iter: 30, threads: 1);

        static IEnumerable<string> Bytes(TagSet tags) =>
            tags.Opaque.Select(field => $"{field.Id} {Convert.ToHexString(field.Data.Span)}").Order(StringComparer.Ordinal);

        // A data box of a kind that nobody knows.
        static byte[] Mp4Value(byte[] content) =>
            [0, 0, (byte)((content.Length + 16) >> 8), (byte)(content.Length + 16), .. "data"u8, 0, 0, 0, 99, 0, 0, 0, 0, .. content];
    }

    /// <summary>Numbers, flags and identifiers of ASF keep their types, known names or not, until their field is changed.</summary>
    [Fact]
    public async Task Attributes_of_asf_keep_their_types()
    {
        var path = worker.Folder["typed.wma"];
        File.WriteAllBytes(path, await _files.MakeAsync("wma"));
        var written = Mutagen.WriteTypedAttributes(path);
        var bytes = File.ReadAllBytes(path);
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        Assert.Equal(("7", "5000000000", "1"), (tags.First("Lamp/Number"), tags.First("Lamp/Long"), tags.First("Lamp/On")));
        // Another dialect holds the numbers as text, and the plan counts them once.
        Assert.Equal(["7"], Core.Formats.Flac.FlacDialect.Instance.Select(tags)["Lamp/Number"]);
        Assert.Equal(tags.Fields.Count + tags.Pictures.Count + 2, TagContents.Of(tags).Count);

        tags.Set(FieldNames.Title, "Nine Gate Crossing");
        File.WriteAllBytes(path, Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)));
        Assert.Equal(written.ToJsonString(), Mutagen.ReadTypedAttributes(path).ToJsonString());
        tags.Set("Lamp/Number", "8");
        tags.Set("Lamp/Long");
        var edited = Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual));
        Assert.Equal(["8"], FileReading.ReadTags(new MemoryStream(edited)).Tags["Lamp/Number"]);
        Assert.Empty(FileReading.ReadTags(new MemoryStream(edited)).Tags["Lamp/Long"]);
    }

    /// <summary>An APE tag whose mark lies 128 bytes before the end, where an ID3v1 tag would start with the same three letters.</summary>
    [Fact]
    public void Ape_marker_is_not_mistaken_for_id3v1()
    {
        var bytes = _files.MakeWavPack();
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
        var bytes = await _files.MakeAsync(kind);
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        tags.Set(FieldNames.Title, "Nine Gate Crossing, фонарь");
        tags.Set(FieldNames.Genre);
        var path = worker.Folder[$"{kind}-edited{TaggedFiles.Extension(kind)}"];
        File.WriteAllBytes(path, Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)));
        var read = Mutagen.ReadAny(path);
        if (format.Key == "wavpack")
            return;
        Assert.Equal("Nine Gate Crossing, фонарь", read["title"]![0]!.GetValue<string>());
        Assert.Null(read["genre"]);
        Assert.Equal("76", read["bpm"]![0]!.GetValue<string>());
        Assert.Single(read["pictures"]!.AsArray());
    }

    /// <summary>The older texts of WAV and AIFF: what libsndfile 1.2 wrote is read and changed, and it reads the change.</summary>
    [Theory]
    [InlineData("wav")]
    [InlineData("aiff")]
    public void Texts_of_libsndfile_are_read_and_changed(string kind)
    {
        var bytes = File.ReadAllBytes(LibSndFile.Write(worker.Folder[$"by-sndfile.{kind}"], "Dripstone", "Nine Gate Ensemble"));
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        Assert.Equal(("Dripstone", "Nine Gate Ensemble"), (tags.First(FieldNames.Title), tags.First(FieldNames.Artist)));
        tags.Set(FieldNames.Title, "The Long Adit");
        var path = worker.Folder[$"by-sndfile-edited.{kind}"];
        File.WriteAllBytes(path, Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)));
        Assert.Equal(("The Long Adit", "Nine Gate Ensemble"), LibSndFile.ReadTexts(path));
        Assert.Equal("The Long Adit", Mutagen.ReadAny(path)["title"]![0]!.GetValue<string>());
        Assert.Equal(44_100, LibSndFile.Decode(path).Samples.Length);
    }

    /// <summary>What was edited is read by TagLib 1.13, too.</summary>
    [Theory]
    [MemberData(nameof(Files))]
    public async Task TagLib_reads_what_was_changed(string kind)
    {
        var bytes = await _files.MakeAsync(kind);
        var format = FormatOf(bytes);
        var tags = FileReading.ReadTags(new MemoryStream(bytes)).Tags;
        tags.Set(FieldNames.Title, "Nine Gate Crossing, фонарь");
        tags.Set(FieldNames.Album, "Spoil Heap");
        var path = worker.Folder[$"{kind}-for-taglib{TaggedFiles.Extension(kind)}"];
        File.WriteAllBytes(path, Apply(bytes, format.EditTags(new MemoryStream(bytes), tags, TagWriteOptions.Usual)));
        var read = LibTag.Read(path);
        Assert.Equal(("Nine Gate Crossing, фонарь", "Spoil Heap", 3), (read.Title, read.Album, read.Track));
    }

    /// <summary>All dialects of one file say the same after an edit; libtag reads the one at the start, mutagen that at the end.</summary>
    [Fact]
    public async Task Dialects_of_one_file_are_kept_in_agreement()
    {
        var bytes = await _files.MakeAsync("mp3-three-dialects");
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
        Assert.Equal(
            ("Tallow and Wick", "-7.5 dB", "00ff41"),
            (ape["Title"]!.GetValue<string>(), ape["REPLAYGAIN_TRACK_GAIN"]!.GetValue<string>(), ape["Lamp mark"]!.GetValue<string>()));
    }

    private static string Title(int length) => string.Create(length, length, (text, seed) =>
    {
        for (int i = 0; i < text.Length; i++)
            text[i] = (char)('A' + (i + seed) % 26);
    });

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
}
