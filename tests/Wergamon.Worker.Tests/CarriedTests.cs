using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>Coded sound that already is as the target wants it goes into the new file as it is.</summary>
public sealed class CarriedTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    public static TheoryData<string> Formats =>
        [.. FileFormats.Writable.Where(format => format.Key is not ("wav" or "aiff")).Select(format => format.Key)];

    private static Target TargetOf(string key)
    {
        var format = (WritableFormat)FileFormats.Find(key)!;
        return new Target(key, format.Name, format.Scales is [var scale, ..] && format.IsLossy ? scale.Steps[^1] : format.UsualSettings);
    }

    /// <summary>Containers as libavformat 59 writes them.</summary>
    [Theory]
    [InlineData("mov", "mov", "aac", "aac", 44_100, 2)]
    [InlineData("mp4", "mp4", "aac", "aac", 48_000, 6)]
    [InlineData("mkv", "matroska", "aac", "aac", 44_100, 2)]
    [InlineData("aac", "adts", "aac", "aac", 44_100, 1)]
    [InlineData("ts", "mpegts", "aac", "aac", 48_000, 2)]
    [InlineData("mkv", "matroska", "alac", "alac", 44_100, 2)]
    [InlineData("caf", "caf", "alac", "alac", 48_000, 2)]
    [InlineData("oga", "ogg", "flac", "flac", 44_100, 2)]
    [InlineData("mkv", "matroska", "flac", "flac", 48_000, 2)]
    [InlineData("mp4", "mp4", "flac", "flac", 44_100, 2)]
    [InlineData("webm", "webm", "libopus", "opus", 48_000, 2)]
    [InlineData("mp4", "mp4", "libopus", "opus", 48_000, 1)]
    [InlineData("webm", "webm", "libvorbis", "vorbis", 44_100, 2)]
    [InlineData("mkv", "matroska", "libvorbis", "vorbis", 22_050, 1)]
    public async Task Coded_sound_moves_from_a_container_to_the_format_of_its_codec(
        string extension, string container, string encoder, string key, int rate, int channels)
    {
        var target = TargetOf(key);
        var sound = TestSound.Music(new PcmFormat(new SampleRate(rate), channels, 16), rate + 12_345);
        var source = EncodedFile.Write(worker.Folder[$"{encoder}-{container}-{channels}.{extension}"], container, encoder, sound);
        var facts = await worker.FactsAsync(source);
        var route = RoutePlanner.Plan(facts, facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy, target);
        Assert.True(route.IsCarried, facts.ToString());
        Assert.Equal((Fidelity.Exact, 0), (route.Fidelity, route.AddedGenerations));

        var output = worker.Folder[$"{encoder}-{container}-{channels}-out{target.Format.Extension}"];
        var proof = await worker.ProveAsync(source, output, target, TestTags.Everything());
        Assert.True(proof.IsLossless);
        var made = await worker.FactsAsync(output);
        Assert.Equal(
            (target.Format, proof.FramesOut, facts.Format.Rate, facts.Format.Channels),
            (made.FileFormat, made.FrameCount, made.Format.Rate, made.Format.Channels));
        Assert.InRange(made.KilobitsPerSecond, facts.KilobitsPerSecond * 0.7, facts.KilobitsPerSecond * 1.4);
        Assert.Equal("Blue Slate Rain, фонарь", Mutagen.ReadAny(output)["title"]![0]!.GetValue<string>());
    }

    /// <summary>In its own format, too: only the tags become others.</summary>
    [Theory]
    [MemberData(nameof(Formats))]
    public async Task A_file_of_the_format_keeps_its_coded_sound(string key)
    {
        var target = TargetOf(key);
        var first = worker.Folder[$"{key}-first{target.Format.Extension}"];
        await worker.ProveAsync(
            worker.MakeWav($"{key}-own.wav", new PcmFormat(SampleRate.AudioDisc, 2, 16), 60_000, music: true), first, target);
        var second = worker.Folder[$"{key}-second{target.Format.Extension}"];
        var proof = await worker.ProveAsync(first, second, target, TestTags.Everything());
        Assert.True(proof.IsLossless, (await worker.FactsAsync(first)).ToString());
        using var before = File.OpenRead(first);
        using var after = File.OpenRead(second);
        Assert.Equal(target.Format.HashSound(before), target.Format.HashSound(after));
        Assert.Equal("Blue Slate Rain, фонарь", Mutagen.ReadAny(second)["title"]![0]!.GetValue<string>());

        await worker.ProveAsync(first, worker.Folder[$"{key}-third{target.Format.Extension}"], target with { EncodesAgain = true });
    }

    [Fact]
    public void Only_what_the_target_wants_is_carried()
    {
        static Route RouteOf(string codec, FileFormat? file, int kilobits, Target target, int channels = 2) => RoutePlanner.Plan(
            new AudioFacts(
                file, codec, new PcmFormat(SampleRate.AudioDisc, channels, 32, SampleKind.Float), 100_000, IsLossless: false, kilobits),
            Fidelity.Lossy, target);
        var phone = StandardTargets.BuiltIn.Single(target => target.Key == "phone");
        Assert.True(RouteOf("AAC", null, 128, phone).IsCarried);
        Assert.True(RouteOf("AAC", null, 270, phone).IsCarried);
        Assert.False(RouteOf("AAC", null, 320, phone).IsCarried);
        Assert.False(RouteOf("AAC", null, 128, phone, channels: 6).IsCarried);
        Assert.False(RouteOf("MP3", null, 128, phone).IsCarried);
        Assert.False(RouteOf("AAC", null, 128, phone with { EncodesAgain = true }).IsCarried);
    }

    private static (string, string, Dictionary<string, string>, TestSound) Stream(
        string codec, string language, int channels, int kilobits) => (
        codec, language, new Dictionary<string, string> { ["b"] = (kilobits * 1000).ToString(CultureInfo.InvariantCulture) },
        TestSound.Music(new PcmFormat(new SampleRate(48_000), channels, 16), 100_000));

    /// <summary>A movie in two languages: the first is heard, the second can be chosen, and each goes its own way.</summary>
    [Theory]
    [InlineData("mkv", "matroska")]
    [InlineData("mp4", "mp4")]
    public async Task Another_stream_of_a_movie_can_be_chosen(string extension, string container)
    {
        var source = EncodedFile.WriteStreams(
            worker.Folder["two." + extension], container, Stream("aac", "eng", 6, 256), Stream("aac", "deu", 2, 128));
        var facts = await worker.FactsAsync(source);
        Assert.Equal(
            [("eng", true, 6), ("deu", false, 2)],
            facts.Streams.Select(stream => (stream.Name, stream.IsHeard, stream.Facts.Format.Channels)));
        Assert.Equal(6, facts.Format.Channels);

        var chosen = facts.OfStream(1);
        var phone = StandardTargets.BuiltIn.Single(target => target.Key == "phone");
        var route = RoutePlanner.Plan(chosen, Fidelity.Lossy, phone);
        Assert.True(route.IsCarried, chosen.ToString());
        var output = worker.Folder[$"two-{extension}.m4a"];
        var reply = await worker.AskAsync(
            new ConvertJob(source, chosen.Format, route.StepsBeforeEncoding(), phone.Encoder, output, [], []) { Sound = 1 });
        Assert.Null(reply.Failure);
        Assert.Equal(2, (await worker.FactsAsync(output)).Format.Channels);
        Assert.Equal(
            "There is no audio stream 3 in this file.",
            (await worker.AskAsync(
                    new ConvertJob(
                        source, chosen.Format, [], phone.Encoder, worker.Folder[$"none-{extension}.m4a"], [], [])
                    { Sound = 2 })).Failure);
    }

    /// <summary>In ASF several streams are one sound at several bitrates.</summary>
    [Fact]
    public async Task The_best_of_several_streams_in_asf_is_heard()
    {
        var source = EncodedFile.WriteStreams(
            worker.Folder["several.wma"], "asf", Stream("wmav2", "eng", 2, 64), Stream("wmav2", "eng", 2, 192));
        var facts = await worker.FactsAsync(source);
        Assert.Equal([(64, false), (192, true)], facts.Streams.Select(stream => (stream.Facts.KilobitsPerSecond, stream.IsHeard)));
        Assert.Equal(192, facts.KilobitsPerSecond);
    }
}
