using System.Diagnostics;
using System.Text;
using CsCheck;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Discs;

/// <summary>Data discs: written and read back, read by libiso9660, and damaged.</summary>
public sealed class IsoTests
{
    private static readonly DateTimeOffset Date = new(2023, 6, 24, 12, 0, 0, TimeSpan.Zero);

    private static readonly Gen<string> Names = Gen.String[Gen.Char["abcXYZ 012-äé日"], 1, 40]
        .Select(name => name.Trim())
        .Where(name => name.Length > 0);

    [Fact]
    public void Trees_survive_a_round_trip() => Gen.Select(Names, Gen.Int[0, 3], Gen.Byte.Array[0, 5000]).Array[1, 60].Sample(
        items =>
        {
            var files = items.DistinctBy(item => item.Item1.ToUpperInvariant())
                .Select(
                    (item, i) =>
                        (Path: string.Concat(Enumerable.Repeat($"folder {i % 4}/", item.Item2)) + item.Item1 + ".wav", Bytes: item.Item3))
                .ToList();
            using var image = Write(files);
            var volume = IsoVolume.TryRead(image)!;
            Assert.Empty(volume.Damage);
            Assert.Equal("Lantern Quarry", volume.Label);
            Assert.Equal(files.Select(file => file.Path).Order(StringComparer.Ordinal), volume.Files.Select(file => file.Path));
            Assert.All(
                volume.Files, file => Assert.Equal(files.Single(other => other.Path == file.Path).Bytes, ReadAll(volume.Open(file))));
        },
        iter: 100);

    [Fact]
    public void Images_are_read_by_libiso9660_by_plain_and_by_joliet_names()
    {
        using var folder = new TemporaryFolder();
        var files = Enumerable.Range(0, 90)
            .Select(
                i => ($"Titles of the first part/Piece number {i}.wav", Encoding.UTF8.GetBytes(new string((char)('a' + i % 26), i * 97))))
            .Append(("Read me.txt", "hello"u8.ToArray()))
            .ToList();
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

    /// <summary>xorriso 1.5.4 finds nothing to complain about, and gives the same tree and the same bytes.</summary>
    [Fact]
    public void Xorriso_finds_no_fault_in_our_images()
    {
        using var folder = new TemporaryFolder();
        var files = new List<(string Path, byte[] Bytes)>
        {
            ("Read me.txt", "hello"u8.ToArray()), ("фонарь, 灯火.m3u8", [1, 2, 3]), ("empty.txt", [])
        };
        // Folders whose plain names begin alike, and whose order differs between plain and Joliet names.
        foreach (var album in (string[])[
            "an incline that is much longer than its plain name", "an incline that is much longer than its name", "Zinc", "ädit", "b/c/d/e"
        ])
            files.AddRange(
                Enumerable.Range(1, 30)
                    .Select(i => ($"{album}/{i:00} Piece.mp3", Encoding.UTF8.GetBytes(new string((char)('a' + i % 26), i * 997)))));
        using (var image = Write(files))
        {
            File.WriteAllBytes(folder["disc.iso"], image.ToArray());
            Assert.Equal(
                image.Length,
                2048 * IsoWriter.SectorsOf(
                    [
                        .. files.Select(
                            file =>
                                new IsoSource(
                                    file.Path, file.Bytes.Length,
                                    () => throw new InvalidOperationException("Only its length is asked for.")))
                    ]));
        }

        var said = Xorriso("-indev", folder["disc.iso"], "-pwd");
        Assert.DoesNotMatch("WARNING|SORRY|FAILURE|FATAL", said);
        Xorriso("-osirrox", "on", "-indev", folder["disc.iso"], "-extract", "/", folder["out"]);
        Assert.Equal(
            files.Select(file => file.Path).Order(StringComparer.Ordinal),
            Directory.GetFiles(folder["out"], "*", SearchOption.AllDirectories)
                .Select(path => Path.GetRelativePath(folder["out"], path))
                .Order(StringComparer.Ordinal));
        Assert.All(files, file => Assert.Equal(file.Bytes, File.ReadAllBytes(Path.Combine(folder["out"], file.Path))));
    }

    /// <summary>Joliet names have 64 characters at most, and none of * / : ; ? and backslash (Joliet specification).</summary>
    [Theory]
    [InlineData("a: b? c*d;e.mp3", "a_ b_ c_d_e.mp3")]
    [InlineData(
        "01 A title that goes on and on and on, much longer than any disc would take it.mp3",
        "01 A title that goes on and on and on, much longer than any .mp3")]
    [InlineData(
        "01 A title that goes on and on. And on. Much longer than any disc can take it",
        "01 A title that goes on and on. And on. Much longer than any dis")]
    public void Names_are_cut_before_their_extension(string name, string written)
    {
        using var image = Write([(name, [7])]);
        Assert.Equal(written, Assert.Single(IsoVolume.TryRead(image)!.Files).Path);
    }

    [Fact]
    public void A_file_that_has_changed_ends_the_writing() =>
        Assert.Contains(
            "changed while it was being written",
            Assert.Throws<IOException>(
                () => IsoWriter.Write(new MemoryStream(), "x", [new IsoSource("a", 5, () => new MemoryStream(new byte[4]))], Date)).Message,
            StringComparison.Ordinal);

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
        IsoWriter.Write(
            image, "Lantern Quarry",
            [.. files.Select(file => new IsoSource(file.Path, file.Bytes.Length, () => new MemoryStream(file.Bytes)))], Date);
        return image;
    }

    private static string Xorriso(params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo("xorriso", arguments) { RedirectStandardError = true, RedirectStandardOutput = true })!;
        var said = process.StandardError.ReadToEndAsync();
        process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, said.Result);
        return said.Result;
    }

    private static byte[] ReadAll(Stream stream)
    {
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }
}
