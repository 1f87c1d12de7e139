using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Discs;

/// <summary>Cue sheets, images and disc text: round trips, against libcdio, and damaged.</summary>
public sealed class CueAndTextTests
{
    private static readonly Gen<string> Words = Gen.String[Gen.Char["abcXYZ äßéøΩ日本 '-,.()123"], 1, 30]
        .Select(text => text.Trim())
        .Where(text => text.Length > 0);

    private static readonly Gen<string?> MaybeWords = Gen.OneOf(Words.Select(text => (string?)text), Gen.Const((string?)null));

    private static readonly Gen<CueSheet> Sheets =
        from title in MaybeWords
        from performer in MaybeWords
        from remarks in Words.Array[0, 2]
        from files in Gen.Int[1, 3]
        from tracks in Gen.Select(MaybeWords, MaybeWords, Gen.Int[0, 2], Gen.Bool).Array[1, 12]
        select Sheet(title, performer, remarks, files, tracks);

    [Fact]
    public void Cue_sheets_survive_a_round_trip() => Sheets.Sample(sheet =>
    {
        var back = CueSheetReader.Read(CueSheetWriter.WriteBytes(sheet));
        Assert.Empty(back.Complaints);
        Assert.Equal(CueSheetWriter.Write(sheet), CueSheetWriter.Write(back.Sheet));
        Assert.Equal(
            (sheet.Title, sheet.Performer, sheet.CatalogueNumber), (back.Sheet.Title, back.Sheet.Performer, back.Sheet.CatalogueNumber));
        Assert.Equal(sheet.Files, back.Sheet.Files);
        Assert.Equal(sheet.Tracks.SelectMany(track => track.Indexes), back.Sheet.Tracks.SelectMany(track => track.Indexes));
        Assert.Equal(
            sheet.Tracks.Select(track => (track.Title, track.Isrc, track.Pregap, track.Postgap)),
            back.Sheet.Tracks.Select(track => (track.Title, track.Isrc, track.Pregap, track.Postgap)));
    });

    [Fact]
    public void A_sheet_with_all_commands_is_understood()
    {
        var reading = CueSheetReader.Read(
            """
            REM GENRE Songs
            CATALOG 6291041500213
            CDTEXTFILE "songs.cdt"
            TITLE "Songs from the Winding House"
            PERFORMER Tin Orchard
            FILE "side one.wav" WAVE
              TRACK 01 AUDIO
                FLAGS DCP PRE
                ISRC ZZLQ12100042
                SONGWRITER "H. Wren"
                PREGAP 00:02:00
                INDEX 01 00:00:00
                INDEX 02 01:00:10
            FILE "side two.bin" BINARY
              TRACK 02 MODE1/2352
                REM kept
                INDEX 00 00:00:00
                INDEX 01 00:02:00
                POSTGAP 00:01:00
            NOISE 5
            """);
        var sheet = reading.Sheet;
        Assert.Equal("Line 20: NOISE is an unknown command.", Assert.Single(reading.Complaints));
        Assert.Equal(("6291041500213", "songs.cdt", "Tin Orchard"), (sheet.CatalogueNumber, sheet.DiscTextFile, sheet.Performer));
        Assert.Equal([new CueFile("side one.wav", "WAVE"), new CueFile("side two.bin", "BINARY")], sheet.Files);
        Assert.Equal(["DCP", "PRE"], sheet.Tracks[0].Flags);
        Assert.Equal([new CueIndex(1, 0, default), new CueIndex(2, 0, new Msf(1, 0, 10))], sheet.Tracks[0].Indexes);
        Assert.Equal(
            (new Msf(0, 1, 0), "MODE1/2352", false), (sheet.Tracks[1].Postgap!.Value, sheet.Tracks[1].Mode, sheet.Tracks[1].IsAudio));
        Assert.Equal(["kept"], sheet.Tracks[1].Remarks);
    }

