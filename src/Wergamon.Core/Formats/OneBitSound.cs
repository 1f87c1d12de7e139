using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats;

/// <summary>DSD: one bit a sample, at a multiple of 44.1 kHz. Decoders make a float of each eight (as libavcodec does).</summary>
internal static class OneBitSound
{
    public const int SamplesPerByte = 8;

    /// <summary>The sound as decoded; null for numbers that cannot be.</summary>
    public static PcmFormat? FormatOf(int channels, uint rate) =>
        HeaderLimits.IsSound(channels, rate / SamplesPerByte)
            ? new PcmFormat(new SampleRate((int)(rate / SamplesPerByte)), channels, 32, SampleKind.Float)
            : null;

    /// <param name="frames">Bytes of one channel.</param>
    /// <param name="rate">Bits of one channel in a second.</param>
    public static AudioFacts Facts(FileFormat file, PcmFormat format, long frames, uint rate, long fileLength)
    {
        if (frames <= 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        long there = fileLength / format.Channels;
        return new AudioFacts(
            file, "DSD", format, frames, IsLossless: true, (int)Math.Min(int.MaxValue, (long)rate * format.Channels / 1000))
        {
            Damage = frames > there
                ? [$"The file is cut off: its header states {frames * format.Channels:N0} bytes of audio, fewer are there."]
                : [],
        };
    }
}
