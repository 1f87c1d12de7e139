using System.IO.Hashing;
using System.Runtime.InteropServices;
using System.Text;
using System.Text.Json;
using Wergamon.Core.Discs;
using Wergamon.Demo.Music;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.Demo.Rack;

/// <summary>Writes the disc rack to a folder: image, cue sheet and note of each disc, the catalogue and the ledger.</summary>
internal sealed class RackWriter(string folder)
{
    /// <summary>Discs begin and end in silence, as pressed discs do.</summary>
    private const int MarginSectors = 25;

    private const int Rate = AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector;

    public void WriteAll(IReadOnlyList<RackAlbum> albums)
    {
        Directory.CreateDirectory(folder);
        Parallel.ForEach(albums.Where(album => album.Medley.Count == 0), Write);
        foreach (var medley in albums.Where(album => album.Medley.Count > 0))
            WriteSheet(medley, MedleySheetOf(medley));
        var contents = albums.ToDictionary(album => album.Key, ReadContents);
        WriteCatalogue(albums, contents);
        WriteLedger(albums, contents);
    }

    private void Write(RackAlbum album)
    {
        if (album.Surround.Count > 0)
        {
            new SurroundWriter(folder).Write(album);
            WriteSheet(
                album,
                new CueSheet
                {
                    Files = [new CueFile(album.Key + ".iso", "BINARY")],
                    Tracks = [new CueTrack(1, "MODE1/2048") { Indexes = [new CueIndex(1, 0, default)] }]
                });
            return;
        }

        var parts = PartsOf(album);
        using (var image = File.Create(Path.Combine(folder, album.Key + ".bin")))
        {
            foreach (var part in parts)
                image.Write(MemoryMarshal.AsBytes(part.Frames.AsSpan()));
            WriteData(image, album.DataSectors);
        }

        if (album.HasText)
            File.WriteAllBytes(Path.Combine(folder, album.Key + ".cdt"), DiscTextPacks.Write(TextOf(album), album.Tracks.Count));
        WriteSheet(album, SheetOf(album, parts));
    }

    private void WriteSheet(RackAlbum album, CueSheet sheet)
    {
        File.WriteAllBytes(Path.Combine(folder, album.Key + ".cue"), CueSheetWriter.WriteBytes(sheet));
        File.WriteAllText(
            Path.Combine(folder, album.Key + ".json"),
            JsonSerializer.Serialize(new RackNote(album.Label, album.Note, album.Faults), RackJson.Default.RackNote));
        if (album.Cover is { } cover)
            File.WriteAllBytes(Path.Combine(folder, CoverName(album)), CoverArt.Jpeg(cover));
    }

    /// <summary>The parts of the disc in sequence, in whole sectors.</summary>
    /// <param name="Track">0 for the hidden track before track 1.</param>
    private sealed record Part(int Track, bool IsPause, uint[] Frames)
    {
        public int Sectors => Frames.Length / AudioDisc.FramesPerSector;
    }

    private static List<Part> PartsOf(RackAlbum album)
    {
        var sounds = album.IsGapless
            ? Cut(Play(album.Tracks[0].Piece), album.Tracks.Count)
            : [.. album.Tracks.Select(track => Play(track.Piece))];
        var parts = new List<Part>();
        if (album.Hidden is { } hidden)
            parts.Add(new Part(0, false, WithMargin(Play(hidden), before: MarginSectors, behind: 0)));
        for (int i = 0; i < sounds.Count; i++)
        {
            if (i > 0 && album.PauseSectors > 0)
                parts.Add(new Part(i + 1, true, new uint[album.PauseSectors * AudioDisc.FramesPerSector]));
            parts.Add(
                new Part(
                    i + 1, false,
                    WithMargin(
                        sounds[i], before: i == 0 && album.Hidden is null ? MarginSectors : 0,
                        behind: i == sounds.Count - 1 ? MarginSectors : 0)));
        }

        return parts;
    }

