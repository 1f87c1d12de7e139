using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Alac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Worker.Tests;

/// <summary>
/// What arrives of the sound, by decoders that are not libav: a tone of its own in every channel, in every width and layout, is found at
/// its level in the channel that it was meant for.
/// </summary>
public sealed class OutsideSoundTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private const double Amplitude = 0.25;

    /// <summary>
    /// Where a channel is for deep sounds only, encoders may leave out everything else, and libvorbis gives it 1.7 dB more (measured).
    /// </summary>
    private const double DeepHertz = 60;

    /// <summary>Vorbis I specification, 4.3.9; Opus has the same (RFC 7845, section 5.1.1.2).</summary>
    private static readonly ChannelRoles[][] VorbisOrders =
    [
        [ChannelRoles.FrontCentre],
        [ChannelRoles.FrontLeft, ChannelRoles.FrontRight],
        [ChannelRoles.FrontLeft, ChannelRoles.FrontCentre, ChannelRoles.FrontRight],
        [ChannelRoles.FrontLeft, ChannelRoles.FrontRight, ChannelRoles.BackLeft, ChannelRoles.BackRight],
        [ChannelRoles.FrontLeft, ChannelRoles.FrontCentre, ChannelRoles.FrontRight, ChannelRoles.BackLeft, ChannelRoles.BackRight],
        [
            ChannelRoles.FrontLeft, ChannelRoles.FrontCentre, ChannelRoles.FrontRight, ChannelRoles.BackLeft, ChannelRoles.BackRight,
            ChannelRoles.LowFrequency
        ],
        [
            ChannelRoles.FrontLeft, ChannelRoles.FrontCentre, ChannelRoles.FrontRight, ChannelRoles.SideLeft, ChannelRoles.SideRight,
            ChannelRoles.BackCentre, ChannelRoles.LowFrequency
        ],
        [
            ChannelRoles.FrontLeft, ChannelRoles.FrontCentre, ChannelRoles.FrontRight, ChannelRoles.SideLeft, ChannelRoles.SideRight,
            ChannelRoles.BackLeft, ChannelRoles.BackRight, ChannelRoles.LowFrequency
        ],
    ];

    public static TheoryData<int, bool, int> Shapes()
    {
        var shapes = new TheoryData<int, bool, int>();
        foreach (var (bits, isFloat) in ((int, bool)[])[(8, false), (16, false), (24, false), (32, false), (32, true), (64, true)])
        {
            foreach (int rate in (int[])[44_100, 48_000])
                shapes.Add(bits, isFloat, rate);
        }

        return shapes;
    }

    [Theory]
    [MemberData(nameof(Shapes))]
    public async Task Every_width_keeps_its_level(int bits, bool isFloat, int rate)
    {
        var format = new PcmFormat(new SampleRate(rate), 2, bits, isFloat ? SampleKind.Float : SampleKind.Integer);
        await CheckAsync(format, new OpusSettings(256));
        await CheckAsync(format, new VorbisSettings(8));
        await CheckAsync(format, new AacSettings(256));
        await CheckAsync(format, Mp3Settings.Constant(320));
    }

    [Theory]
    [InlineData(ChannelRoles.Mono)]
    [InlineData(ChannelRoles.Surround30)]
    [InlineData(ChannelRoles.Quad)]
    [InlineData(ChannelRoles.Stereo | ChannelRoles.SideLeft | ChannelRoles.SideRight)]
    [InlineData(ChannelRoles.Surround50Back)]
    [InlineData(ChannelRoles.Surround30 | ChannelRoles.SideLeft | ChannelRoles.SideRight)]
    [InlineData(ChannelRoles.Surround51)]
    [InlineData(ChannelRoles.Surround51Back)]
    [InlineData(ChannelRoles.Surround61)]
    [InlineData(ChannelRoles.Surround71)]
    public async Task Every_layout_keeps_its_loudspeakers(ChannelRoles roles)
    {
        var format = new PcmFormat(new SampleRate(48_000), roles.Count(), 24) { Roles = roles };
        await CheckAsync(format, new OpusSettings(256));
        await CheckAsync(format, new VorbisSettings(8));
        if (AacFormat.Instance.Limits.Layouts.Append(ChannelRoles.Mono)
            .Any(known => known.WithSurroundsAtBack() == roles.WithSurroundsAtBack()))
            await CheckAsync(format, new AacSettings(320));
    }

    /// <summary>
    /// The layouts that ALAC has, in its own order of channels (magic cookie description of the ALAC reference source, from memory).
    /// </summary>
    public static TheoryData<int, ChannelRoles, int[]> AlacShapes()
    {
        var shapes = new TheoryData<int, ChannelRoles, int[]>();
        foreach (int bits in (int[])[16, 24])
        {
            shapes.Add(bits, ChannelRoles.Mono, [0]);
            shapes.Add(bits, ChannelRoles.Stereo, [0, 1]);
            shapes.Add(bits, ChannelRoles.Surround30, [2, 0, 1]);
            shapes.Add(bits, ChannelRoles.Surround40, [2, 0, 1, 3]);
            shapes.Add(bits, ChannelRoles.Surround50Back, [2, 0, 1, 3, 4]);
            shapes.Add(bits, ChannelRoles.Surround51Back, [2, 0, 1, 4, 5, 3]);
            shapes.Add(bits, ChannelRoles.Surround61Back, [2, 0, 1, 4, 5, 6, 3]);
        }

        return shapes;
    }

    /// <summary>
    /// By the ALAC decoder of libsndfile 1.2: the same samples in the same channels. Music, not noise: of 24-bit packets in several
    /// channels that are not compressed, that library keeps eight bits.
    /// </summary>
    [Theory]
    [MemberData(nameof(AlacShapes))]
    public async Task Alac_is_the_sound_in_every_width_and_layout(int bits, ChannelRoles roles, int[] order)
    {
        const int Frames = 10_001;
        var format = new PcmFormat(SampleRate.AudioDisc, roles.Count(), bits) { Roles = roles };
        var source = worker.MakeWav($"alac-{bits}-{(uint)roles}.wav", format, Frames, music: true);
        var output = Path.ChangeExtension(source, ".m4a");
        Assert.True((await worker.ProveAsync(source, output, StandardTargets.BuiltIn[0] with { Encoder = new AlacSettings() })).IsLossless);
        var (sent, got) = (LibSndFile.Decode(source), LibSndFile.DecodeAlac(output, Frames));
        Assert.Equal((sent.Rate, sent.Channels, sent.Bits, sent.Samples.Length), (got.Rate, got.Channels, got.Bits, got.Samples.Length));
        for (int c = 0; c < order.Length; c++)
            Assert.Equal(sent.Samples.Where((_, i) => i % order.Length == order[c]), got.Samples.Where((_, i) => i % order.Length == c));
    }

    private async Task CheckAsync(PcmFormat format, EncoderSettings settings)
    {
        var name = $"{format.Bits}{format.Kind}-{format.Rate.Hertz}-{(uint)format.Roles}";
        var source = worker.Folder[name + ".wav"];
        if (!File.Exists(source))
        {
            using var writer = new WavWriter(File.Create(source), format);
            Tones(format).CopyTo(writer);
        }

        var output = worker.Folder[$"{name}-{settings.Format.Key}{settings.Format.Extension}"];
        await worker.ProveAsync(source, output, StandardTargets.BuiltIn[0] with { Encoder = settings });
        var (rate, order, channels) = Decode(output, settings, VorbisOrders[format.Channels - 1]);
        order = [.. order.Select(role => role.WithSurroundsAtBack())];
        var roles = format.Roles.WithSurroundsAtBack().InOrder();
        Assert.Equal(format.Channels, channels.Count);
        for (int c = 0; c < channels.Count; c++)
        {
            for (int other = 0; other < roles.Count; other++)
            {
                double level = 20 * Math.Log10(Math.Max(1e-9, AmplitudeAt(channels[c], HertzOf(roles, other), rate)) / Amplitude);
                if (roles[other] == order[c])
                    Assert.True(
                        Math.Abs(level) < (roles[other] == ChannelRoles.LowFrequency ? 2.5 : 0.5),
                        $"{settings.Format.Name} {format}: {order[c]} is {level:0.0} dB off");
                else
                    Assert.True(level < -20, $"{settings.Format.Name} {format}: {roles[other]} is heard from {order[c]}, {level:0.0} dB");
            }
        }
    }

    private static (
        int Rate, IReadOnlyList<ChannelRoles> Order, IReadOnlyList<IReadOnlyList<float>> Channels)
        Decode(string path, EncoderSettings settings, IReadOnlyList<ChannelRoles> usual)
    {
        switch (settings)
        {
            case OpusSettings:
                return (48_000, usual, LibOpusFile.Decode(path));
            case VorbisSettings:
                return (FileRate(path), usual, LibVorbisFile.Decode(path));
            case AacSettings:
                var decoded = LibFaad.Decode(path);
                return (
                    decoded.Rate, [.. decoded.Channels.Select(channel => channel.Role)],
                    [.. decoded.Channels.Select(channel => channel.Samples)]);
            default:
                var sound = LibMpg123.Decode(path);
                return (
                    sound.Rate, usual,
                    [
                        .. Enumerable.Range(0, sound.Channels)
                            .Select(
                                c =>
                                    (IReadOnlyList<float>)[
                                        .. sound.Samples.Where((_, i) => i % sound.Channels == c).Select(sample => sample / 32768f)
                                    ])
                    ]);
        }
    }

    private static int FileRate(string path)
    {
        using var stream = File.OpenRead(path);
        return FileReading.Read(stream).Facts!.Format.Rate.Hertz;
    }

    private static double HertzOf(IReadOnlyList<ChannelRoles> roles, int channel) =>
        roles[channel] == ChannelRoles.LowFrequency ? DeepHertz : 400 + 250 * channel;

    private static TestSound Tones(PcmFormat format)
    {
        var roles = format.Roles.InOrder();
        return new TestSound(format, 2L * format.Rate.Hertz, (block, start) =>
        {
            for (int i = 0; i < block.FrameCount * format.Channels; i++)
            {
                double value = Amplitude * Math.Sin(
                    2 * Math.PI * HertzOf(roles, i % format.Channels) * (start + i / format.Channels) / format.Rate.Hertz);
                if (!format.IsFloat)
                    block.Integers[i] = (int)Math.Round(value * (1L << (format.Bits - 1)));
                else if (format.Bits == 64)
                    block.Doubles[i] = value;
                else
                    block.Floats[i] = (float)value;
            }
        });
    }

    /// <summary>Amplitude of one frequency in the second half of a sound.</summary>
    private static double AmplitudeAt(IReadOnlyList<float> samples, double hertz, int rate)
    {
        double re = 0, im = 0;
        int from = samples.Count / 2, count = samples.Count - from;
        for (int i = from; i < samples.Count; i++)
        {
            double window = 1 - Math.Cos(2 * Math.PI * (i - from + 0.5) / count), phase = 2 * Math.PI * hertz * i / rate;
            re += window * samples[i] * Math.Cos(phase);
            im += window * samples[i] * Math.Sin(phase);
        }

        return 2 * Math.Sqrt(re * re + im * im) / count;
    }
}
