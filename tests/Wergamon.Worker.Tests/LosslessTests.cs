using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>Lossless routes keep every sample, by our checksums and as outside libraries read it.</summary>
public sealed class LosslessTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private static readonly Target Archive = StandardTargets.BuiltIn[0];
    private static readonly Target DjStick = StandardTargets.BuiltIn[2];
    private static readonly Target Plain = StandardTargets.BuiltIn[3];

    [Theory]
    [InlineData(16, 1)]
    [InlineData(16, 2)]
    [InlineData(24, 1)]
    [InlineData(24, 2)]
    [InlineData(24, 6)]
    public async Task Flac_to_wav_to_aiff_to_flac_keeps_every_sample(int bits, int channels)
    {
        var format = new PcmFormat(new SampleRate(48_000), channels, bits);
        var start = worker.MakeWav($"start-{bits}-{channels}.wav", format, 20_011);
        string Path(string name) => worker.Folder[$"{bits}-{channels}-{name}"];
        var first = await worker.ProveAsync(start, Path("1.flac"), Archive);
        var second = await worker.ProveAsync(Path("1.flac"), Path("2.wav"), Plain);
        var third = await worker.ProveAsync(Path("2.wav"), Path("3.aiff"), DjStick);
        var fourth = await worker.ProveAsync(Path("3.aiff"), Path("4.flac"), Archive);
        var expected = SampleDigest.Of(TestSound.Noise(format, 20_011)).Digest;
        Assert.Equal([expected, expected, expected, expected], new[] { first, second, third, fourth }.Select(proof => proof.SampleMd5));

        var samples = AllSamples(TestSound.Noise(format, 20_011));
        var byLibFlac = LibFlac.Decode(Path("4.flac"));
        Assert.Equal((48_000, channels, bits), (byLibFlac.Rate, byLibFlac.Channels, byLibFlac.Bits));
        Assert.Equal(samples, byLibFlac.Samples);
        Assert.Equal(samples, LibSndFile.Decode(Path("2.wav")).Samples);
        Assert.Equal(samples, LibSndFile.Decode(Path("3.aiff")).Samples);
    }

    [Theory]
    [InlineData(8, 1)]
    [InlineData(16, 6)]
    [InlineData(32, 2)]
    public void Our_wav_is_read_by_libsndfile(int bits, int channels)
    {
        var format = new PcmFormat(SampleRate.AudioDisc, channels, bits);
        var sound = LibSndFile.Decode(worker.MakeWav($"snd-{bits}-{channels}.wav", format, 999));
        Assert.Equal((channels, bits), (sound.Channels, sound.Bits));
        Assert.Equal(AllSamples(TestSound.Noise(format, 999)), sound.Samples);
    }

    /// <summary>Common practice, no source: lossless passes can be repeated any number of times.</summary>
    [Fact]
    public async Task Eight_lossless_passes_give_the_samples_of_the_first()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var path = worker.MakeWav("pass-0.wav", format, 30_000, music: true);
        var sums = new List<string?>();
        for (int pass = 1; pass <= 8; pass++)
        {
            var next = worker.Folder[$"pass-{pass}.flac"];
            sums.Add((await worker.ProveAsync(path, next, Archive with { Encoder = new FlacSettings { Level = pass } })).SampleMd5);
            path = next;
        }

        Assert.Single(sums.Distinct());
        Assert.Equal(SampleDigest.Of(TestSound.Music(format, 30_000)).Digest, sums[0]);
    }

    /// <summary>RFC 9639, appendices D.1 and D.3: worked examples (bytes from memory, verified by their own MD5).</summary>
    [Theory]
    [InlineData(
        16, 2, "664c6143800000221000100000000f00000f0ac442f0000000013e84b41807dc690307586a3dad1a2e0ffff869180000bf0358fd03128baa9a",
        "25588 10416")]
    [InlineData(
        8, 1,
        "664c6143800000221000100000001f00001f07d0"
            + "007000000018f8f9e396f5cbcfc6dc807f9977906b32fff868020017e944004f6f313d1047d227cb6d090831452bdc2822228057a3",
        "0 79 111 78 8 -61 -90 -68 -13 42 67 53 13 -27 -46 -38 -12 14 24 19 6 -4 -5 0")]
    public void Worked_examples_of_the_flac_standard_decode_to_their_samples(int bits, int channels, string bytes, string samples)
    {
        var path = worker.Folder[$"rfc9639-{bits}.flac"];
        File.WriteAllBytes(path, System.Convert.FromHexString(bytes));
        using var stream = File.OpenRead(path);
        var info = Core.Formats.Flac.FlacTags.Read(stream, 0).StreamInfo!;
        using var reader = new LibAvReader(path);
        Assert.Equal((bits, channels), (reader.Format.Bits, reader.Format.Channels));
        var block = new SampleBuffer(reader.Format);
        reader.Read(block);
        Assert.Equal(
            samples.Split(' ').Select(sample => int.Parse(sample, System.Globalization.CultureInfo.InvariantCulture)),
            block.Integers.ToArray());
        using var again = new LibAvReader(path);
        Assert.Equal((info.SampleMd5, info.FrameCount), SampleDigest.Of(again));
    }

    [Fact]
    public async Task Eight_bit_sound_is_kept_in_sixteen()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 8);
        var proof = await worker.ProveAsync(worker.MakeWav("eight.wav", format, 5000), worker.Folder["eight.flac"], Archive);
        Assert.True(proof.IsLossless);
        Assert.Equal(
            AllSamples(TestSound.Noise(format, 5000)).Select(sample => sample * 256), LibFlac.Decode(worker.Folder["eight.flac"]).Samples);
    }

    [Fact]
    public async Task Sizes_of_pcm_copies_are_as_planned()
    {
        var source = worker.MakeWav("size.wav", new PcmFormat(SampleRate.AudioDisc, 2, 24), 12_345);
        var tags = new Core.Tags.TagSet();
        tags.Set(Core.Tags.FieldNames.Title, "Dripstone");
        var contents = Core.Tags.TagContents.Of(tags);
        foreach (var target in new[] { DjStick, Plain })
        {
            var path = worker.Folder["size-out" + target.Format.Extension];
            var route = RoutePlanner.Plan(await worker.FactsAsync(source), Fidelity.Exact, target);
            var proof = await worker.ProveAsync(source, path, target, tags);
            Assert.Equal(new SizeEstimate(proof.Bytes, SizeBasis.Exact), target.Format.EstimateSize(target.Encoder, route.Sound, contents));
        }
    }

    private static int[] AllSamples(TestSound reader)
    {
        var all = new List<int>();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            all.AddRange(block.Integers);
        return [.. all];
    }
}
