using System.Text.Json;
using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Formats;

/// <summary>What the registry promises of every format, present and future.</summary>
public sealed class FileFormatTests
{
    public static TheoryData<string> Writable => [.. FileFormats.All.OfType<WritableFormat>().Select(format => format.Key)];

    [Fact]
    public void Each_format_has_a_folder_and_a_key_of_its_own()
    {
        Assert.Equal(FileFormats.All.Count, FileFormats.All.Select(format => format.Key).Distinct().Count());
        var folders = Directory.GetDirectories(Path.Combine(Repository.Root, "src", "Wergamon.Core", "Formats"))
            .Select(path => Path.GetFileName(path)!)
            .Where(name => name is not ("Iff" or "Registry"));
        Assert.Equal(folders.Order(), FileFormats.All.Select(format => format.GetType().Namespace!.Split('.')[^1]).Order());
        Assert.All(FileFormats.All, format => Assert.Same(format, FileFormats.Find(format.Key)));
    }

    [Theory]
    [MemberData(nameof(Writable))]
    public void Settings_survive_a_round_trip_and_are_on_a_scale(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        IReadOnlyList<EncoderSettings> all = format.Scales.Count > 0
            ? [.. format.Scales.SelectMany(scale => scale.Steps)]
            : [format.UsualSettings];
        foreach (var settings in all)
        {
            Assert.Same(format, settings.Format);
            Assert.True(settings.IsValid);
            var json = JsonSerializer.Serialize(new Target("own", "Own", settings), PlanningJson.Default.Target);
            Assert.Contains($"\"format\":\"{key}\"", json, StringComparison.Ordinal);
            Assert.Equal(settings, JsonSerializer.Deserialize(json, PlanningJson.Default.Target)!.Encoder);
        }

        Assert.All(format.Scales, scale => Assert.True(scale.IndexOf(scale.Usual) >= 0));
    }

    /// <summary>
    /// Lengths of PCM files follow from the sources of <see cref="WavWriter"/> and <see cref="AiffWriter"/>, padding bytes included.
    /// </summary>
    [Fact]
    public void Exact_size_is_right_to_the_byte() =>
        Gen.Select(
            Gen.Bool, Gen.OneOfConst(8, 16, 24), Gen.Int[1, 3], Gen.Int[1, 99], Gen.String[Gen.Char["ab日"], 0, 9],
            Gen.Int[0, 3]).Sample((isWav, bits, channels, frames, title, picture) =>
        {
            EncoderSettings settings = isWav ? new WavSettings() : new AiffSettings();
            var pcm = new PcmFormat(SampleRate.AudioDisc, channels, bits);
            var tags = new TagSet();
            tags.Set(FieldNames.Title, title);
            if (picture > 0)
                tags.Pictures.Add(new Picture(PictureKind.Front, "image/png", "", new byte[picture]));
            var file = new MemoryStream();
            TestSound.Noise(pcm, frames).CopyTo(settings.Format.OpenWriter(file, pcm, tags, settings, null!));
            var source = new AudioFacts(WavFormat.Instance, "WAV", pcm, frames, IsLossless: true, 1411);
            var said = settings.Format.EstimateSize(
                settings, new PlannedSound(pcm, frames, source, IsUnchanged: true), TagContents.Of(tags));
            Assert.Equal(new SizeEstimate(file.ToArray().Length, SizeBasis.Exact), said);
        });

    [Fact]
    public void Read_only_format_accepts_no_tags()
    {
        var ogg = new MemoryStream([.. "OggS"u8, .. new byte[60]]);
        Assert.Equal("ogg", FileFormats.Of(ogg)?.Key);
        Assert.IsNotType<WritableFormat>(FileFormats.Of(ogg), exactMatch: false);
        Assert.Null(FileFormats.Of(new MemoryStream(new byte[4000])));
    }
}
