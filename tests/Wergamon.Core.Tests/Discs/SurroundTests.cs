using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Discs.Surround;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Discs;

/// <summary>Multichannel titles: found by name and length, merged channel by channel, downmixed by the table.</summary>
public sealed class SurroundTests
{
    private const ChannelRoles L = ChannelRoles.FrontLeft, R = ChannelRoles.FrontRight, C = ChannelRoles.FrontCentre,
        Low = ChannelRoles.LowFrequency, Ls = ChannelRoles.SideLeft, Rs = ChannelRoles.SideRight;

    [Fact]
    public void Titles_are_joined_by_name_and_length()
    {
        var files = new Dictionary<string, byte[]>
        {
            ["T01D2-ALL.WAV"] = Wav(6, 48_000, 5000, ChannelRoles.Surround51Back),
            ["T02D2-FRONT.WAV"] = Wav(2, 96_000, 8000, ChannelRoles.Stereo),
            ["T02D2-REST.WAV"] = Wav(4, 96_000, 8100, ChannelRoles.None),
            ["T03D2-FRONT.WAV"] = Wav(2, 48_000, 5000, ChannelRoles.Stereo),
            ["T03D2-REST.WAV"] = Wav(4, 48_000, 90_000, ChannelRoles.None),
            ["stereo.wav"] = Wav(2, 48_000, 100, ChannelRoles.Stereo),
            ["quad.wav"] = Wav(4, 48_000, 100, ChannelRoles.None),
            ["broken.wav"] = [1, 2, 3],
            ["notes.txt"] = [],
        };
        var titles = SurroundTitles.Find(files.Keys.Select(name => new IsoFile(name, 0, 0)), file => new MemoryStream(files[file.Name]));
        // Parts of different length are two titles; a front pair alone is no surround title, a rest alone is one.
        Assert.Equal(
            [(4, 1, 1, 4), (1, 2, 1, 6), (2, 2, 2, 6), (3, 2, 1, 4)],
            titles.Select(title => (title.Number, title.Disc, title.Parts.Count, title.Channels)));
        Assert.Equal([L, R, C, Low, ChannelRoles.BackLeft, ChannelRoles.BackRight], titles[1].Roles);
        Assert.Equal((true, false), (titles[1].HasStatedRoles, titles[2].HasStatedRoles));
        Assert.Equal([L, R, C, Low, Ls, Rs], titles[2].Roles);
        Assert.Equal(8000, titles[2].Frames);
        Assert.Equal(["T02D2-FRONT.WAV", "T02D2-REST.WAV"], titles[2].Parts.Select(part => part.File.Name));
        Assert.False(SurroundTitles.AreUsable([L, R, C, C]));
        Assert.False(SurroundTitles.AreUsable([L, R, C, Low | C]));
    }

    /// <summary>A different constant in each channel shows where each goes, however the blocks are aligned.</summary>
    [Fact]
    public void Channels_are_placed_by_their_roles()
    {
        var front = Constant(2, 10_001, channel => 10 + channel);
        var rest = Constant(4, 9_999, channel => 20 + channel);
        // The rest was assigned: side right, centre, side left, low frequency.
        using var joined = new ChannelJoinReader([front, rest], [R, L, Rs, C, Ls, Low]);
        Assert.Equal(ChannelRoles.Surround51, joined.Format.Roles);
        var block = new SampleBuffer(joined.Format);
        long frames = 0;
        while (joined.Read(block) is > 0 and var got)
        {
            frames += got;
            for (int i = 0; i < block.Integers.Length; i++)
                Assert.Equal(new[] { 11, 10, 21, 23, 22, 20 }[i % 6], block.Integers[i]);
        }

        Assert.Equal(9_999, frames);
        Assert.Throws<UnreadableAudioException>(() => new ChannelJoinReader([Constant(2, 10, _ => 0)], [L, L]));
        Assert.Throws<UnreadableAudioException>(() => new ChannelJoinReader([Constant(2, 10, _ => 0)], [L]));
    }

    [Fact]
    public void One_channel_can_be_heard_alone()
    {
        using var alone = new ChannelMapReader(Constant(4, 5000, channel => 20 + channel), [2], ChannelRoles.Mono);
        var block = new SampleBuffer(alone.Format);
        Assert.Equal(4096, alone.Read(block));
        Assert.All(block.Integers.ToArray(), sample => Assert.Equal(22, sample));
        Assert.Equal(1, alone.Format.Channels);
    }

    /// <summary>ITU-R BS.775-3, annex 4, table 2, and custom levels; calculated by hand.</summary>
    [Theory]
    [InlineData(0.70710678, 0.70710678, 0, 0.1 + 0.3 * 0.70710678 + 0.5 * 0.70710678, 0.2 + 0.3 * 0.70710678 - 0.6 * 0.70710678)]
    [InlineData(0.5, 1, 0.25, 0.1 + 0.15 + 0.1 + 0.5, 0.2 + 0.15 + 0.1 - 0.6)]
    [InlineData(0, 0, 0, 0.1, 0.2)]
    public void Downmix_weighs_each_channel(double centre, double surround, double low, double left, double right)
    {
        var values = new[] { 0.1, 0.2, 0.3, 0.4, 0.5, -0.6 };
        var source = new TestSound(
            new PcmFormat(new SampleRate(48_000), 6, 64, SampleKind.Float) { Roles = ChannelRoles.Surround51 }, 10, (block, _) =>
        {
            for (int i = 0; i < block.Doubles.Length; i++)
                block.Doubles[i] = values[i % 6];
        });
        var folded = new DownmixReader(source, new DownmixLevels(centre, surround, low)).AllDoubles();
        Assert.Equal(20, folded.Length);
        Assert.Equal(
            (left, right), (folded[0], folded[1]),
            (one, other) => Math.Abs(one.Item1 - other.Item1) < 1e-7 && Math.Abs(one.Item2 - other.Item2) < 1e-7);
    }

    private static TestSound Constant(
        int channels, long frames, Func<int, int> value) => new(new PcmFormat(new SampleRate(48_000), channels, 24), frames, (block, _) =>
    {
        for (int i = 0; i < block.Integers.Length; i++)
            block.Integers[i] = value(i % channels);
    });

    private static byte[] Wav(int channels, int rate, long frames, ChannelRoles roles)
    {
        var bytes = new MemoryStream();
        TestSound.Noise(new PcmFormat(new SampleRate(rate), channels, 24) { Roles = roles }, frames)
            .CopyTo(new WavWriter(bytes, new PcmFormat(new SampleRate(rate), channels, 24) { Roles = roles }));
        return bytes.ToArray();
    }
}
