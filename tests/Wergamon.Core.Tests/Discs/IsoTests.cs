using System.Text;
using CsCheck;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Discs;

/// <summary>Data discs: written and read back, read by libiso9660, and damaged.</summary>
public sealed class IsoTests
{
    private static readonly DateTimeOffset Date = new(2023, 6, 24, 12, 0, 0, TimeSpan.Zero);

    private static readonly Gen<string> Names = Gen.String[Gen.Char["abcXYZ 012-äé日"], 1, 40].Select(name => name.Trim()).Where(name => name.Length > 0);

    [Fact]
    public void Trees_survive_a_round_trip() => Gen.Select(Names, Gen.Int[0, 3], Gen.Byte.Array[0, 5000]).Array[1, 60].Sample(
        items =>
        {
            var files = items.DistinctBy(item => item.Item1.ToUpperInvariant()).Select((item, i) => (Path: string.Concat(Enumerable.Repeat($"folder {i % 4}/", item.Item2)) + item.Item1 + ".wav", Bytes: item.Item3)).ToList();
            using var image = Write(files);
            var volume = IsoVolume.TryRead(image)!;
            Assert.Empty(volume.Damage);
            Assert.Equal("Lantern Quarry", volume.Label);
            Assert.Equal(files.Select(file => file.Path).Order(StringComparer.Ordinal), volume.Files.Select(file => file.Path));
            Assert.All(volume.Files, file => Assert.Equal(files.Single(other => other.Path == file.Path).Bytes, ReadAll(volume.Open(file))));
        },
        iter: 100);

    [Fact]
    public void Images_are_read_by_libiso9660_by_plain_and_by_joliet_names()
    {
        using var folder = new TemporaryFolder();
        var files = Enumerable.Range(0, 90).Select(i => ($"Titles of the first part/Piece number {i}.wav", Encoding.UTF8.GetBytes(new string((char)('a' + i % 26), i * 97)))).Append(("Read me.txt", "hello"u8.ToArray())).ToList();
        using (var image = Write(files))
            File.WriteAllBytes(folder["disc.iso"], image.ToArray());
        using var joliet = new LibIso9660(folder["disc.iso"], byJoliet: true);
        foreach (var (path, bytes) in files)
            Assert.Equal(bytes, joliet.Read("/" + path));
        Assert.Null(joliet.Read("/not there"));
        using var plain = new LibIso9660(folder["disc.iso"], byJoliet: false);
        Assert.Equal("hello"u8.ToArray(), plain.Read("/READ_ME.TXT"));
        Assert.Equal(files[17].Item2, plain.Read("/TITLES_OF_THE_FIRST_PART/PIECE_NUMBER_17.WAV"));
    }

    [Fact]
    public void Damaged_images_are_read_in_part_or_refused()
    {
        using var whole = Write([.. Enumerable.Range(0, 40).Select(i => ($"a/b{i % 3}/file {i}.wav", new byte[i * 50]))]);
        var bytes = whole.ToArray();
        Gen.Select(Gen.Int[16 * 2048, 40 * 2048].Array[1, 40], Gen.Byte.Array[40], Gen.Int[0, bytes.Length]).Sample((places, values, cut) =>
        {
            var broken = bytes.ToArray();
            for (int i = 0; i < places.Length; i++)
                broken[places[i] % broken.Length] = values[i];
            foreach (var image in new[] { broken, broken[..cut] })
            {
                using var stream = new MemoryStream(image);
                if (IsoVolume.TryRead(stream) is not { } volume)
                    continue;
                Assert.All(volume.Files, file => Assert.InRange(file.Offset + file.Length, 0, image.Length));
                Assert.All(volume.Files, file => Assert.Equal(file.Length, ReadAll(volume.Open(file)).Length));
            }
        });
    }

    [Fact]
    public void A_folder_loop_is_reported()
    {
        using var image = Write([("inner/file.wav", new byte[10])]);
        var volume = IsoVolume.TryRead(image)!;
        // The Joliet folder "inner" points at the records of the root.
        var bytes = image.ToArray();
        int root = BitConverter.ToInt32(bytes, 17 * 2048 + 156 + 2);
        int record = root * 2048 + 68;
        BitConverter.TryWriteBytes(bytes.AsSpan(record + 2), root);
        Assert.Single(volume.Files);
        var looped = IsoVolume.TryRead(new MemoryStream(bytes))!;
        Assert.Empty(looped.Files);
        Assert.Contains("leads back", Assert.Single(looped.Damage), StringComparison.Ordinal);
        Assert.Null(IsoVolume.TryRead(new MemoryStream(new byte[100_000])));
    }

    private static MemoryStream Write(IReadOnlyList<(string Path, byte[] Bytes)> files)
    {
        var image = new MemoryStream();
        IsoWriter.Write(image, "Lantern Quarry", [.. files.Select(file => new IsoSource(file.Path, file.Bytes.Length, () => new MemoryStream(file.Bytes)))], Date);
        return image;
    }

    private static byte[] ReadAll(Stream stream)
    {
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }
}