    private static uint[] Play(Piece piece)
    {
        var lines = Performance.Of(piece, Rate, 2);
        var frames = new uint[(lines[0].Length + AudioDisc.FramesPerSector - 1) / AudioDisc.FramesPerSector * AudioDisc.FramesPerSector];
        for (int i = 0; i < lines[0].Length; i++)
            frames[i] = (ushort)ToInteger(lines[0][i]) | (uint)(ushort)ToInteger(lines[1][i]) << 16;
        return frames;
    }

    private static short ToInteger(double sample) => (short)Math.Round(Math.Clamp(sample, -1, 1) * short.MaxValue);

    private static List<uint[]> Cut(uint[] whole, int parts)
    {
        int sectors = whole.Length / AudioDisc.FramesPerSector;
        int Border(int part) => sectors * part / parts * AudioDisc.FramesPerSector;
        return [.. Enumerable.Range(0, parts).Select(part => whole[Border(part)..Border(part + 1)])];
    }

    private static uint[] WithMargin(uint[] sound, int before, int behind) =>
        [.. new uint[before * AudioDisc.FramesPerSector], .. sound, .. new uint[behind * AudioDisc.FramesPerSector]];

    private static void WriteData(Stream image, int sectors)
    {
        int first = (int)(image.Length / AudioDisc.BytesPerSector) + Sessions.GapSectors;
        var sector = new byte[AudioDisc.BytesPerSector];
        for (int i = 0; i < sectors; i++)
        {
            Array.Clear(sector);
            DataSectors.WriteHeader(sector, first + i);
            Encoding.ASCII.GetBytes($"Pictures of the ropeway at Lantern Quarry, part {i}").CopyTo(DataSectors.DataOf(sector));
            image.Write(sector);
        }
    }

    private static CueSheet SheetOf(RackAlbum album, List<Part> parts)
    {
        var starts = new int[parts.Count];
        for (int i = 1; i < parts.Count; i++)
            starts[i] = starts[i - 1] + parts[i - 1].Sectors;
        var tracks = album.Tracks.Select((_, i) => new CueTrack(i + 1, CueTrack.Audio)
        {
            Isrc = album.HasText ? IsrcOf(album, i + 1) : null,
            Indexes = [
                .. parts.Select((part, at) => (part, at))
                    .Where(pair => pair.part.Track == i + 1)
                    .Select(pair => new CueIndex(pair.part.IsPause ? 0 : 1, 0, new Msf(starts[pair.at])))
            ],
        }).ToList();
        if (album.DataSectors > 0)
        {
            // The gap between two sessions is in no file.
            tracks.Add(
                new CueTrack(tracks.Count + 1, "MODE1/2352")
                {
                    Session = 2,
                    Indexes = [new CueIndex(1, 0, new Msf(parts.Sum(part => part.Sectors)))]
                });
        }

        return new CueSheet
        {
            CatalogueNumber = album.HasText ? CatalogueNumberOf(album) : null,
            DiscTextFile = album.HasText ? album.Key + ".cdt" : null,
            Files = [new CueFile(album.Key + ".bin", "BINARY")],
            Tracks = tracks,
        };
    }

    /// <summary>A disc that refers to the images of others and takes no space of its own: each part is an index in its track.</summary>
    private static CueSheet MedleySheetOf(RackAlbum album)
    {
        int file = 0;
        return new CueSheet
        {
            Files = [.. album.Medley.SelectMany(keys => keys).Select(key => new CueFile(key + ".bin", "BINARY"))],
            Tracks = [
                .. album.Medley.Select(
                    (keys, i) =>
                        new CueTrack(i + 1, CueTrack.Audio)
                        {
                            Indexes = [.. keys.Select((_, piece) => new CueIndex(piece + 1, file++, default))]
                        })
            ],
        };
    }

