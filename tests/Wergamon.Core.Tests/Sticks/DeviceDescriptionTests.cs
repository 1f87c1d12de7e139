using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.Core.Tests.Sticks;

/// <summary>What is made of which source for a device, and descriptions as files.</summary>
public sealed class DeviceDescriptionTests
{
    /// <summary>
    /// A source that the device plays stays as it is, with its bitrate; what it cannot play becomes what the device wants, and lossless
    /// sound that it plays stays lossless.
    /// </summary>
    [Theory]
    [InlineData("car-radio", "mp3", 320, 44_100, 2, "MP3 as it is")]
    [InlineData("car-radio", "aac", 256, 48_000, 2, "AAC as it is")]
    [InlineData("car-radio", "mp3", 128, 44_100, 2, "MP3 as it is")]
    [InlineData("car-radio", "vorbis", 160, 44_100, 2, "MP3 256")]
    [InlineData("car-radio", "flac", 900, 44_100, 2, "MP3 256")]
    [InlineData("car-radio", "flac", 900, 96_000, 2, "96 to 48 kHz, MP3 256")]
    [InlineData("dj-decks", "flac", 900, 44_100, 2, "FLAC as it is")]
    [InlineData("dj-decks", "flac", 4000, 96_000, 6, "downmix to stereo, 96 to 48 kHz, to 16-bit, FLAC 16-bit")]
    [InlineData("dj-decks", "alac", 900, 44_100, 2, "AIFF 16-bit")]
    [InlineData("phone", "wav", 1411, 44_100, 2, "WAV 16-bit")]
    [InlineData("mp3-player", "aac", 256, 44_100, 2, "MP3 256")]
    public void A_device_gets_what_it_plays(string device, string format, int kilobits, int rate, int channels, string route)
    {
        var known = (WritableFormat)FileFormats.Find(format)!;
        var roles = channels == 6 ? ChannelRoles.Surround51 : ChannelRoles.Stereo;
        var facts = new AudioFacts(
            known, known.Name, new PcmFormat(new SampleRate(rate), channels, 16) { Roles = roles }, rate * 60L, !known.IsLossy, kilobits);
        var target = DeviceDescription.BuiltIn.Single(each => each.Key == device).TargetFor(facts);
        Assert.Equal(route, RoutePlanner.Plan(facts, known.IsLossy ? Fidelity.Lossy : Fidelity.Exact, target).InWords);
    }

    /// <summary>More than the device takes is encoded again; a surround file, too.</summary>
    [Fact]
    public void Unsupported_files_are_encoded_for_the_device()
    {
        var small = DeviceDescription.BuiltIn[0] with { MaxKilobits = 192, Encoder = Mp3Settings.Constant(160) };
        var facts = new AudioFacts(
            Mp3Format.Instance, Mp3Format.Instance.Name, new PcmFormat(SampleRate.AudioDisc, 2, 16), 44_100, false, 320);
        Assert.Equal("MP3 160", RoutePlanner.Plan(facts, Fidelity.Lossy, small.TargetFor(facts)).InWords);
        Assert.Equal(
            "MP3 as it is",
            RoutePlanner.Plan(
                facts with { KilobitsPerSecond = 192 }, Fidelity.Lossy, small.TargetFor(facts with { KilobitsPerSecond = 192 })).InWords);
    }

    [Fact]
    public void Descriptions_survive_export_and_import()
    {
        foreach (var device in DeviceDescription.BuiltIn)
        {
            Assert.Null(device.Problem);
            var (back, problem) = DeviceFile.Read(DeviceFile.Write(device));
            Assert.Null(problem);
            Assert.Equal(DeviceFile.Write(device), DeviceFile.Write(back!));
        }

        Assert.Contains("\"playsSurround\"", DeviceFile.Schema, StringComparison.Ordinal);
        Assert.All(
            [
                "", "{}", "[]", "null", DeviceFile.Write(DeviceDescription.BuiltIn[0]).Replace("300", "3", StringComparison.Ordinal),
                DeviceFile.Write(DeviceDescription.BuiltIn[1]).Replace("\"aac\"", "\"xyz\"", StringComparison.Ordinal)
            ],
            text => Assert.NotNull(DeviceFile.Read(text).Problem));
    }

    /// <summary>No name is longer than the device takes, and the extension stays.</summary>
    [Fact]
    public void Names_are_cut_to_what_a_device_takes() => Gen.Select(
        Gen.String[Gen.Char['a', 'ü'], 1, 120].Array[1, 4], Gen.Int[16, 255]).Sample((parts, most) =>
    {
        var device = DeviceDescription.BuiltIn[0] with { MaxNameCharacters = most };
        var path = string.Join('/', parts.Select(part => part.Replace('/', '-'))) + ".mp3";
        var fitted = device.Fit(path);
        Assert.All(fitted.Split('/'), name => Assert.InRange(name.Length, 1, most));
        Assert.EndsWith(".mp3", fitted, StringComparison.Ordinal);
        Assert.Equal(parts.Length, fitted.Split('/').Length);
    });

    /// <summary>
    /// FAT keeps even seconds (FAT32 File System Specification 1.03) in local time: all files of a stick move by whole quarters of an hour
    /// or not at all.
    /// </summary>
    [Theory]
    [InlineData(3_600_000, 5, 5, 3_600_000)]
    [InlineData(-7_200_000, 3, 5, -7_200_000)]
    [InlineData(3_600_000, 2, 5, 0)]
    [InlineData(61_000, 5, 5, 0)]
    [InlineData(90_000_000, 5, 5, 0)]
    public void A_clock_has_moved_when_most_files_say_so(long shift, int moved, int all, long expected)
    {
        const long Written = 1_700_000_000_000;
        var written = Enumerable.Range(0, all)
            .Select(i => new WrittenFile(SyncKey.OfTrack(i), $"{i}.mp3", null, "", new SyncStamp(100, Written + 2_000 * i), i))
            .ToList();
        var found = written.ToDictionary(
            file => file.Path, file => file.Turn < moved ? file.Stamp with { ModifiedAt = file.Stamp.ModifiedAt + shift } : file.Stamp);
        Assert.Equal(expected, StickClock.ShiftOf(written, found));
        Assert.Equal(Written + 2_000, StickClock.Lasting(Written + 3_999));
    }
}