    [Fact]
    public void An_image_is_read_as_libcdio_reads_it()
    {
        using var folder = new TemporaryFolder();
        var bytes = new byte[2000 * AudioDisc.BytesPerSector];
        new Random(5).NextBytes(bytes);
        File.WriteAllBytes(folder["disc.bin"], bytes);
        var sheet = new CueSheet
        {
            CatalogueNumber = "6291041500213",
            Title = "Under the Counterweight",
            Performer = "The Quarry Lamps",
            Files = [new CueFile("disc.bin", "BINARY")],
            Tracks =
            [
                new CueTrack(1, CueTrack.Audio) { Title = "Sheave", Isrc = "ZZLQ12100001", Indexes = [new CueIndex(1, 0, new Msf(400))] },
                new CueTrack(2, CueTrack.Audio)
                {
                    Title = "Headframe", Isrc = "ZZLQ12100002",
                    Indexes = [new CueIndex(0, 0, new Msf(900)), new CueIndex(1, 0, new Msf(1050))]
                },
                new CueTrack(3, "MODE1/2352") { Indexes = [new CueIndex(1, 0, new Msf(1500))] },
            ],
        };
        File.WriteAllBytes(folder["disc.cue"], CueSheetWriter.WriteBytes(sheet));
        using var ours = DiscImage.Open(
            CueSheetReader.Read(File.ReadAllBytes(folder["disc.cue"])).Sheet, name => File.OpenRead(folder[name]));
        using var outside = new LibCdio(folder["disc.cue"]);
        Assert.Equal(
            outside.Tracks.Select(track => (track.Number, track.IsAudio, track.Start)),
            ours.Contents.Tracks.Select(track => (track.Number, track.IsAudio, track.Start)));
        Assert.Equal(outside.Tracks.Take(2).Select(track => track.Isrc), ours.Contents.Tracks.Take(2).Select(track => track.Isrc));
        Assert.Equal(outside.Tracks.Take(2).Select(track => track.Title), ours.Sheet.Tracks.Take(2).Select(track => track.Title));
        Assert.Equal(
            (outside.LeadOut, outside.CatalogueNumber, outside.AlbumTitle),
            (ours.Contents.LeadOut, ours.Contents.CatalogueNumber, ours.Sheet.Title));
        Assert.Equal(900, ours.Contents.Tracks[1].PauseStart);
        Assert.Equal(400, ours.Contents.HiddenSectors);
        foreach (int sector in new[] { 0, 399, 1049, 1400 })
        {
            var sectors = new byte[20 * AudioDisc.BytesPerSector];
            ours.Read(sector, sectors);
            Assert.Equal(outside.ReadAudio(sector, 20), sectors);
        }
    }

    [Fact]
    public void Pauses_and_files_are_laid_out_in_sequence()
    {
        var sheet = CueSheetReader.Read(
            "FILE a BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nPOSTGAP 00:00:10\nFILE b MOTOROLA\nTRACK 02 AUDIO\nPREGAP 00:00:20\nINDEX "
                + "01 00:00:00").Sheet;
        var file = new byte[400 * AudioDisc.BytesPerSector];
        file.AsSpan().Fill(7);
        (file[0], file[1]) = (1, 2);
        using var image = DiscImage.Open(sheet, _ => new MemoryStream(file));
        Assert.Equal([0, 430], image.Contents.Tracks.Select(track => track.Start));
        Assert.Equal((410, 830), (image.Contents.Tracks[1].PauseStart, image.Contents.LeadOut));
        var sectors = new byte[3 * AudioDisc.BytesPerSector];
        image.Read(428, sectors);
        Assert.All(sectors[..(2 * AudioDisc.BytesPerSector)], each => Assert.Equal(0, each));
        Assert.Equal([2, 1, 7], sectors[(2 * AudioDisc.BytesPerSector)..(2 * AudioDisc.BytesPerSector + 3)]);
    }

    [Theory]
    [InlineData("TRACK 01 AUDIO\nINDEX 01 00:00:00")]
    [InlineData("FILE gone BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00")]
    [InlineData("FILE a MP3\nTRACK 01 AUDIO\nINDEX 01 00:00:00")]
    [InlineData("FILE a WAVE\nTRACK 01 AUDIO\nINDEX 01 00:00:00")]
    [InlineData("FILE a BINARY\nTRACK 01 AUDIO\nINDEX 01 99:00:00")]
    [InlineData("FILE a BINARY\nTRACK 01 AUDIO\nINDEX 00 00:00:00")]
    [InlineData("FILE a BINARY\nTRACK 01 MODE9/1\nINDEX 01 00:00:00")]
    public void An_impossible_image_is_refused_with_a_reason(string sheet)
    {
        var failure = Assert.Throws<UnreadableDiscException>(
            () =>
                DiscImage.Open(
                    CueSheetReader.Read(sheet).Sheet,
                    name => name == "a" ? new MemoryStream(new byte[AudioDisc.BytesPerSector * 310]) : null));
        Assert.True(failure.Message.Length > 20);
    }