    private static DiscText TextOf(RackAlbum album) => new(
        new DiscTextEntry { Title = album.Title, Performer = album.Artist, Code = CatalogueNumberOf(album) },
        album.Tracks.Select((track, i) => (Number: i + 1, track)).ToDictionary(
            pair => pair.Number,
            pair =>
                new DiscTextEntry
                {
                    Title = pair.track.Title,
                    Performer = pair.track.Artist ?? album.Artist,
                    Songwriter = "Hollis Wren",
                    Code = IsrcOf(album, pair.Number)
                }));

    private static string IsrcOf(RackAlbum album, int track) => $"ZZLQ1{album.Year % 100:00}{track:00000}";

    /// <summary>Numbers that start with 2 are for use within a company (GS1 General Specifications, 2.1.11).</summary>
    private static string CatalogueNumberOf(RackAlbum album)
    {
        var digits = $"20{album.Year:0000}000417";
        return digits + DiscCodes.CheckDigit(digits);
    }

    private TableOfContents ReadContents(RackAlbum album)
    {
        using var disc = ImageDisc.Open(Path.Combine(folder, album.Key + ".cue"), album.Key, album.Label);
        return disc.Image.Contents;
    }

    private static string CoverName(RackAlbum album) => album.Key + ".jpg";

    private void WriteCatalogue(IReadOnlyList<RackAlbum> albums, Dictionary<string, TableOfContents> contents)
    {
        var all = albums.Where(album => album.IsInCatalogue).ToDictionary(album => DiscId.Sha1(contents[album.Key]), album =>
        {
            var record = new CatalogueRecord(
                album.Title, album.Artist, [.. album.Tracks.Select(track => new CatalogueTrack(track.Title, track.Artist))])
            {
                Year = album.Year,
                Genre = album.Genre,
                Confirmed = 17,
                CoverFile = album.Cover is null ? null : CoverName(album),
            };
            return (List<CatalogueRecord>)[record, .. album.Namesakes];
        });
        foreach (var (record, cover) in RackAlbums.KnownByName)
        {
            all[record.CoverFile!] = [record];
            File.WriteAllBytes(Path.Combine(folder, record.CoverFile!), CoverArt.Jpeg(cover));
        }

        File.WriteAllText(
            Path.Combine(folder, FolderCatalogue.FileName),
            JsonSerializer.Serialize(all, CatalogueJson.Default.DictionaryStringListCatalogueRecord));
    }

    private void WriteLedger(IReadOnlyList<RackAlbum> albums, Dictionary<string, TableOfContents> contents)
    {
        var all = albums.Where(album => album.OtherReadings > 0).ToDictionary(album => DiscId.Sha1(contents[album.Key]), SumsOf);
        File.WriteAllText(
            Path.Combine(folder, FolderLedger.FileName),
            JsonSerializer.Serialize(all, CatalogueJson.Default.DictionaryStringListLedgerTrack));
    }

    /// <summary>The checksum that most got of each track, and a different one from a single drive.</summary>
    private List<LedgerTrack> SumsOf(RackAlbum album)
    {
        using var disc = ImageDisc.Open(Path.Combine(folder, album.Key + ".cue"), album.Key, album.Label);
        var sums = new List<LedgerTrack>();
        foreach (var span in TrackSpan.Of(disc.Image.Contents, Pauses.WithTrackBefore))
        {
            var crc = new Crc32();
            var bytes = new byte[AudioDisc.SectorsPerSecond * AudioDisc.BytesPerSector];
            for (int sector = span.FirstSector; sector < span.EndSector; sector += AudioDisc.SectorsPerSecond)
            {
                var part = bytes.AsSpan(0, Math.Min(AudioDisc.SectorsPerSecond, span.EndSector - sector) * AudioDisc.BytesPerSector);
                disc.Image.Read(sector, part);
                crc.Append(part);
            }

            sums.Add(new LedgerTrack(span.Number, crc.GetCurrentHashAsUInt32(), Math.Max(1, album.OtherReadings - span.Number)));
            sums.Add(new LedgerTrack(span.Number, crc.GetCurrentHashAsUInt32() ^ 0x5A5A_0F0F, 1));
        }

        return sums;
    }
}
