using System.Text.Json;
using Wergamon.Core.Discs;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Tests.Intake;

/// <summary>A rack with one disc of three short tracks, made for tests.</summary>
internal sealed class TestRack
{
    public const string Key = "test-disc";

    private static readonly int[] Sectors = [330, 410, 370];

    public TestRack(string folder, bool isInCatalogue = true, params DiscFault[] faults)
    {
        Directory.CreateDirectory(folder);
        Sound = new byte[Sectors.Sum() * AudioDisc.BytesPerSector];
        // Something that FLAC can compress, and silence at both ends, as on discs.
        for (int i = 1000; i < Sound.Length / 2 - 1000; i++)
            BitConverter.TryWriteBytes(
                Sound.AsSpan(2 * i), (short)(8000 * Math.Sin(i * 0.021) + 4000 * Math.Sin(i * 0.00037) + i * 7919 % 61));
        File.WriteAllBytes(Path.Combine(folder, Key + ".bin"), Sound);
        int at = 0;
        var sheet = new CueSheet
        {
            Files = [new CueFile(Key + ".bin", "BINARY")],
            Tracks = [
                .. Sectors.Select(
                    (count, i) => new CueTrack(i + 1, CueTrack.Audio) { Indexes = [new CueIndex(1, 0, new Msf((at += count) - count))] })
            ],
        };
        File.WriteAllBytes(Path.Combine(folder, Key + ".cue"), CueSheetWriter.WriteBytes(sheet));
        File.WriteAllText(
            Path.Combine(folder, Key + ".json"),
            JsonSerializer.Serialize(new RackNote("Test disc", "", faults), RackJson.Default.RackNote));
        using var disc = ImageDisc.Open(Path.Combine(folder, Key + ".cue"), Key, "");
        Contents = disc.Image.Contents;
        var records = new Dictionary<string, List<CatalogueRecord>>();
        if (isInCatalogue)
        {
            records[DiscId.Sha1(Contents)] =
            [
                new("Second Guess", "Nobody", [new("a"), new("b"), new("c")]) { Year = 2001, Confirmed = 2 },
                new("Lamp Room", "The Quarry Lamps", [new("Brass Tally"), new("Gas Test", "Wickwire"), new("Stomp")])
                { Year = 2022, Genre = "Dance band", Confirmed = 9 },
            ];
        }

        File.WriteAllText(
            Path.Combine(folder, FolderCatalogue.FileName),
            JsonSerializer.Serialize(records, CatalogueJson.Default.DictionaryStringListCatalogueRecord));
    }

    /// <summary>All audio of the disc: 16-bit stereo, little endian.</summary>
    public byte[] Sound { get; }

    public TableOfContents Contents { get; }

    /// <summary>The samples of a track, or of the whole disc.</summary>
    public int[] Samples(int? track = null)
    {
        int first = track is { } number ? Sectors[..(number - 1)].Sum() : 0;
        int count = track is { } one ? Sectors[one - 1] : Sectors.Sum();
        var samples = new int[count * AudioDisc.BytesPerSector / 2];
        for (int i = 0; i < samples.Length; i++)
            samples[i] = BitConverter.ToInt16(Sound, first * AudioDisc.BytesPerSector + 2 * i);
        return samples;
    }
}
