using System.Runtime.InteropServices;
using Wergamon.Core.Discs;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Tests;

/// <summary>A disc in memory whose frames the test knows.</summary>
internal sealed class TestDisc
{
    private readonly byte[] _bytes;
    private readonly CueSheet _sheet;

    /// <param name="sectors">Of each track.</param>
    /// <param name="fill">Gives the frame at a position; the ends of the disc are silent anyway, as on real discs.</param>
    public TestDisc(int[] sectors, Func<long, uint> fill)
    {
        _bytes = new byte[sectors.Sum() * AudioDisc.BytesPerSector];
        var frames = Frames;
        for (int i = Margin; i < frames.Length - Margin; i++)
            frames[i] = fill(i);
        int at = 0;
        _sheet = new CueSheet
        {
            Files = [new CueFile("disc.bin", "BINARY")],
            Tracks = [
                .. sectors.Select(
                    (count, i) => new CueTrack(i + 1, CueTrack.Audio) { Indexes = [new CueIndex(1, 0, new Msf((at += count) - count))] })
            ],
        };
    }

    private static int Margin => 300;

    public Span<uint> Frames => MemoryMarshal.Cast<byte, uint>(_bytes.AsSpan());

    public LoadedDisc Load(params DiscFault[] faults) =>
        new("test", "Test", DiscImage.Open(_sheet, _ => new MemoryStream(_bytes, writable: false))) { Faults = faults };

    public IReadOnlyList<TrackSpan> Spans => TrackSpan.Of(Load().Image.Contents, Pauses.WithTrackBefore);

    /// <summary>The frames of a track on the disc.</summary>
    public ReadOnlySpan<uint> Of(TrackSpan span) => Frames.Slice((int)span.FirstFrame, (int)span.Frames);

    /// <summary>Seeded noise.</summary>
    public static Func<long, uint> Noise(ulong seed) => frame => Hash((ulong)frame, seed);

    /// <summary>Short stretches of noise between silence, a constant level and a tone of short period: hard to place.</summary>
    public static Func<long, uint> Patchwork(ulong seed) => frame => (Hash((ulong)frame / 6000, seed) % 5) switch
    {
        0 => 0,
        1 => 0x1234_5678,
        2 => (uint)(frame % 7) * 1000,
        _ => Hash((ulong)frame, seed),
    };

    /// <summary>Noise with silence before each track boundary, starting at once after it.</summary>
    public static Func<long, uint> Fading(ulong seed, int[] sectors)
    {
        var borders = sectors.Select((_, i) => (long)sectors[..(i + 1)].Sum() * AudioDisc.FramesPerSector).ToArray();
        int silence = 200 + (int)(Hash(seed, seed) % 30_000);
        return frame => borders.Any(border => frame < border && frame >= border - silence) ? 0 : Hash((ulong)frame, seed);
    }

    public static uint Hash(ulong value, ulong seed)
    {
        value = (value + seed * 0x9E3779B97F4A7C15) * 0xBF58476D1CE4E5B9;
        value = (value ^ value >> 31) * 0x94D049BB133111EB;
        return (uint)(value >> 32);
    }
}
