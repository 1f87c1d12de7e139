using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Audio;

/// <summary>Tracks joined to one sound, with gaps and crossfades.</summary>
public sealed class JoinTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    private static readonly Gen<long[]> Lengths = Gen.Long[1, 12_000].Array[1, 6];

    private static readonly Gen<JoinRules> Rules = Gen.Select(
        Gen.Long[0, 5000], Gen.Long[0, 5000], Gen.OneOfConst(1L, 588L),
        (gap, fade, unit) => new JoinRules(gap % 3 == 0 ? 0 : gap, fade % 3 == 0 ? 0 : fade, unit));

    /// <summary>Outside of crossfades every sample of every track is there once, where its start says; beside them is silence.</summary>
    [Fact]
    public void Every_sample_is_where_the_starts_say() => Gen.Select(Lengths, Rules).Sample(
        (lengths, rules) =>
        {
            var layout = JoinLayout.Of(lengths, rules);
            var sound = layout.Pieces.SelectMany(piece => SamplesOf(JoinLayout.Open(piece, Format, Open))).ToArray();
            Assert.Equal(layout.Frames * 2, sound.Length);
            Assert.Equal(0, layout.Starts[0]);
            var told = new bool[sound.Length];
            for (int i = 0; i < lengths.Length; i++)
            {
                var track = SamplesOf(Open(i));
                int from = (int)layout.Starts[i] * 2;
                if (rules.GapFrames > 0)
                    Assert.Equal(0, layout.Starts[i] % rules.StartUnit);
                long before = FadeBefore(i), after = FadeBefore(i + 1);
                Assert.True(before + after <= lengths[i]);
                Assert.Equal(
                    track[(int)(before * 2)..(int)((lengths[i] - after) * 2)],
                    sound[(from + (int)before * 2)..(from + (int)(lengths[i] - after) * 2)]);
                Array.Fill(told, true, from, track.Length);
            }

            Assert.All(Enumerable.Range(0, sound.Length).Where(at => !told[at]), at => Assert.Equal(0, sound[at]));
            long FadeBefore(int track) =>
                track == 0 || track == lengths.Length || rules.GapFrames > 0
                    ? 0
                    : Math.Min(rules.CrossfadeFrames, Math.Min(lengths[track - 1], lengths[track]) / 2);
            IPcmReader Open(int track) => TestSound.Noise(Format, lengths[track], track + 1);
        },
        iter: 40);

    /// <summary>
    /// The power stays through a crossfade of two sounds that have nothing in common; one into itself keeps within full scale.
    /// </summary>
    [Fact]
    public void A_crossfade_keeps_the_power()
    {
        const int Frames = 44_100;
        using var fade = new CrossfadeReader(TestSound.Noise(Format, Frames, 1), TestSound.Noise(Format, Frames, 2), Frames);
        var sound = SamplesOf(fade);
        static double Power(IEnumerable<int> samples) => 10 * Math.Log10(samples.Average(sample => (double)sample * sample));
        double whole = Power(SamplesOf(TestSound.Noise(Format, Frames, 1)));
        foreach (int tenth in Enumerable.Range(0, 10))
            Assert.InRange(Power(sound.Skip(tenth * sound.Length / 10).Take(sound.Length / 10)), whole - 0.5, whole + 0.5);
        using var loud = new CrossfadeReader(TestSound.Noise(Format, 1000), TestSound.Noise(Format, 1000), 1000);
        Assert.All(SamplesOf(loud), sample => Assert.InRange(sample, short.MinValue, short.MaxValue));
    }

    private static int[] SamplesOf(IPcmReader reader)
    {
        var block = new SampleBuffer(reader.Format);
        var samples = new List<int>();
        while (reader.Read(block) > 0)
            samples.AddRange(block.Integers);
        return [.. samples];
    }
}