    [Fact]
    public void Damaged_cue_sheets_give_an_image_or_a_reason() => Gen.Select(
        Sheets, Gen.Int[0, 4000].Array[1, 12], Gen.Byte.Array[12]).Sample((sheet, places, bytes) =>
    {
        var text = CueSheetWriter.WriteBytes(sheet);
        for (int i = 0; i < places.Length; i++)
            text[places[i] % text.Length] = bytes[i];
        try
        {
            using var image = DiscImage.Open(
                CueSheetReader.Read(text).Sheet, _ => new MemoryStream(new byte[AudioDisc.BytesPerSector * 100]));
            Assert.Null(image.Contents.Complaint());
        }
        catch (UnreadableDiscException)
        {
            // Refused in words.
        }
    });

    [Fact]
    public void Disc_text_survives_a_round_trip_and_libcdio_reads_it() => Gen.Select(
        Gen.String[Gen.Char["abc ABC äöéß'-."], 1, 40].Array[1, 30], Gen.Bool).Sample((titles, withComposer) =>
    {
        var entries = titles.Select(
                (title, i) =>
                    (Key: i + 1,
                        Entry: new DiscTextEntry
                        {
                            Title = title,
                            Performer = i % 3 == 0 ? "Tin Orchard" : null,
                            Composer = withComposer ? "H. Wren" : null
                        }))
            .ToDictionary(pair => pair.Key, pair => pair.Entry);
        var text = new DiscText(
            new DiscTextEntry { Title = "Songs", Performer = "Tin Orchard", Composer = withComposer ? "H. Wren" : null }, entries);
        var packs = DiscTextPacks.Write(text, titles.Length);
        var back = DiscTextPacks.Read(packs);
        Assert.Equal(0, back.BrokenPacks);
        Assert.Equal(text.Album, back.Text.Album);
        Assert.Equal(entries.OrderBy(pair => pair.Key), back.Text.Tracks.OrderBy(pair => pair.Key));
        var outside = LibCdio.ReadPacks(packs, titles.Length);
        Assert.Equal(("Songs", "Tin Orchard"), (outside[0].Title, outside[0].Performer));
        Assert.Equal(titles, outside.Skip(1).Select(words => words.Title));
        Assert.Equal(
            entries.OrderBy(pair => pair.Key).Select(pair => pair.Value.Composer), outside.Skip(1).Select(words => words.Composer));
    }, iter: 200);

    [Fact]
    public void A_broken_pack_loses_only_its_own_text()
    {
        var titles = Enumerable.Range(1, 12).ToDictionary(i => i, i => new DiscTextEntry { Title = $"A track of the number {i}" });
        var packs = DiscTextPacks.Write(new DiscText(new DiscTextEntry { Title = "Songs" }, titles), 12);
        packs[5 * DiscTextPacks.PackLength + 7] ^= 0x10;
        var back = DiscTextPacks.Read(packs);
        Assert.Equal(1, back.BrokenPacks);
        Assert.InRange(titles.Count(pair => back.Text.Tracks.GetValueOrDefault(pair.Key) == pair.Value), 9, 11);
        Gen.Byte.Array[0, 2000].Sample(bytes => Assert.NotNull(DiscTextPacks.Read(bytes).Text));
    }

    private static CueSheet Sheet(
        string? title, string? performer, string[] remarks, int files, (string? Title, string? Performer, int More, bool HasPause)[] tracks)
    {
        var made = new List<CueTrack>();
        for (int i = 0; i < tracks.Length; i++)
        {
            int file = i * files / tracks.Length;
            var indexes = new List<CueIndex>();
            int at = i * 5;
            if (tracks[i].HasPause)
                indexes.Add(new CueIndex(0, file, new Msf(at++)));
            for (int n = 1; n <= 1 + tracks[i].More; n++)
                indexes.Add(new CueIndex(n, file, new Msf(at++)));
            made.Add(new CueTrack(i + 1, CueTrack.Audio)
            {
                Title = tracks[i].Title,
                Performer = tracks[i].Performer,
                Isrc = i % 2 == 0 ? "ZZLQ1210000" + i % 10 : null,
                Pregap = i % 4 == 1 ? new Msf(i) : null,
                Postgap = i % 5 == 1 ? new Msf(i) : null,
                Indexes = indexes,
            });
        }

        return new CueSheet
        {
            Title = title,
            Performer = performer,
            Remarks = remarks,
            CatalogueNumber = title is null ? null : "6291041500213",
            Files = [.. Enumerable.Range(0, Math.Min(files, tracks.Length)).Select(i => new CueFile($"part {i}.bin", "BINARY"))],
            Tracks = made,
        };
    }
}
